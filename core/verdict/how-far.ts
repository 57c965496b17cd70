import { demandOf } from '#core/demand/footage/footage-demand.ts';
import type { FootageItem } from '#core/demand/footage/footage-item.ts';
import { NAMED_RASTERS, type NamedRaster } from '#core/media/rasters.ts';
import type { Supply } from '#core/supply/profile.ts';
import { formatDuration, rateText } from '#core/units/format.ts';
import { FRAME_RATES, framesPerSecond, type FrameRate } from '#core/units/frame-rate.ts';
import { judge } from '#core/verdict/judge.ts';
import type { Policy, Verdict } from '#core/verdict/verdict.ts';

/** How far one thing about an item can go while it still holds, and what ends it there. */
export interface Limit<T> {
  /** The furthest that holds; null when nothing does. */
  value: T | null;
  /** What limits it, as the rest of a sentence. */
  limitedBy: string;
}

/** The inverse questions about a drive and an item. Null where the item has no such thing. */
export interface HowFar {
  streams: Limit<number>;
  frameRate: Limit<FrameRate> | null;
  raster: Limit<NamedRaster> | null;
  takeSeconds: Limit<number> | null;
  /** Least buffer, in bytes and in seconds of the demand. */
  buffer: Limit<{ bytes: number; seconds: number }>;
  /** Highest rate that holds for the item's take, bytes per second. */
  bytesPerSecond: Limit<number>;
}

const MOST_STREAMS = 1000;
const LONGEST_TAKE_SECONDS = 7 * 86_400;
const LONGEST_BUFFER_SECONDS = 3600;
/** Answers are found by halving; this many steps leave less than a hundredth of a per cent. */
const STEPS = 24;

/** How far an item can go on a drive with everything else as it is. */
export function howFar(item: FootageItem, supply: Supply, policy: Policy, roomBytes: number | null): HowFar {
  const verdictOf = (change: Partial<FootageItem>): Verdict =>
    judge(demandOf({ ...item, ...change }), supply, policy, roomBytes);
  const holds = (change: Partial<FootageItem>): boolean => verdictOf(change).verdict === 'holds';
  const limit = <T>(value: T | null, beyond: Partial<FootageItem>): Limit<T> => ({
    value,
    limitedBy: limitText(verdictOf(beyond), policy),
  });
  const { essence, takes } = item;

  const most = mostStreams((streams) => holds({ streams }));
  const streams: HowFar['streams'] =
    most === MOST_STREAMS
      ? { value: most, limitedBy: 'more is not looked for' }
      : limit(most || null, { streams: most + 1 });

  return {
    streams,
    frameRate: essence.kind === 'picture' ? highestFrameRate() : null,
    raster: essence.kind === 'picture' ? largestRaster() : null,
    takeSeconds: essence.kind === 'curve' ? null : longestTake(),
    buffer: leastBuffer(),
    bytesPerSecond: highestRate(),
  };

  function highestFrameRate(): Limit<FrameRate> {
    const rates = [...FRAME_RATES].sort((a, b) => framesPerSecond(a) - framesPerSecond(b));
    const picture = essence as Extract<FootageItem['essence'], { kind: 'picture' }>;
    const change = (frameRate: FrameRate) => ({ essence: { ...picture, frameRate } });
    const count = countHolding(rates.map(change), holds);
    if (count === rates.length) return { value: rates.at(-1)!, limitedBy: 'it is the highest of the usual ones' };
    return limit(rates[count - 1] ?? null, change(rates[count]!));
  }

  function largestRaster(): Limit<NamedRaster> {
    const rasters = [...NAMED_RASTERS].sort((a, b) => a.width * a.height - b.width * b.height);
    const picture = essence as Extract<FootageItem['essence'], { kind: 'picture' }>;
    const change = ({ width, height }: NamedRaster) => ({ essence: { ...picture, raster: { width, height } } });
    const count = countHolding(rasters.map(change), holds);
    if (count === rasters.length) return { value: rasters.at(-1)!, limitedBy: 'it is the largest of the named ones' };
    return limit(rasters[count - 1] ?? null, change(rasters[count]!));
  }

  function longestTake(): Limit<number> {
    const change = (seconds: number) => ({ takes: { ...takes, count: 1, seconds } });
    if (holds(change(LONGEST_TAKE_SECONDS))) {
      return {
        value: LONGEST_TAKE_SECONDS,
        limitedBy: `more than ${formatDuration(LONGEST_TAKE_SECONDS)} is not looked for`,
      };
    }
    const seconds = halve(1, LONGEST_TAKE_SECONDS, (value) => holds(change(value)));
    return limit(seconds, change(seconds === null ? 1 : seconds * 1.001));
  }

  function leastBuffer(): HowFar['buffer'] {
    const rate = demandOf(item).bytesPerSecond;
    const change = (seconds: number) => ({ buffer: { unit: 'bytes' as const, amount: seconds * rate } });
    const found = (seconds: number, limitedBy: string) => ({ value: { seconds, bytes: seconds * rate }, limitedBy });
    if (holds(change(0))) return found(0, 'its worst moments are fast enough without');
    if (!holds(change(LONGEST_BUFFER_SECONDS)))
      return limit<{ bytes: number; seconds: number }>(null, change(LONGEST_BUFFER_SECONDS));
    // The least that holds is the most that does not, a step on.
    const tooLittle = halve(0.001, LONGEST_BUFFER_SECONDS, (value) => !holds(change(value)));
    return found(tooLittle ?? 0.001, 'its worst moments need it');
  }

  function highestRate(): Limit<number> {
    const verdict = verdictOf({});
    const { guaranteedBytesPerSecond: rate } = verdict;
    if (rate === null || verdict.verdict === 'not-proven')
      return { value: null, limitedBy: limitText(verdict, policy) };
    const value = rate / (1 + policy.headroomShare);
    return { value, limitedBy: limitText({ ...verdict, verdict: 'tight', reason: 'carried' }, policy) };
  }
}

