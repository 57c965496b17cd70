/**
 * What the main thread and the workers of a copy share. The work is cut into tasks, which are taken in
 * one order: a block of a large file, or a few small files at once. A block lies in one of a few slots
 * from when it is read until every consumer has done with it. Consumers are the writers of each target,
 * and one worker that computes checksums where these are asked for. A file that fits into one block is
 * handled whole by the worker that reads it: handing it on would cost more than it takes.
 */

/** Int32 words of the copy as a whole. */
export const COUNTER = {
  /** The next task to be read. */
  nextRead: 0,
  /** Large files and lots of small ones that are over. */
  groupsDone: 1,
  /** The next place to be hashed; those to be written to each target follow it. */
  nextHash: 2,
  nextWrite: 3,
} as const;
export const COUNTER_WORDS = 16;

/** What became of a file; from `firstFault` on it was not copied. */
export const FILE_STATE = {
  pending: 0,
  whole: 1,
  /** Opening, reading or making it failed; the place in FILE_FAULTS is added. */
  firstFault: 16,
} as const;

/** System errors that concern one file and not the drive. */
export const FILE_FAULTS = [
  'EACCES',
  'EPERM',
  'ENOENT',
  'ELOOP',
  'ENAMETOOLONG',
  'EINVAL',
  'EILSEQ',
  'EFBIG',
  'EEXIST',
  'EISDIR',
  'ENOTDIR',
  'CHANGED',
] as const;
export type FileFault = (typeof FILE_FAULTS)[number];

/** Descriptors are kept raised by 2, so that these can stand for none. */
export const NOT_OPEN = 0;
export const OPENING = 1;
export const RAISED = 2;

export interface CopyShared {
  counters: SharedArrayBuffer;
  /** Int32 of each task: its first file, how many small ones (0 for a block of a large one), and its group. */
  taskFiles: SharedArrayBuffer;
  taskCounts: SharedArrayBuffer;
  taskGroups: SharedArrayBuffer;
  /** Float64 first byte of each task, and Int32 the place of its block among those of large files. */
  taskFroms: SharedArrayBuffer;
  taskPlaces: SharedArrayBuffer;
  /** Int32 task of each place. */
  placeTasks: SharedArrayBuffer;
  /** UTF-8 of all paths one after the other, and Int32 where each ends. */
  paths: SharedArrayBuffer;
  pathEnds: SharedArrayBuffer;
  /** Float64 of each file: bytes, then seconds of its last change of data. */
  sizes: SharedArrayBuffer;
  modified: SharedArrayBuffer;
  /** Int32 of each file. */
  modes: SharedArrayBuffer;
  states: SharedArrayBuffer;
  /** Of large files: blocks times consumers that are still to be done. */
  left: SharedArrayBuffer;
  sourceDescriptors: SharedArrayBuffer;
  /** Of each target, all files. */
  targetDescriptors: SharedArrayBuffer[];
  /** Uint64 XXH64 of each file. */
  hashes: SharedArrayBuffer;
  /** Bytes of the slots; Int32 of each slot the place it was filled for plus one, and how often it was done with. */
  slots: SharedArrayBuffer;
  filled: SharedArrayBuffer;
  done: SharedArrayBuffer;
}

export interface CopyTargetPlace {
  folder: string;
  /** Added to the flags with which files are opened. */
  flags: number;
  /** Whether setting the size of a new file costs nothing. */
  presizes: boolean;
}

export interface CopyMessage {
  type: 'copy';
  role: { kind: 'read' } | { kind: 'write'; target: number } | { kind: 'hash' };
  shared: CopyShared;
  source: { folder: string; flags: number };
  targets: CopyTargetPlace[];
  blockBytes: number;
  slotCount: number;
  /** Large files, or lots of small ones, at work at the same time. */
  parallelFiles: number;
  hashes: boolean;
  /** Whether files that are not as they were listed are left out. */
  checksListing: boolean;
  flushEach: boolean;
}

/** Hashes are kept as 16 hexadecimal digits. */
export const hashText = (value: bigint): string => value.toString(16).padStart(16, '0');
