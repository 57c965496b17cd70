import type { Progress } from '#core/1-ground/curves/progress.ts';
import { countAtMost } from '#core/1-ground/numbers/search.ts';

/** What a drive does by bytes: from the end of one level to its own end each goes at its rate. */
export interface Levels {
  /** Bytes at which each level ends, ascending. */
  toBytes: number[];
  bytesPerSecond: number[];
}

/** Samples of a trace whose time advances: how long each took and what it moved. */
export interface Steps {
  took: Float64Array;
  moved: Float64Array;
  /** Seconds and bytes at the end of each. */
  seconds: Float64Array;
  bytes: Float64Array;
}

export function stepsOf({ seconds, bytes }: Progress): Steps {
  const took: number[] = [];
  const moved: number[] = [];
  for (let point = 1; point < seconds.length; point += 1) {
    const [dt, db] = [seconds[point]! - seconds[point - 1]!, bytes[point]! - bytes[point - 1]!];
    if (dt > 1e-9) {
      took.push(dt);
      moved.push(db);
    } else if (moved.length > 0) moved[moved.length - 1]! += db;
  }
  return withSums(Float64Array.from(took), Float64Array.from(moved));
}

export function withSums(took: Float64Array, moved: Float64Array): Steps {
  const steps = { took, moved, seconds: new Float64Array(took.length), bytes: new Float64Array(took.length) };
  let [atSeconds, atBytes] = [0, 0];
  for (let step = 0; step < took.length; step += 1) {
    steps.seconds[step] = atSeconds += took[step]!;
    steps.bytes[step] = atBytes += moved[step]!;
  }
  return steps;
}

/** A stretch of a trace by the numbers of its steps; `rate` in bytes per second. */
interface Stretch {
  from: number;
  to: number;
  rate: number;
  /** A rate that is known otherwise, as the mean of a floor that swings. */
  fixed: boolean;
}

/** What a level's own rate is read from lies within these shares of the rate at which most of its bytes moved. */
const OWN_LEAST = 0.75;
const OWN_MOST = 1.34;
/** What lasts no longer than this is no level; nor what lasts no longer than that and lies between two faster ones. */
const SHORT_SECONDS = 3;
const PASSING_SECONDS = 10;
const BELOW_SHARE = 0.9;
const DEEP_SHARE = 0.3;
const ALIKE = 0.22;
const CLOSE = 0.06;
/** What moves less than this share of what its neighbours move stands still. */
const STANDING_SHARE = 1e-3;
/** A boundary is looked for within so many seconds, or so much of the trace, of where it was read. */
const BOUNDARY_SECONDS = 3;
const BOUNDARY_SHARE = 0.03;
const MOST_SLOPE_PIECES = 64;
const SLOPE_PIECE_SECONDS = 5;

/** What is known of a trace beforehand. */
export interface KnownLevels {
  /** Ends of the levels that were read, bytes, ascending; empty for one. */
  levelEnds: readonly number[];
  /** Whether it falls steadily, as from outer to inner tracks. */
  slopes: boolean;
  swing: Swing | null;
}

/** A floor that swings: where that begins, its mean, and its low. */
export interface Swing {
  fromBytes: number;
  bytesPerSecond: number;
  lowBytesPerSecond: number;
}

/**
 * The levels of a drive by bytes: what it does when nothing comes by the clock. Of the levels that were read those
 * that are too short to be one are taken for time that was lost; a rate too high only makes that more.
 */
export function levelsOf(steps: Steps, known: KnownLevels): Levels {
  const { bytes, seconds, moved } = steps;
  const count = bytes.length;
  const end = count > 0 ? bytes[count - 1]! : 0;
  if (end <= 0) return { toBytes: [0], bytesPerSecond: [0] };
  const cuts = known.slopes ? slopeCuts(seconds) : stepCuts(steps, known);
  let stretches = cuts.map((to, index): Stretch => {
    const from = cuts[index - 1] ?? 0;
    const start = from === 0 ? 0 : bytes[from - 1]!;
    const swings = known.swing !== null && start >= known.swing.fromBytes * (1 - 1e-9);
    return swings
      ? { from, to, rate: known.swing!.bytesPerSecond, fixed: true }
      : { from, to, rate: ownRate(steps, from, to), fixed: false };
  });
  if (!known.slopes) {
    stretches = withoutPassing(steps, stretches);
    moveBoundaries(steps, stretches);
  }
  const kept = stretches.filter(({ rate }) => rate > 0);
  const levels: Levels = { toBytes: [], bytesPerSecond: [] };
  kept.forEach(({ to, rate }, index) => {
    const next = kept[index + 1];
    const at = bytes[to - 1]!;
    levels.toBytes.push(next ? at - intoNext(steps, to, rate, next.rate) : end);
    levels.bytesPerSecond.push(rate);
  });
  if (moved.length === 0 || levels.toBytes.length === 0)
    return { toBytes: [end], bytesPerSecond: [end / seconds[count - 1]!] };
  return levels;
}