/** What stands in the way when a demand no longer holds. */
function limitText(verdict: Verdict, { headroomShare }: Policy): string {
  // A run that lost frames says that this is too much, and not how much less would do.
  if (verdict.reason === 'done' && verdict.verdict === 'breaks') return 'frames were lost when it was done';
  const rate = rateText(verdict.guaranteedBytesPerSecond ?? 0);
  switch (verdict.reason) {
    case 'full':
      return 'the free space';
    case 'no-run':
      return 'nothing has been measured';
    case 'too-short':
      return 'the bytes proven so far end there';
    case 'later-takes':
      return 'takes after the first are not proven';
    case 'several-streams':
      return 'several streams at once are not proven';
    case 'mixed':
      return 'recording and playing at once is not proven';
    case 'doubtful':
      return 'a doubt about its runs';
    default:
      return verdict.verdict === 'tight' && headroomShare > 0
        ? `it guarantees ${rate}, and ${Math.round(headroomShare * 100)} % are kept free`
        : `it guarantees ${rate}`;
  }
}

/** How many of a rising list hold, when none holds after the first that does not. */
function countHolding<T>(changes: readonly T[], holds: (change: T) => boolean): number {
  let [low, high] = [0, changes.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (holds(changes[middle]!)) low = middle + 1;
    else high = middle;
  }
  return low;
}

function mostStreams(holds: (streams: number) => boolean): number {
  let [low, high] = [0, 1];
  while (high <= MOST_STREAMS && holds(high)) [low, high] = [high, high * 2];
  high = Math.min(high, MOST_STREAMS + 1);
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (holds(middle)) low = middle;
    else high = middle;
  }
  return low;
}

/** Largest value between two that still passes, on a logarithmic scale; null when not even the least does. */
function halve(least: number, most: number, passes: (value: number) => boolean): number | null {
  if (!passes(least)) return null;
  let [low, high] = [Math.log(least), Math.log(most)];
  for (let step = 0; step < STEPS; step += 1) {
    const middle = (low + high) / 2;
    if (passes(Math.exp(middle))) low = middle;
    else high = middle;
  }
  return Math.exp(low);
}
