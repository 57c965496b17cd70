import type { ArchiveDocument } from '#core/6-exchange/archive/archive.ts';
import { badInput } from '#core/1-ground/problem.ts';
import type { ArchiveWorker, ReadIncoming } from '#server/archive/archive-worker.ts';
import type { Incoming } from '#server/archive/read-archive.ts';
import { remoteThread } from '#server/threads/remote-thread.ts';

/** Reads what comes from elsewhere beside the thread that looks how runs go on. */
export interface ArchiveReader {
  /** @throws Problem `bad-input` with what is wrong with the file */
  read(bytes: Uint8Array, name: string): Promise<Incoming[]>;
  /** By which it is known whether what is kept is the same. */
  checksumOf: (one: ArchiveDocument) => Promise<string>;
  close(): Promise<void>;
}

export function createArchiveReader(): ArchiveReader {
  const thread = remoteThread<ArchiveWorker>('archive-worker', 'The file could not be read. Try it again.');
  return {
    async read(bytes, name) {
      const { incoming, refused } = await thread.ask<ReadIncoming>((remote) => remote.read(bytes, name));
      if (refused !== null) throw badInput('file', refused);
      return incoming;
    },
    checksumOf: (one) => thread.ask((remote) => remote.checksumOf(one)),
    close: () => thread.close(),
  };
}
