import { takeBytesOf, type Demand } from '#core/3-jobs/demand/demand.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { holds, judge } from '#core/5-answers/verdict/judge.ts';
import type { Policy, Verdict } from '#core/5-answers/verdict/verdict.ts';
import { countPassing, halved } from '#core/1-ground/numbers/search.ts';

/**
 * How far one thing about a demand can go while it still holds, found with the verdict itself: a higher rate writes
 * more bytes in the same time, so nothing is scaled. Null where not even the least holds.
 */

export const LONGEST_TAKE_SECONDS = 7 * 86_400;
export const LONGEST_BUFFER_SECONDS = 3600;
export const MOST_TAKES = 10_000;
/** Answers are found by halving; this many steps leave less than a hundredth of a per cent. */
const STEPS = 24;

/** On what a demand is tried. */
export interface TriedOn {
  supply: Supply;
  policy: Policy;
  /** Free bytes less the reserve; null when not known. */
  roomBytes: number | null;
}

export const verdictOn = (demand: Demand, { supply, policy, roomBytes }: TriedOn): Verdict =>
  judge(demand, supply, policy, roomBytes);

export const holdsOn = (demand: Demand, { supply, policy, roomBytes }: TriedOn): boolean =>
  holds(demand, supply, policy, roomBytes);

/** A demand at so many times its rate, for the same time. Its buffer stays, in the unit in which it was given. */
export function atTimes(demand: Demand, times: number, bufferIsSeconds: boolean): Demand {
  return {
    ...demand,
    bytesPerSecond: demand.bytesPerSecond * times,
    peakBytesPerSecond: demand.peakBytesPerSecond * times,
    burstBytes: demand.burstBytes * times,
    bytesPerFrame: demand.bytesPerFrame * times,
    bufferBytes: demand.bufferBytes * (bufferIsSeconds ? times : 1),
    curve: demand.curve && { seconds: demand.curve.seconds, bytes: demand.curve.bytes.map((one) => one * times) },
    parts: demand.parts.map((part) => atTimes(part, times, bufferIsSeconds)),
  };
}

/** Highest rate that holds for the demand's takes, bytes per second. */
export function highestRate(demand: Demand, on: TriedOn, bufferIsSeconds: boolean): number | null {
  const times = halve(1e-4, 1e4, (value) => holdsOn(atTimes(demand, value, bufferIsSeconds), on));
  return times === null ? null : times * demand.bytesPerSecond;
}

/** Longest single take that holds, seconds; {@link LONGEST_TAKE_SECONDS} when longer ones are not looked for. */
export function longestTake(demand: Demand, on: TriedOn): number | null {
  const once = (takeSeconds: number): Demand => ({ ...demand, takes: 1, takeSeconds });
  if (holdsOn(once(LONGEST_TAKE_SECONDS), on)) return LONGEST_TAKE_SECONDS;
  return halve(0.1, LONGEST_TAKE_SECONDS, (seconds) => holdsOn(once(seconds), on));
}

/** Most takes that hold; {@link MOST_TAKES} when more are not looked for. */
export function mostTakes(demand: Demand, on: TriedOn): number | null {
  const most = largestWhole(MOST_TAKES, (takes) => holdsOn({ ...demand, takes }, on));
  return most || null;
}

/** Least buffer that holds, bytes; null when not even an hour of the demand would do. */
export function leastBuffer(demand: Demand, on: TriedOn): number | null {
  const change = (bufferBytes: number): Demand => ({ ...demand, bufferBytes });
  if (holdsOn(change(0), on)) return 0;
  // No take needs more than it has bytes; a rounding on top, so that an exact one passes.
  const most = Math.min(LONGEST_BUFFER_SECONDS * demand.bytesPerSecond, takeBytesOf(demand)) * 1.0001 + 1;
  if (!holdsOn(change(most), on)) return null;
  const tooLittle = halve(Math.max(1, most * 1e-9), most, (bytes) => !holdsOn(change(bytes), on));
  return tooLittle === null ? Math.max(1, most * 1e-9) : tooLittle * 1.0001;
}

/** Largest value between two that still passes, on a logarithmic scale; null when not even the least does. */
export function halve(least: number, most: number, passes: (value: number) => boolean): number | null {
  if (!passes(least)) return null;
  return Math.exp(halved(Math.log(least), Math.log(most), STEPS, (value) => passes(Math.exp(value))).passing);
}

/** The largest whole number up to one that passes, when none passes after the first that does not; 0 for none. */
export function largestWhole(most: number, passes: (value: number) => boolean): number {
  let [low, high] = [0, 1];
  while (high <= most && passes(high)) [low, high] = [high, high * 2];
  const rest = Math.min(high, most + 1) - low - 1;
  return low + countPassing(rest, (index) => passes(low + 1 + index));
}
