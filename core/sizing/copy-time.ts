import type { Direction } from '#core/run/direction.ts';
import { furthestReaching, reachOf, type Evidence } from '#core/supply/evidence.ts';
import type { Supply } from '#core/supply/profile.ts';
import { cornersOf, longestCurve, pointsOf } from '#core/trace/supply-curve.ts';

/** How long it takes to copy so many bytes to a storage. */
export interface CopyTime {
  bytes: number;
  /** Reading back, where it is asked for, included. */
  seconds: number;
  /** Whether runs show it; else its floor is taken to go on. */
  isProven: boolean;
}

/**
 * Seconds to write so many bytes on what is known, and to read them back; null where one of them is not known.
 * The slowest run counts.
 */
export function copyTime({ traces }: Supply, bytes: number, readsBack: boolean): CopyTime | null {
  const ways: Direction[] = readsBack ? ['write', 'read'] : ['write'];
  const moved = ways.map((direction) =>
    timeToMove(
      traces.filter((one) => one.direction === direction),
      bytes,
    ),
  );
  if (!moved.every((one) => one !== null)) return null;
  return {
    bytes,
    seconds: moved.reduce((sum, { seconds }) => sum + seconds, 0),
    isProven: moved.every(({ isProven }) => isProven),
  };
}

function timeToMove(runs: readonly Evidence[], bytes: number): Omit<CopyTime, 'bytes'> | null {
  const furthest = furthestReaching(runs);
  if (!furthest) return null;
  // A run that was too short to show it only counts where it is slower all the same.
  const seconds = Math.max(...runs.map((one) => secondsToMove(one, bytes)));
  return { seconds, isProven: furthest.mayProveHolds && reachOf(furthest) >= bytes };
}

function secondsToMove({ curves, span }: Evidence, bytes: number): number {
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
