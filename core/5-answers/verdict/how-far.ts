import { demandOf } from '#core/3-jobs/demand/footage/footage-demand.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { NAMED_RASTERS, type NamedRaster } from '#core/2-trade/media/rasters.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { formatDuration, rateText } from '#core/1-ground/units/format.ts';
import { FRAME_RATES, framesPerSecond, type FrameRate } from '#core/1-ground/units/frame-rate.ts';
import {
  highestRate,
  holdsOn,
  largestWhole,
  leastBuffer as leastBufferOf,
  longestTake as longestTakeOf,
  LONGEST_BUFFER_SECONDS,
  LONGEST_TAKE_SECONDS,
  MOST_TAKES,
  atTimes,
  mostTakes,
  verdictOn,
} from '#core/5-answers/verdict/furthest.ts';
import type { Policy, Verdict } from '#core/5-answers/verdict/verdict.ts';
import { countPassing } from '#core/1-ground/numbers/search.ts';

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
  /** Most takes, where several are recorded. */
  takes: Limit<number> | null;
  /** Least buffer, in bytes and in seconds of the demand. */
  buffer: Limit<{ bytes: number; seconds: number }>;
  /** Highest rate that holds for the item's take, bytes per second. */
  bytesPerSecond: Limit<number>;
}

const MOST_STREAMS = 1000;

/** How far an item can go on a drive with everything else as it is. */
export function howFar(item: FootageItem, supply: Supply, policy: Policy, roomBytes: number | null): HowFar {
  const on = { supply, policy, roomBytes };
  const demand = demandOf(item);
  const verdictOf = (change: Partial<FootageItem>): Verdict => verdictOn(demandOf({ ...item, ...change }), on);
  const holds = (change: Partial<FootageItem>): boolean => holdsOn(demandOf({ ...item, ...change }), on);
  const limit = <T>(value: T | null, beyond: Partial<FootageItem>): Limit<T> => ({
    value,
    limitedBy: limitText(verdictOf(beyond), policy),
  });
  const { essence, takes } = item;

  const most = largestWhole(MOST_STREAMS, (streams) => holds({ streams }));
  const streams: HowFar['streams'] =
    most === MOST_STREAMS
      ? { value: most, limitedBy: 'more is not looked for' }
      : limit(most || null, { streams: most + 1 });

  return {
    streams,
    frameRate: essence.kind === 'picture' ? highestFrameRate() : null,
    raster: essence.kind === 'picture' ? largestRaster() : null,
    takeSeconds: essence.kind === 'curve' ? null : longestTake(),
    takes: item.action === 'record' && takes.count > 1 ? takesThatHold() : null,
    buffer: leastBuffer(),
    bytesPerSecond: highest(),
  };

  function highestFrameRate(): Limit<FrameRate> {
    const rates = [...FRAME_RATES].sort((a, b) => framesPerSecond(a) - framesPerSecond(b));
    const picture = essence as Extract<FootageItem['essence'], { kind: 'picture' }>;
    const change = (frameRate: FrameRate) => ({ essence: { ...picture, frameRate } });
    const count = countPassing(rates.length, (index) => holds(change(rates[index]!)));
    if (count === rates.length) return { value: rates.at(-1)!, limitedBy: 'it is the highest of the usual ones' };
    return limit(rates[count - 1] ?? null, change(rates[count]!));
  }

  function largestRaster(): Limit<NamedRaster> {
    const rasters = [...NAMED_RASTERS].sort((a, b) => a.width * a.height - b.width * b.height);
    const picture = essence as Extract<FootageItem['essence'], { kind: 'picture' }>;
    const change = ({ width, height }: NamedRaster) => ({ essence: { ...picture, raster: { width, height } } });
    const count = countPassing(rasters.length, (index) => holds(change(rasters[index]!)));
    if (count === rasters.length) return { value: rasters.at(-1)!, limitedBy: 'it is the largest of the named ones' };
    return limit(rasters[count - 1] ?? null, change(rasters[count]!));
  }

  function longestTake(): Limit<number> {
    const change = (seconds: number) => ({ takes: { ...takes, count: 1, seconds } });
    const seconds = longestTakeOf(demand, on);
    if (seconds === LONGEST_TAKE_SECONDS) {
      return { value: seconds, limitedBy: `more than ${formatDuration(LONGEST_TAKE_SECONDS)} is not looked for` };
    }
    return limit(seconds, change(seconds === null ? 1 : seconds * 1.001));
  }

  function takesThatHold(): Limit<number> {
    const count = mostTakes(demand, on);
    if (count === MOST_TAKES) return { value: count, limitedBy: 'more is not looked for' };
    return limit(count, { takes: { ...takes, count: (count ?? 0) + 1 } });
  }

  function leastBuffer(): HowFar['buffer'] {
    const rate = demand.bytesPerSecond;
    const bytes = leastBufferOf(demand, on);
    if (bytes === null) {
      const amount = LONGEST_BUFFER_SECONDS * rate;
      return limit<{ bytes: number; seconds: number }>(null, { buffer: { unit: 'bytes', amount } });
    }
    return {
      value: { bytes, seconds: bytes / rate },
      limitedBy: bytes === 0 ? 'its worst moments are fast enough without' : 'its worst moments need it',
    };
  }

  function highest(): Limit<number> {
    const inSeconds = item.buffer.unit === 'seconds';
    const rate = highestRate(demand, on, inSeconds);
    const beyond = atTimes(demand, rate === null ? 1 : (rate / demand.bytesPerSecond) * 1.001, inSeconds);
    return { value: rate, limitedBy: limitText(verdictOn(beyond, on), policy) };
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
    case 'worst-moment':
      return 'its slow moments, if they fall badly';
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
