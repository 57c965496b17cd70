import { furthestReaching, reachOf, type Evidence } from '#core/supply/evidence.ts';
import type { Supply } from '#core/supply/profile.ts';
import { cornersOf, longestCurve, pointsOf } from '#core/trace/supply-curve.ts';

/** How long it takes to copy so many bytes to a storage. */
export interface CopyTime {
  bytes: number;
  seconds: number;
  /** Whether runs show it; else its floor is taken to go on. */
  isProven: boolean;
}

/** Seconds to write so many bytes on what is known; null where its writing is not. The slowest run counts. */
export function copyTime({ traces }: Supply, bytes: number): CopyTime | null {
  const writing = traces.filter((one) => one.direction === 'write');
  const furthest = furthestReaching(writing);
  if (!furthest) return null;
  // A run that was too short to show it only counts where it is slower all the same.
  const seconds = Math.max(...writing.map((one) => secondsToWrite(one, bytes)));
  return { bytes, seconds, isProven: furthest.mayProveHolds && reachOf(furthest) >= bytes };
}

function secondsToWrite({ curves, span }: Evidence, bytes: number): number {
  const points = pointsOf(cornersOf(longestCurve(curves)));
  const last = points.bytes.length - 1;
  const rest = bytes - points.bytes[last]!;
  if (rest >= 0) return points.seconds[last]! + (rest > 0 ? rest / span.floorBytesPerSecond : 0);
  const next = points.bytes.findIndex((one) => one >= bytes);
  if (next <= 0) return points.seconds[0]!;
  const [from, to] = [points.bytes[next - 1]!, points.bytes[next]!];
  const share = to > from ? (bytes - from) / (to - from) : 1;
  return points.seconds[next - 1]! + share * (points.seconds[next]! - points.seconds[next - 1]!);
}
