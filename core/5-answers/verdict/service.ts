import type { Levels } from '#core/4-runs/trace/levels.ts';
import { lostIn, type LostTime } from '#core/4-runs/trace/lost-time.ts';
import { countAtMost, halved } from '#core/1-ground/numbers/search.ts';

/** What a drive does for a job: its levels, laid out so that bytes and seconds of work are found quickly. */
export interface Service {
  /** Ends of the levels, bytes; the last is where what is known of the drive ends, Infinity for never. */
  ends: readonly number[];
  rates: readonly number[];
  /** Seconds of work until each level ends. */
  endSeconds: readonly number[];
  lost: LostTime;
}

export function serviceOf({ toBytes, bytesPerSecond }: Levels, lost: LostTime): Service {
  let seconds = 0;
  return {
    ends: toBytes,
    rates: bytesPerSecond,
    endSeconds: toBytes.map((end, level) => (seconds += (end - (toBytes[level - 1] ?? 0)) / bytesPerSecond[level]!)),
    lost,
  };
}

/** Sums of many bytes and seconds are not exact to the last digit. */
const ROUNDING = 1e-10;

/** Seconds of work until so many bytes; Infinity beyond what is known. */
export function workUntil({ ends, rates, endSeconds }: Service, bytes: number): number {
  const level = countAtMost(ends, bytes);
  if (level >= ends.length) return bytes > ends.at(-1)! * (1 + ROUNDING) ? Infinity : endSeconds.at(-1)!;
  const [from, fromSeconds] = level === 0 ? [0, 0] : [ends[level - 1]!, endSeconds[level - 1]!];
  return fromSeconds + (bytes - from) / rates[level]!;
}

/** Bytes to which so many seconds of work lead; Infinity beyond what is known. */
export function bytesAfter({ ends, rates, endSeconds }: Service, work: number): number {
  const level = countAtMost(endSeconds, work);
  if (level >= ends.length) return work > endSeconds.at(-1)! * (1 + ROUNDING) ? Infinity : ends.at(-1)!;
  const [from, fromSeconds] = level === 0 ? [0, 0] : [ends[level - 1]!, endSeconds[level - 1]!];
  return from + (work - fromSeconds) * rates[level]!;
}

/** Seconds in which a drive works at least, of a window of so many. */
export const workIn = ({ lost }: Service, window: number): number => Math.max(0, window - lostIn(lost, window));

/** The longest window in which it may be that no more than so many seconds are worked. */
export function windowOfWork(service: Service, work: number): number {
  let high = Math.max(1, 2 * work);
  while (workIn(service, high) <= work && high < 1e9) high *= 2;
  return halved(work, high, 50, (window) => workIn(service, window) <= work).passing;
}

/**
 * Bytes at which a level begins that is slower than the one before, with the beginning of all; and those at which a
 * quicker one does, with the end of what is known, behind which nothing is too slow.
 */
export function turnsOf({ ends, rates }: Service): { slower: number[]; quicker: number[] } {
  const slower = [0];
  const quicker: number[] = [];
  for (let level = 1; level < ends.length; level += 1) {
    (rates[level]! < rates[level - 1]! ? slower : quicker).push(ends[level - 1]!);
  }
  const end = ends.at(-1)!;
  if (end !== Infinity) quicker.push(end);
  return { slower, quicker };
}
