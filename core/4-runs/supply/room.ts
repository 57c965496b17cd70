/** What is free somewhere, and whether all of that may be used. */
export interface Space {
  freeBytes: number;
  /** Nothing else is on it: it may be filled to its end. */
  usesAll?: boolean | undefined;
}

/**
 * What a filesystem takes for its own books beside the bytes of a fill that uses all it may: some in any case, and
 * checksums kept twice of all that is written.
 */
export const booksBytes = (writtenBytes: number): number => 48e6 + 0.003 * Math.max(0, writtenBytes);

/**
 * Free space that is never used: the larger of 2 GB and 2 % of the free bytes; where nothing else is on a volume only
 * what its filesystem needs for its books.
 */
export function reserveBytes({ freeBytes, usesAll = false }: Space): number {
  return usesAll ? booksBytes(freeBytes) : Math.max(2e9, 0.02 * freeBytes);
}

/** Bytes that a run or a take may use of the free ones. */
export function roomBytes(space: Space): number {
  return Math.max(0, space.freeBytes - reserveBytes(space));
}
