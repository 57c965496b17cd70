import { countAtMost } from '#core/1-ground/numbers/search.ts';

/**
 * A progress curve: bytes moved against seconds, piecewise linear between its points, from
 * (0, 0). Neither column ever goes back. A stall is two points with equal bytes.
 */
export interface Progress {
  seconds: number[];
  bytes: number[];
}

/** The same in columns of any kind. */
type Columns = Record<keyof Progress, ArrayLike<number>>;

export function progressDuration(progress: Progress): number {
  return progress.seconds.at(-1) ?? 0;
}

export function progressBytes(progress: Progress): number {
  return progress.bytes.at(-1) ?? 0;
}

/** Index of the last point whose `column` value is at most `value`; the column must not be empty. */
const lastAtMost = (column: ArrayLike<number>, value: number): number => Math.max(0, countAtMost(column, value) - 1);

const interpolate = (from: ArrayLike<number>, to: ArrayLike<number>, value: number): number =>
  between(from, to, lastAtMost(from, value), value);

/** What `to` is at a value that `from` has between a point and the next. */
function between(from: ArrayLike<number>, to: ArrayLike<number>, index: number, value: number): number {
  if (index >= from.length - 1 || from[index]! >= value) return to[index]!;
  const share = (value - from[index]!) / (from[index + 1]! - from[index]!);
  return to[index]! + share * (to[index + 1]! - to[index]!);
}

/** Bytes moved by a moment; the end's bytes for later moments. */
export function bytesAt(progress: Columns, seconds: number): number {
  return interpolate(progress.seconds, progress.bytes, seconds);
}

/** Seconds after which so many bytes had moved, past any stall there; the end's seconds for more bytes. */
export function secondsAt(progress: Columns, bytes: number): number {
  return interpolate(progress.bytes, progress.seconds, bytes);
}

/** {@link secondsAt} of many bytes, quickest where each lies near the one before. */
export function secondsAtEach({ seconds, bytes }: Columns, values: Float64Array): Float64Array {
  const found = new Float64Array(values.length);
  const last = bytes.length - 1;
  let index = 0;
  for (let at = 0; at < values.length; at += 1) {
    const value = values[at]!;
    if (bytes[index]! > value) index = lastAtMost(bytes, value);
    for (let steps = 0; index < last && bytes[index + 1]! <= value; steps += 1) {
      if (steps === NEAR_STEPS) index = lastAtMost(bytes, value);
      else index += 1;
    }
    found[at] = between(bytes, seconds, index, value);
  }
  return found;
}

/** Further than so many points it is found by halves. */
const NEAR_STEPS = 8;

/** The part of a curve up to a number of bytes, ending exactly there. */
export function cutAtBytes(progress: Progress, bytes: number): Progress {
  const end = progressBytes(progress);
  if (bytes >= end) return progress;
  const firstPast = progress.bytes.findIndex((value) => value > bytes);
  const before = firstPast - 1;
  const share = (bytes - progress.bytes[before]!) / (progress.bytes[firstPast]! - progress.bytes[before]!);
  const seconds = progress.seconds[before]! + share * (progress.seconds[firstPast]! - progress.seconds[before]!);
  return {
    seconds: [...progress.seconds.slice(0, firstPast), seconds],
    bytes: [...progress.bytes.slice(0, firstPast), bytes],
  };
}

/**
 * Lowest average rate in any window of `windowSeconds`, bytes per second; null when the curve is
 * shorter than the window. Exact: the lowest window begins or ends at a point of the curve.
 */
export function worstWindow(progress: Progress, windowSeconds: number): number | null {
  const duration = progressDuration(progress);
  if (duration < windowSeconds || windowSeconds <= 0) return null;
  let least = Infinity;
  for (const second of progress.seconds) {
    for (const start of [second, second - windowSeconds]) {
      if (start < 0 || start + windowSeconds > duration) continue;
      least = Math.min(least, bytesAt(progress, start + windowSeconds) - bytesAt(progress, start));
    }
  }
  return least / windowSeconds;
}
