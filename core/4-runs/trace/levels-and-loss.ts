import {
  levelsOf,
  stepsOf,
  withSums,
  type KnownLevels,
  type Levels,
  type Steps,
  type Swing,
} from '#core/4-runs/trace/levels.ts';
import { largerOf, sumOf, type Closeness, type LostCurve, type LostTime } from '#core/4-runs/trace/lost-time.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';
import { lostTimeWithStops } from '#core/4-runs/trace/stops.ts';

/**
 * A trace parted into what comes by bytes and what comes by the clock: the levels of the drive, and the time that it
 * lost beside them. Whatever a job does, the drive is taken to be at the level of the bytes it has come to, and to
 * lose in any window of time as much as in the worst window of that length of the trace.
 */
export interface LevelsAndLoss {
  levels: Levels;
  lost: LostTime;
  /** Bytes from which on it swings by the clock about its level; null where it does not. */
  swingFromBytes: number | null;
  /** What windows lose that end before so many bytes, where the rest swings by the clock; null elsewhere. */
  before: { bytes: number; lost: LostTime } | null;
  /** What is lost behind links that hold it back, by their ceilings, ascending; see {@link behindCeiling}. */
  behind: Behind[];
  /** What is lost when nothing quicker than the level counts: no link loses more. Where none was looked at; else null. */
  withoutBursts: LostTime | null;
  /** Most that it moved in a second, or in the whole of a shorter trace, bytes per second. */
  fastestBytesPerSecond: number;
}

/** What is lost behind a link of a ceiling. */
interface Behind {
  ceilingBytesPerSecond: number;
  lost: LostTime;
  /** The most that is lost behind any ceiling from this one up to the next. */
  untilNext: LostTime;
  before: LostTime | null;
}

/** Parts a trace. @param ceilings bytes per second of links behind which it may be asked about, in any order */
export function levelsAndLossOf(
  progress: Progress,
  known: KnownLevels,
  ceilings: readonly number[] = [],
  closeness?: Closeness,
): LevelsAndLoss {
  const steps = stepsOf(progress);
  const levels = levelsOf(steps, known);
  const curve = lossCurve(steps, levels);
  const lost = lostTimeWithStops(curve, closeness);
  const swing = known.swing && known.swing.fromBytes > 0 ? known.swing : null;
  const before = swing && lossBefore(steps, levels, swing);
  return {
    levels,
    lost,
    swingFromBytes: known.swing?.fromBytes ?? null,
    before: swing && before && { bytes: swing.fromBytes, lost: before },
    withoutBursts: ceilings.length === 0 ? lostTimeWithStops(neverEarlier(curve), closeness) : null,
    behind: behindCeilings(steps, levels, swing, usefulCeilings(steps, levels, ceilings)),
    fastestBytesPerSecond: fastestOf(steps),
  };
}

/** What is lost when work that came early counts for nothing. */
function neverEarlier({ seconds, lost }: LostCurve): LostCurve {
  const all = new Float64Array(lost.length);
  for (let moment = 1; moment < lost.length; moment += 1) {
    all[moment] = all[moment - 1]! + Math.max(0, lost[moment]! - lost[moment - 1]!);
  }
  return { seconds, lost: all };
}

/**
 * Seconds lost by each moment of a trace beside its levels. Behind a ceiling no sample moves more than it lets through
 * in its time: what comes by the clock does not wait for a link, and a burst does not pay for the stop beside it.
 */
function lossCurve(
  { took, moved, seconds, bytes }: Steps,
  { toBytes, bytesPerSecond }: Levels,
  ceiling = Infinity,
  every = 1,
): LostCurve {
  const count = took.length;
  const moments = Math.ceil(count / every);
  const curve = { seconds: new Float64Array(moments + 1), lost: new Float64Array(moments + 1) };
  let [level, worked] = [0, 0];
  for (let step = 0; step < count; step += 1) {
    let from = step === 0 ? 0 : bytes[step - 1]!;
    const to = bytes[step]!;
    const through = Math.min(1, (ceiling * took[step]!) / moved[step]!);
    while (moved[step]! > 0 && level < toBytes.length - 1 && to > toBytes[level]!) {
      const until = Math.max(from, toBytes[level]!);
      worked += (through * (until - from)) / Math.min(bytesPerSecond[level]!, ceiling);
      from = until;
      level += 1;
    }
    if (to > from) worked += (through * (to - from)) / Math.min(bytesPerSecond[level]!, ceiling);
    // What is lost between two moments that are kept is taken for one stop.
    const moment = step === count - 1 ? moments : (step + 1) / every;
    if (!Number.isInteger(moment)) continue;
    curve.seconds[moment] = seconds[step]!;
    curve.lost[moment] = seconds[step]! - worked;
  }
  return curve;
}

