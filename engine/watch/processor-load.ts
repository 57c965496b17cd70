import type { ProcessorTimes } from '#engine/system/system.ts';

/** Busy share of all processors between two readings, 0 to 1; null when no time passed. */
export function busyShare(before: ProcessorTimes, now: ProcessorTimes): number | null {
  const total = now.total - before.total;
  return total > 0 ? Math.min(1, Math.max(0, (now.busy - before.busy) / total)) : null;
}
