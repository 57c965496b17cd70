import type { Direction } from '#core/1-ground/curves/direction.ts';
import { furthestReaching, reachOf, soundOf, type Evidence } from '#core/4-runs/supply/evidence.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { continued, flushSecondsFor, longestCurve } from '#core/4-runs/trace/supply-curve.ts';

/** How long it takes to copy so many bytes to a storage. */
export interface CopyTime {
  bytes: number;
  writeSeconds: number;
  /** 0 where it is not asked for. */
  readBackSeconds: number;
  /** Whether runs show it; else its floor is taken to go on. */
  isProven: boolean;
}

/**
 * Seconds to write so many bytes on what is known, and to read them back; null where one of them is not known.
 * The slowest run counts.
 */
export function copyTime(supply: Supply, bytes: number, readsBack: boolean): CopyTime | null {
  const written = timeToMove(supply, 'write', bytes);
  const back = readsBack ? timeToMove(supply, 'read', bytes) : { seconds: 0, isProven: true };
  if (written === null || back === null) return null;
  return {
    bytes,
    writeSeconds: written.seconds,
    readBackSeconds: back.seconds,
    isProven: written.isProven && back.isProven,
  };
}

/** Seconds to move so many bytes one way; null where that way is not known. */
export function timeToMove(
  { traces }: Supply,
  direction: Direction,
  bytes: number,
): { seconds: number; isProven: boolean } | null {
  const runs = soundOf(traces.filter((one) => one.direction === direction));
  const furthest = furthestReaching(runs);
  if (!furthest) return null;
  // A run that was too short to show it only counts where it is slower all the same.
  const seconds = Math.max(...runs.map((one) => secondsToMove(one, bytes)));
  return { seconds, isProven: !furthest.isPromise && furthest.mayProveHolds && reachOf(furthest) >= bytes };
}

/** What is copied while it is read at the working storage takes as long as the slower of both; then it is read back. */
export interface CopiedDay {
  seconds: number;
  isHeldBackBySource: boolean;
}

/** @param sourceSeconds that the working storage takes to read it; null where that is not known */
export function copiedDay({ writeSeconds, readBackSeconds }: CopyTime, sourceSeconds: number | null): CopiedDay {
  const source = sourceSeconds ?? 0;
  return { seconds: Math.max(writeSeconds, source) + readBackSeconds, isHeldBackBySource: source > writeSeconds };
}

function secondsToMove({ curves, span }: Evidence, bytes: number): number {
  const points = continued(longestCurve(curves));
  const last = points.bytes.length - 1;
  const rest = bytes - points.bytes[last]!;
  if (rest >= 0) return points.seconds[last]! + (rest > 0 ? rest / span.floorBytesPerSecond : 0);
  const next = points.bytes.findIndex((one) => one >= bytes);
  if (next <= 0) return points.seconds[0]!;
  const [from, to] = [points.bytes[next - 1]!, points.bytes[next]!];
  const share = to > from ? (bytes - from) / (to - from) : 1;
  const moving = points.seconds[next - 1]! + share * (points.seconds[next]! - points.seconds[next - 1]!);
  return moving + flushSecondsFor(longestCurve(curves), bytes);
}