/**
 * What is lost before a floor that swings: its swings are of the floor, but what goes far below them may come before
 * it as well.
 */
function lossBefore(
  steps: Steps,
  levels: Levels,
  { fromBytes, lowBytesPerSecond }: Swing,
  ceiling = Infinity,
  closeness?: Closeness,
): LostTime | null {
  const { took, moved, seconds, bytes } = steps;
  const until = bytes.findIndex((one) => one > fromBytes);
  if (until < 2) return null;
  const own = lossCurve(withSums(took.slice(0, until), moved.slice(0, until)), levels, ceiling);
  const low = Math.min(lowBytesPerSecond, ceiling);
  const all = { seconds: new Float64Array(took.length + 1), lost: new Float64Array(took.length + 1) };
  all.lost.set(own.lost);
  for (let step = 0; step < took.length; step += 1) {
    all.seconds[step + 1] = seconds[step]!;
    if (step < until) continue;
    const share = moved[step]! / took[step]! / low;
    all.lost[step + 1] = all.lost[step]! + (share < BELOW_SWING ? took[step]! * (1 - share) : 0);
  }
  return lostTimeWithStops(all, closeness);
}

/** Under this share of the low of a swing it is no part of it. */
const BELOW_SWING = 0.7;

export const cappedLevels = ({ toBytes, bytesPerSecond }: Levels, ceiling: number): Levels => ({
  toBytes,
  bytesPerSecond: bytesPerSecond.map((rate) => Math.min(rate, ceiling)),
});

/** There are many ceilings: behind a link, where no burst makes up for a stop within a moment, less is looked at. */
const BEHIND: Closeness = { growth: 1.1, mostMoments: 12_000, mostPoints: 1500 };

function behindCeilings(steps: Steps, levels: Levels, swing: Swing | null, ceilings: readonly number[]): Behind[] {
  const every = Math.max(1, Math.ceil(steps.took.length / BEHIND.mostMoments));
  const curves = ceilings.map((ceiling) => lossCurve(steps, levels, ceiling, every));
  const uncapped = lossCurve(steps, levels, Infinity, every);
  return ceilings.map((ceiling, index) => ({
    ceilingBytesPerSecond: ceiling,
    lost: lostTimeWithStops(curves[index]!, BEHIND),
    untilNext: lostTimeWithStops(mostOf(curves[index]!, curves[index + 1] ?? uncapped), BEHIND),
    before: swing && lossBefore(steps, levels, swing, ceiling, BEHIND),
  }));
}

/**
 * Between two ceilings a sample of a level above both loses no more than behind the higher one, of a level below both no
 * more than behind the lower: the more of the two.
 */
function mostOf(lower: LostCurve, higher: LostCurve): LostCurve {
  const lost = new Float64Array(higher.lost.length);
  for (let moment = 1; moment < lost.length; moment += 1) {
    const [atLower, atHigher] = [
      lower.lost[moment]! - lower.lost[moment - 1]!,
      higher.lost[moment]! - higher.lost[moment - 1]!,
    ];
    lost[moment] = lost[moment - 1]! + Math.max(atLower, atHigher);
  }
  return { seconds: higher.seconds, lost };
}

/** Between ceilings of the list others are put so near that what is lost hardly differs. */
const CEILING_STEP = 1.25;
const NEAR_CEILING = 1.12;

/** Ceilings that hold the trace back, with its levels and some between them; above the quickest sample none does. */
function usefulCeilings({ took, moved }: Steps, { bytesPerSecond }: Levels, ceilings: readonly number[]): number[] {
  if (ceilings.length === 0) return [];
  let quickest = 0;
  for (let step = 0; step < took.length; step += 1) quickest = Math.max(quickest, moved[step]! / took[step]!);
  // Below all levels nothing changes any more but that there is less to lose.
  const slowest = LEAST_CEILING_SHARE * Math.min(...bytesPerSecond);
  const known = [...ceilings, ...bytesPerSecond.slice(0, MOST_LEVELS)];
  const all = new Set(known.filter((one) => one < quickest));
  const isFar = (one: number) => known.every((other) => one / other > NEAR_CEILING || other / one > NEAR_CEILING);
  for (let one = quickest; one > slowest; one /= CEILING_STEP) if (one === quickest || isFar(one)) all.add(one);
  return [...all].sort((a, b) => a - b);
}