function slopeCuts(seconds: Float64Array): number[] {
  const count = seconds.length;
  const pieces = Math.max(1, Math.min(MOST_SLOPE_PIECES, Math.floor(seconds[count - 1]! / SLOPE_PIECE_SECONDS), count));
  return Array.from({ length: pieces }, (_, piece) => Math.round(((piece + 1) * count) / pieces));
}

function stepCuts({ bytes }: Steps, { levelEnds, swing }: KnownLevels): number[] {
  const count = bytes.length;
  const cuts = new Set<number>([count]);
  for (const end of [...levelEnds.filter((one) => swing === null || one <= swing.fromBytes), swing?.fromBytes ?? 0]) {
    const at = firstBeyond(bytes, end);
    if (at > 0 && at < count) cuts.add(at);
  }
  return [...cuts].sort((a, b) => a - b);
}

/** Number of the first step that ends beyond so many bytes. */
const firstBeyond = (bytes: Float64Array, value: number): number => countAtMost(bytes, value * (1 + 1e-12));

/** The rate at which a stretch moved most of its bytes, without what was much slower or quicker. */
function ownRate({ took, moved }: Steps, from: number, to: number): number {
  let [bytes, seconds, quickest] = [0, 0, 0];
  for (let step = from; step < to; step += 1) {
    bytes += moved[step]!;
    seconds += took[step]!;
    quickest = Math.max(quickest, moved[step]! / took[step]!);
  }
  if (bytes <= 0) return 0;
  // The rate at which half of the bytes are reached, in bins of half a per cent: traces may have many samples.
  const bins = new Float64Array(BINS);
  for (let step = from; step < to; step += 1) {
    if (moved[step]! <= 0) continue;
    const bin = Math.floor(Math.log((quickest * took[step]!) / moved[step]!) / BIN_WIDTH);
    bins[Math.min(BINS - 1, Math.max(0, bin))]! += moved[step]!;
  }
  let [left, bin] = [bytes / 2, 0];
  while (bin < BINS - 1 && (left -= bins[bin]!) > 0) bin += 1;
  const middle = quickest * Math.exp(-(bin + 0.5) * BIN_WIDTH);
  let [ownBytes, ownSeconds] = [0, 0];
  for (let step = from; step < to; step += 1) {
    const rate = moved[step]! / took[step]!;
    if (rate < OWN_LEAST * middle || rate > OWN_MOST * middle) continue;
    ownBytes += moved[step]!;
    ownSeconds += took[step]!;
  }
  return Math.max(ownSeconds > 0 ? ownBytes / ownSeconds : 0, bytes / seconds);
}

const BINS = 2000;
const BIN_WIDTH = 0.005;

/** Takes away what is no level, shortest first, until nothing more is: it joins its quicker neighbour. */
function withoutPassing(steps: Steps, all: readonly Stretch[]): Stretch[] {
  const stretches = [...all];
  const { seconds } = steps;
  const lasts = ({ from, to }: Stretch) => seconds[to - 1]! - (from === 0 ? 0 : seconds[from - 1]!);
  const join = (at: number, other: number) => {
    const [a, b] = [stretches[at]!, stretches[other]!];
    const [from, to] = [Math.min(a.from, b.from), Math.max(a.to, b.to)];
    stretches[other] = b.fixed ? { ...b, from, to } : { from, to, rate: ownRate(steps, from, to), fixed: false };
    stretches.splice(at, 1);
  };
  for (;;) {
    let [shortest, found] = [Infinity, -1];
    stretches.forEach((one, index) => {
      const seconds = lasts(one);
      if (seconds < shortest && isPassing(one, stretches[index - 1], stretches[index + 1], seconds)) {
        [shortest, found] = [seconds, index];
      }
    });
    if (found < 0) break;
    const [before, after] = [stretches[found - 1], stretches[found + 1]];
    join(found, (before?.rate ?? -1) >= (after?.rate ?? -1) ? found - 1 : found + 1);
  }
  for (;;) {
    let [closest, found] = [CLOSE, -1];
    for (let index = 1; index < stretches.length; index += 1) {
      const gap = Math.abs(Math.log(stretches[index]!.rate / stretches[index - 1]!.rate));
      if (gap < closest && !stretches[index]!.fixed) [closest, found] = [gap, index];
    }
    if (found < 0) return stretches;
    join(found, found - 1);
  }
}

