import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { progressBytes, progressDuration, type Progress } from '#core/1-ground/curves/progress.ts';
import { askedOf, askedSeconds, summed } from '#core/5-answers/verdict/asked.ts';

/** Where a volume is full: in which take, from 1, after how many seconds of it, and with how many bytes of that take. */
export interface FullAt {
  take: number;
  seconds: number;
  takeBytes: number;
}

/** Takes that are looked at one by one; what is taken off in turn has long come to the same by then. */
const MOST_TAKES = 10_000;

/**
 * When what a job records does not fit any more: the bytes of all takes that are still there, and of what is taken
 * off in between those of the take that is going on and of those that have not been taken off by then.
 * @param demands what records at the same time
 * @param roomBytes free bytes less the reserve
 * @returns null when all of it fits
 */
export function fullAt(demands: readonly Demand[], roomBytes: number): FullAt | null {
  const recording = demands.filter(({ direction }) => direction === 'write');
  if (recording.length === 0) return null;
  const takes = Math.max(...recording.map((one) => one.takes));
  const asked = recording.map((one) => ({ demand: one, items: [askedOf(one)] }));
  const takeSeconds = askedSeconds(asked.flatMap(({ items }) => items));
  const gapSeconds = Math.min(...recording.map((one) => one.gapSeconds));
  const takesOff = recording.every(({ between }) => between === 'take-off');
  const offSeconds = Math.max(...recording.map((one) => one.takeOffSeconds ?? gapSeconds));
  // A take of which some items have fewer takes is smaller.
  const curveOf = (take: number) =>
    summed(asked.filter(({ demand }) => demand.takes >= take).flatMap(({ items }) => items));
  let [there, oldest] = [0, 1];
  const bytesOf: number[] = [];
  let offDone = 0;
  /** Takes that wait to be taken off: when each is. */
  const leaves: number[] = [];
  let curve = curveOf(1);
  const fewest = Math.min(...recording.map((one) => one.takes));
  for (let take = 1; take <= Math.min(takes, MOST_TAKES); take += 1) {
    if (take > fewest) curve = curveOf(take);
    const begins = (take - 1) * (takeSeconds + gapSeconds);
    const within = momentsOf(leaves, begins, takeSeconds);
    while (leaves.length > 0 && leaves[0]! <= begins + 1e-9) {
      there -= bytesOf[oldest - 1]!;
      oldest += 1;
      leaves.shift();
    }
    let from = 0;
    for (const until of [...within, takeSeconds]) {
      const at = momentBeyond(curve, roomBytes - there, from, until);
      if (at !== null) return { take, seconds: at.seconds, takeBytes: at.bytes };
      if (until < takeSeconds) {
        there -= bytesOf[oldest - 1]!;
        oldest += 1;
        leaves.shift();
      }
      from = until;
    }
    const own = progressBytes(curve);
    bytesOf.push(own);
    there += own;
    if (takesOff) {
      offDone = Math.max(offDone, begins + takeSeconds) + offSeconds;
      leaves.push(offDone);
    }
    // As much comes as goes: later takes find what this one found.
    if (takesOff && offSeconds <= gapSeconds + 1e-9 && take >= 2) return null;
  }
  if (takes <= MOST_TAKES) return null;
  const left = roomBytes - there;
  const more = Math.floor(left / Math.max(1, progressBytes(curve)));
  if (MOST_TAKES + more >= takes) return null;
  const rest = left - more * progressBytes(curve);
  const at = momentBeyond(curve, rest, 0, progressDuration(curve))!;
  return { take: MOST_TAKES + more + 1, seconds: at.seconds, takeBytes: at.bytes };
}

/** Moments within a take at which an earlier one is off. */
function momentsOf(leaves: readonly number[], begins: number, takeSeconds: number): number[] {
  return leaves.map((one) => one - begins).filter((one) => one > 1e-9 && one < takeSeconds);
}

/** The first moment in part of a take at which more is asked for than fits; null when all of it does. */
function momentBeyond(
  { seconds, bytes }: Progress,
  room: number,
  from: number,
  until: number,
): { seconds: number; bytes: number } | null {
  for (let point = 1; point < seconds.length; point += 1) {
    if (seconds[point]! <= from || seconds[point - 1]! >= until) continue;
    const span = seconds[point]! - seconds[point - 1]!;
    const at = (second: number) =>
      span > 0
        ? bytes[point - 1]! + ((second - seconds[point - 1]!) / span) * (bytes[point]! - bytes[point - 1]!)
        : bytes[point]!;
    const first = Math.max(from, seconds[point - 1]!);
    const last = Math.min(until, seconds[point]!);
    if (at(last) <= room * (1 + 1e-12)) continue;
    if (at(first) > room) return { seconds: first, bytes: Math.max(0, room) };
    const share = (room - bytes[point - 1]!) / (bytes[point]! - bytes[point - 1]!);
    return { seconds: Math.max(first, seconds[point - 1]! + share * span), bytes: Math.max(0, room) };
  }
  return null;
}