const MOST_LEVELS = 8;
const LEAST_CEILING_SHARE = 0.5;

/** What is lost behind a ceiling: exact at those that were looked at, never too little between them. */
export function lossBehindCeiling(
  { behind, levels, lost, before, withoutBursts }: LevelsAndLoss,
  ceiling: number,
): Pick<LevelsAndLoss, 'lost' | 'before'> {
  if (behind.length === 0) return { lost: withoutBursts ?? lost, before: null };
  const next = behind.findIndex((one) => one.ceilingBytesPerSecond >= ceiling * (1 - 1e-12));
  if (next < 0) return { lost: largerOf(lost, behind.at(-1)!.untilNext), before: null };
  const higher = behind[next]!;
  if (higher.ceilingBytesPerSecond <= ceiling * (1 + 1e-12)) {
    return { lost: higher.lost, before: before && higher.before && { bytes: before.bytes, lost: higher.before } };
  }
  const lower = behind[next - 1];
  // Below the lowest nothing but less is lost: no level is slower than the link.
  if (!lower) return { lost: higher.lost, before: null };
  const above = levels.bytesPerSecond.some((rate) => rate > ceiling);
  const below = levels.bytesPerSecond.some((rate) => rate <= ceiling);
  const join = above && below ? sumOf : largerOf;
  return {
    lost: lower.untilNext,
    before:
      before && higher.before && lower.before ? { bytes: before.bytes, lost: join(lower.before, higher.before) } : null,
  };
}

/** The same with what was lost by the clock elsewhere: in no window less than there. */
export function withLostTime(parted: LevelsAndLoss, more: LostTime): LevelsAndLoss {
  const { lost, before, behind, withoutBursts } = parted;
  return {
    ...parted,
    lost: largerOf(lost, more),
    before: before && { ...before, lost: largerOf(before.lost, more) },
    withoutBursts: withoutBursts && largerOf(withoutBursts, more),
    behind: behind.map((one) => ({
      ...one,
      lost: largerOf(one.lost, more),
      untilNext: largerOf(one.untilNext, more),
      before: one.before && largerOf(one.before, more),
    })),
  };
}

/** The same drive so many times as wide, each keeping a share of its rate. */
export function widened(parted: LevelsAndLoss, wide: number, efficiency: number): LevelsAndLoss {
  const time = ({ windowSeconds, lostSeconds }: LostTime): LostTime => ({
    windowSeconds: windowSeconds.map((one) => one / efficiency),
    lostSeconds: lostSeconds.map((one) => one / efficiency),
  });
  const { levels, lost, before, behind, withoutBursts, swingFromBytes, fastestBytesPerSecond } = parted;
  return {
    levels: {
      toBytes: levels.toBytes.map((bytes) => bytes * wide),
      bytesPerSecond: levels.bytesPerSecond.map((rate) => rate * wide * efficiency),
    },
    lost: time(lost),
    swingFromBytes: swingFromBytes === null ? null : swingFromBytes * wide,
    before: before && { bytes: before.bytes * wide, lost: time(before.lost) },
    behind: behind.map((one) => ({
      ceilingBytesPerSecond: one.ceilingBytesPerSecond * wide * efficiency,
      lost: time(one.lost),
      untilNext: time(one.untilNext),
      before: one.before && time(one.before),
    })),
    withoutBursts: withoutBursts && time(withoutBursts),
    fastestBytesPerSecond: fastestBytesPerSecond * wide * efficiency,
  };
}

function fastestOf({ took, moved, seconds, bytes }: Steps): number {
  const count = took.length;
  const total = seconds[count - 1] ?? 0;
  if (total <= 1) return total > 0 ? bytes[count - 1]! / total : 0;
  let [most, from] = [0, 0];
  for (let step = 0; step < count; step += 1) {
    const start = (at: number) => (at === 0 ? 0 : seconds[at - 1]!);
    while (from < step && seconds[step]! - start(from + 1) >= 1 - 1e-9) from += 1;
    const span = seconds[step]! - start(from);
    if (span < 1 - 1e-9) continue;
    const first = moved[from]! * Math.min(1, Math.max(0, (1 - (seconds[step]! - seconds[from]!)) / took[from]!));
    most = Math.max(most, bytes[step]! - bytes[from]! + first);
  }
  return most;
}
