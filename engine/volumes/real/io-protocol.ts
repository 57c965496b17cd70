import { BUCKET_COUNT } from '#core/4-runs/run/histogram.ts';
import type { AccessOrder } from '#core/3-jobs/recipes/block-ladder.ts';
import type { DataKind } from '#core/3-jobs/recipes/option-fields.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { FileAction } from '#core/4-runs/run/run-document.ts';
import type { CopyMessage } from '#engine/volumes/real/copy/copy-protocol.ts';
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
  /** Number of the next block or file to take. */
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
  /** Monotonic seconds at which the clock of paced frames starts; the same for all workers. */
  startSeconds: 10,
  /** Seconds that a worker of a copy waited for a block, or for room for one. */
  waitedSeconds: 11,
  /** Of small files, which one worker reads and writes in turn: seconds and bytes written, and seconds read. */
  handedSeconds: 12,
  handedBytes: 13,
  takenSeconds: 14,
} as const;
export const STAT_SLOTS = 16;

export interface WorkerInit {
  worker: number;
  control: SharedArrayBuffer;
  stats: SharedArrayBuffer;
  histograms: SharedArrayBuffer;
  runSeed: number;
}

/** A stretch of a file as blocks of the step: all whole but perhaps the last. */
export interface Extent {
  /** File descriptors are the process's and so shared between threads. */
  descriptor: number;
  /** Number of its first block, counted through all extents. */
  firstBlock: number;
  bytes: number;
}

export interface TransferMessage {
  type: 'transfer';
  extents: Extent[];
  direction: Direction;
  /** First block of the step. */
  fromBlock: number;
  /** Blocks of this step; workers stop when the shared counter reaches it, or begin again. */
  blocks: number;
  blockBytes: number;
  order: AccessOrder;
  data: DataKind;
  repeat: boolean;
  /** Blocks come at this rate, part blocks the sooner; null for as fast as it goes. Only in their order. */
  pacedBytesPerSecond: number | null;
  pass: number;
  /** Pass whose data is expected when reading, null when it is not to be checked. */
  expectedPass: number | null;
}

/** One worker's part of a stream of frames: every `stride`-th frame from `firstFrame` on. */
export interface FramesMessage {
  type: 'frames';
  stream: number;
  direction: Direction;
  /** Bytes of a frame on the drive, whole pages. */
  bytes: number;
  periodSeconds: number;
  frames: number;
  firstFrame: number;
  stride: number;
  /** Frames that the worker's share of the buffer holds. */
  bufferFrames: number;
  /** At the real rate, or as fast as it goes. */
  paced: boolean;
  /** One file for the stream, or a folder with a file for every frame. */
  target: { descriptor: number } | { folder: string; flags: number };
  /** Float64 for each of the worker's frames: NaN until it is done, then its lateness; Infinity when dropped. */
  lateness: SharedArrayBuffer;
}

export interface ScatterMessage {
  type: 'scatter';
  action: FileAction;
  /** Folders `f-<n>` in it hold the files. */
  folder: string;
  filesPerFolder: number;
  flags: number;
  flushEach: boolean;
  /** Float64 bytes of each file. */
  sizes: SharedArrayBuffer;
  /** Two Float64 for each file or folder: seconds it took (NaN until done), and when it was done. */
  results: SharedArrayBuffer;
}

export type WorkerStep = TransferMessage | FramesMessage | ScatterMessage | CopyMessage;

export interface WorkerFailure {
  code: string;
  message: string;
  /** Offset in the scratch space, where there is one. */
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

/** Blocks of a stretch of bytes. */
export function blocksOf(bytes: number, blockBytes: number): number {
  return Math.ceil(bytes / blockBytes);
}

export const folderName = (number: number): string => `f-${number}`;
export const fileName = (number: number): string => `n-${number}.bin`;

/** 32-bit number of a run for its data and stamps (FNV-1a). */
export function seedOf(runId: string): number {
  let hash = 0x811c9dc5;
  for (const character of runId) hash = Math.imul(hash ^ character.charCodeAt(0), 0x01000193);
  return hash >>> 0;
}
