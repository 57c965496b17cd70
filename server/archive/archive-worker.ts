import { workerData } from 'node:worker_threads';
import { expose, type Endpoint } from 'comlink';
import { Problem } from '#core/1-ground/problem.ts';
import type { ArchiveDocument } from '#core/6-exchange/archive/archive.ts';
import { checksumOf } from '#server/archive/checksum.ts';
import { readIncoming, type Incoming } from '#server/archive/read-archive.ts';

/** What was read: documents, or why there are none. */
export interface ReadIncoming {
  incoming: Incoming[];
  refused: string | null;
}

const functions = {
  read(bytes: Uint8Array, name: string): ReadIncoming {
    try {
      return { incoming: readIncoming(bytes, name), refused: null };
    } catch (error) {
      if (error instanceof Problem) return { incoming: [], refused: error.detail };
      throw error;
    }
  },
  checksumOf: (one: ArchiveDocument): string => checksumOf(one),
};
export type ArchiveWorker = typeof functions;

expose(functions, workerData as Endpoint);
