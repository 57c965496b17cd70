import { BUCKET_COUNT } from '#core/run/histogram.ts';
import type { Direction } from '#core/run/run-document.ts';
import type { PageMismatch } from '#engine/volumes/real/random-data.ts';

/**
 * What the main thread and its I/O workers share. One worker keeps one request outstanding, with
 * synchronous reads and writes; the next block comes from a shared counter. Figures live in
 * shared memory and are only sampled by the main thread.
 */
export const CONTROL = {
  /** Set to 1 when the clock starts. */
  go: 0,
  /** Set to 1 to end after the request at hand. */
  stop: 1,
  /** Number of the next block to take. */
  nextBlock: 2,
  /** Number of the sampling interval, counted by the main thread. */
  epoch: 3,
} as const;
export const CONTROL_WORDS = 16;

/** Float64 slots of one worker; 16 of them fill two cache lines, so workers do not share any. */
export const STAT = {
  bytes: 0,
  operations: 1,
  /** Longest latency of even and of odd epochs, with the epoch it belongs to. */
  latencyMaxEven: 2,
  latencyMaxOdd: 3,
  epochEven: 4,
  epochOdd: 5,
  checkedBytes: 6,
  /** Monotonic seconds at which the first and the last request completed. */
  firstDoneSeconds: 7,
  lastDoneSeconds: 8,
  /** Longest latency of the whole step. */
  latencyMaxStep: 9,
} as const;
export const STAT_SLOTS = 16;

export interface WorkerInit {
  worker: number;
  control: SharedArrayBuffer;
  stats: SharedArrayBuffer;
  histograms: SharedArrayBuffer;
  blockBytes: number;
  runSeed: number;
}

export interface WorkerStep {
  type: 'step';
  /** File descriptors are the process's and so shared between threads. */
  descriptors: number[];
  /** Bytes of the scratch space in each file; the last may hold less. */
  fileBytes: number;
  direction: Direction;
  fromByte: number;
  /** Blocks of this step; workers stop when the shared counter reaches it. */
  blocks: number;
  blockBytes: number;
  pass: number;
  /** Pass whose data is expected when reading, null when it is not to be checked. */
  expectedPass: number | null;
}

export interface WorkerFailure {
  code: string;
  message: string;
  fileOffset: number;
}

export type WorkerMessage =
  { type: 'ready' } | { type: 'done'; failure: WorkerFailure | null; mismatches: PageMismatch[] };

export function sharedBlocks(workers: number) {
  return {
    control: new SharedArrayBuffer(CONTROL_WORDS * 4),
    stats: new SharedArrayBuffer(workers * STAT_SLOTS * 8),
    histograms: new SharedArrayBuffer(workers * BUCKET_COUNT * 4),
  };
}

/** Monotonic seconds, the same clock in every thread of the process. */
export function monotonicSeconds(): number {
  const [seconds, nanoseconds] = process.hrtime();
  return seconds + nanoseconds / 1e9;
}