function isPassing(
  { rate, fixed }: Stretch,
  before: Stretch | undefined,
  after: Stretch | undefined,
  seconds: number,
): boolean {
  if (fixed || (!before && !after)) return false;
  const most = Math.max(before?.rate ?? 0, after?.rate ?? 0);
  if (rate < STANDING_SHARE * most) return true;
  // A cache that is used up within three seconds was one all the same: what came first and quicker is a level.
  if (seconds < SHORT_SECONDS - 1e-6) return before !== undefined || rate < (after?.rate ?? 0);
  if (seconds >= PASSING_SECONDS || !after) return false;
  // A slow beginning, as of a drive that wakes up or whose swing was low just then.
  if (!before) return rate < BELOW_SHARE * after.rate;
  const [low, high] = [Math.min(before.rate, after.rate), most];
  if (rate >= BELOW_SHARE * low) return false;
  return rate < DEEP_SHARE * low || high <= low * (1 + ALIKE);
}

/** Moves each boundary to where the fewest samples lie on the wrong side of what parts the two levels. */
function moveBoundaries({ took, moved, seconds }: Steps, stretches: Stretch[]): void {
  const total = seconds.at(-1) ?? 0;
  const reach = Math.max(BOUNDARY_SECONDS, BOUNDARY_SHARE * total);
  for (let index = 1; index < stretches.length; index += 1) {
    const [before, after] = [stretches[index - 1]!, stretches[index]!];
    const at = after.from;
    const parting = Math.sqrt(before.rate * after.rate);
    const falls = before.rate > after.rate;
    const atSeconds = at === 0 ? 0 : seconds[at - 1]!;
    const deep = DEEP_SHARE * Math.min(before.rate, after.rate);
    const isWrong = (step: number, isBefore: boolean) => {
      // A stop tells nothing of the level that it falls into.
      if (moved[step]! / took[step]! < deep) return 0;
      const above = moved[step]! / took[step]! > parting;
      return (falls === above) !== isBefore ? took[step]! : 0;
    };
    // Where the boundary would lie before each step, against where it lies now.
    let [wrong, least, best] = [0, 0, at];
    for (let step = at - 1; step > before.from && atSeconds - seconds[step]! < reach; step -= 1) {
      wrong += isWrong(step, false) - isWrong(step, true);
      if (wrong < least) [least, best] = [wrong, step];
    }
    wrong = 0;
    for (let step = at; step < after.to - 1 && seconds[step]! - atSeconds < reach; step += 1) {
      wrong += isWrong(step, true) - isWrong(step, false);
      // Where it may lie on either side of a stop, the quicker level is the longer one.
      if (wrong < least || (wrong === least && falls && step === best)) [least, best] = [wrong, step + 1];
    }
    before.to = best;
    after.from = best;
  }
}

/**
 * Bytes of the level after it that the last sample before a boundary holds: negative where the first sample behind
 * the boundary still holds some of the level before.
 */
function intoNext({ took, moved }: Steps, to: number, rate: number, nextRate: number): number {
  const share = (step: number) => {
    // So many bytes of the sample went at the first rate that its time comes out.
    const own = moved[step]! / took[step]!;
    if ((own - rate) * (own - nextRate) >= 0) return null;
    return (took[step]! - moved[step]! / nextRate) / (1 / rate - 1 / nextRate);
  };
  const last = to > 0 ? share(to - 1) : null;
  const next = to < took.length ? share(to) : null;
  const lastRate = to > 0 ? moved[to - 1]! / took[to - 1]! : rate;
  const nextOwn = to < took.length ? moved[to]! / took[to]! : nextRate;
  // The one that is further from both is the mixed one.
  const mixedLast = last === null ? 0 : Math.abs(Math.log(lastRate / rate));
  const mixedNext = next === null ? 0 : Math.abs(Math.log(nextOwn / nextRate));
  if (mixedLast < MIXED && mixedNext < MIXED) return 0;
  if (mixedLast >= mixedNext) return moved[to - 1]! - last!;
  return -next!;
}

/** A sample at least so far from its level, as a logarithm, holds some of the other one too. */
const MIXED = 0.05;
