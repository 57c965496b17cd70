import { progressBytes, progressDuration, type Progress } from '#core/trace/progress.ts';

/**
 * Deterministic network calculus on a measured progress curve (Le Boudec & Thiran, *Network
 * Calculus*, Springer 2001, ch. 1). S(x) is the time the trace took to reach byte x. A demand of
 * d bytes per second with a buffer of B bytes never overflows exactly when, for all points y
 * before x of the curve, d·(S(x) − S(y)) − (x − y) ≤ B. Both sides are linear between points, so
 * the extremes lie at points.
 */

/** The pair of points, earlier and later, at which a demand builds up the largest backlog. */
function worstPair(progress: Progress, bytesPerSecond: number): { backlog: number; from: number; to: number } {
  let worst = { backlog: 0, from: 0, to: 0 };
  let lowest = 0;
  let lowestValue = 0;
  for (let point = 0; point < progress.seconds.length; point += 1) {
    const value = bytesPerSecond * progress.seconds[point]! - progress.bytes[point]!;
    if (point === 0 || value < lowestValue) [lowest, lowestValue] = [point, value];
    if (value - lowestValue > worst.backlog) worst = { backlog: value - lowestValue, from: lowest, to: point };
  }
  return worst;
}

/** Bytes of buffer without which a constant demand overflows somewhere on the curve. */
export function leastBuffer(progress: Progress, bytesPerSecond: number): number {
  return worstPair(progress, bytesPerSecond).backlog;
}

/**
 * The largest constant rate, bytes per second, that the curve carries with a buffer of
 * `bufferBytes`: the least of (x − y + B) ÷ (S(x) − S(y)) over all windows. Infinity for a curve
 * without time. Newton's method on the (convex, piecewise linear) largest backlog: each step
 * takes the window that binds at the present rate, so it ends exactly and after few steps.
 */
export function guaranteedRate(progress: Progress, bufferBytes: number): number {
  const duration = progressDuration(progress);
  if (duration <= 0) return Infinity;
  let rate = (progressBytes(progress) + bufferBytes) / duration;
  for (;;) {
    const { backlog, from, to } = worstPair(progress, rate);
    if (backlog <= bufferBytes) return rate;
    const bytes = progress.bytes[to]! - progress.bytes[from]! + bufferBytes;
    const next = bytes / (progress.seconds[to]! - progress.seconds[from]!);
    if (!(next < rate)) return rate;
    rate = next;
  }
}

export interface Break {
  /** Seconds since the demand began. */
  seconds: number;
  /** Bytes that had reached the drive. */
  bytes: number;
}

/**
 * The first moment at which the backlog of a constant demand exceeds the buffer, or null. Where the
 * drive is faster than the demand and nothing waits, it moves along the curve at the demand's
 * pace; else at its own (Lindley's recursion, piecewise linear, solved within each piece).
 */
export function firstBreak(progress: Progress, bytesPerSecond: number, bufferBytes: number): Break | null {
  let clock = 0;
  let backlog = 0;
  for (let point = 1; point < progress.seconds.length; point += 1) {
    const seconds = progress.seconds[point]! - progress.seconds[point - 1]!;
    const bytes = progress.bytes[point]! - progress.bytes[point - 1]!;
    const startBytes = progress.bytes[point - 1]!;
    const growth = bytesPerSecond * seconds - bytes;
    if (growth > 0 && backlog + growth > bufferBytes) {
      const share = (bufferBytes - backlog) / growth;
      return { seconds: clock + share * seconds, bytes: startBytes + share * bytes };
    }
    if (backlog + growth >= 0) {
      clock += seconds;
      backlog += growth;
    } else {
      // The backlog is worked off within the piece; the rest of it goes at the demand's pace.
      const share = growth < 0 ? backlog / -growth : 0;
      clock += share * seconds + ((1 - share) * bytes) / bytesPerSecond;
      backlog = 0;
    }
  }
  return null;
}
