/** Free space that is never used: the larger of 2 GB and 2 % of the free bytes. */
export function reserveBytes(freeBytes: number): number {
  return Math.max(2e9, 0.02 * freeBytes);
}

/** Bytes that a run or a take may use of the free ones. */
export function roomBytes(freeBytes: number): number {
  return Math.max(0, freeBytes - reserveBytes(freeBytes));
}
