import { CONTROL, monotonicSeconds, type WorkerFailure } from '#engine/volumes/real/io-protocol.ts';
import type { PageMismatch } from '#engine/volumes/real/random-data.ts';
import type { WorkerMemory } from '#engine/volumes/real/worker-memory.ts';
import type { DataKind } from '#core/3-jobs/recipes/option-fields.ts';

/** What a step needs of the worker it runs in. */
export interface WorkerTools {
  control: Int32Array;
  stats: Float64Array;
  memoryFor: (blockBytes: number, kind: DataKind) => WorkerMemory;
  /** Notes one request that began at `begin` (performance.now) and moved `bytes`. @returns its seconds */
  noteRequest: (begin: number, bytes: number) => number;
  /** Tells that the worker is ready, and waits for the clock to start. */
  waitForGo: () => void;
  stopped: () => boolean;
}

/** How a step ended; a request that failed stops the other workers too. */
export interface StepEnd {
  failure: WorkerFailure | null;
  mismatches: PageMismatch[];
}

export const ENDED_WELL: StepEnd = { failure: null, mismatches: [] };

/** Sleeps to an absolute moment; false when the run was stopped meanwhile. */
export function waitUntil(seconds: number, { control, stopped }: WorkerTools): boolean {
  for (;;) {
    if (stopped()) return false;
    const left = seconds - monotonicSeconds();
    if (left <= 0) return true;
    Atomics.wait(control, CONTROL.stop, 0, left * 1000);
  }
}

export function failureOf(error: unknown, fileOffset: number): WorkerFailure {
  const { code = 'UNKNOWN', message } = error as NodeJS.ErrnoException;
  return { code, message, fileOffset };
}
