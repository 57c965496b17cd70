import { sortedOf, type Boundaries, type Noise, type SampledRates } from '#core/4-runs/trace/segments.ts';
import { quantile } from '#core/1-ground/numbers/statistics.ts';

/** One level of a trace, by sample numbers; `logRate` is the natural logarithm of its mean rate. */
export interface Segment {
  from: number;
  to: number;
  fromSeconds: number;
  toSeconds: number;
  fromBytes: number;
  toBytes: number;
  logRate: number;
}

export function segmentList({ seconds, bytes, logRates }: SampledRates, boundaries: Boundaries): Segment[] {
  return boundaries.slice(1).map((to, index) => {
    const from = boundaries[index]!;
    let sum = 0;
    for (let sample = from; sample < to; sample += 1) sum += logRates[sample]!;
    return {
      from,
      to,
      fromSeconds: from === 0 ? 0 : seconds[from - 1]!,
      toSeconds: seconds[to - 1]!,
      fromBytes: from === 0 ? 0 : bytes[from - 1]!,
      toBytes: bytes[to - 1]!,
      logRate: sum / (to - from),
    };
  });
}

/** A rising first segment shorter than this is a ramp and says nothing about a slope. */
const LONGEST_RAMP_SECONDS = 20;
const LEAST_FALL = 0.15;
const CREEP_RISE = 0.03;
const CREEP_FALL = 0.16;
const CREEP_SHARE = 0.4;

/** A curve a + b·x + c·x² of the log rate over the share of the bytes, x from 0 to 1. */
export interface SlopeCurve {
  a: number;
  b: number;
  c: number;
}

/**
 * Whether a trace slopes (spinning media, outer to inner tracks) rather than stepping: a quadratic
 * in bytes explains it as well as the steps do, or the steps only creep downward.
 */
export function slopeOf(samples: SampledRates, segments: readonly Segment[], noise: Noise): SlopeCurve | null {
  const first = segments[0]!;
  const ramp =
    segments.length > 1 && first.toSeconds < LONGEST_RAMP_SECONDS && segments[1]!.logRate > first.logRate ? 1 : 0;
  const kept = segments.slice(ramp);
  if (kept.length === 0) return null;
  const shares = sharesFrom(samples, kept[0]!.from);
  const curve = fitQuadratic(samples, kept[0]!.from, shares);
  const scale = noise.sigma * noise.sigma * noise.inflation;
  const penalty = 3 * Math.log(Math.max(20, Math.min(800, samples.logRates.length)));
  const falls = curve.b < 0 && curve.b + 2 * curve.c < 0;
  const fall = -(curve.b + curve.c);
  if (fall > LEAST_FALL && falls) {
    const stepsCost = errorOfSteps(samples, kept) / scale + 1.5 * penalty * (kept.length - 1);
    if (errorOfCurve(samples, kept[0]!.from, shares, curve) / scale <= stepsCost) return curve;
  }
  return creeps(kept) ? curve : null;
}

function creeps(segments: readonly Segment[]): boolean {
  if (segments.length < 4) return false;
  const bytes = segments.at(-1)!.toBytes - segments[0]!.fromBytes;
  return segments.every((segment, index) => {
    const change = index === 0 ? 0 : segment.logRate - segments[index - 1]!.logRate;
    return change <= CREEP_RISE && change > -CREEP_FALL && segment.toBytes - segment.fromBytes < CREEP_SHARE * bytes;
  });
}

/** Shares of the bytes at the middles of all samples from one on: 0 to 1. Worked out once, as two passes go over them. */
function sharesFrom({ bytes }: SampledRates, from: number): Float64Array {
  const count = bytes.length;
  const start = from === 0 ? 0 : bytes[from - 1]!;
  const whole = Math.max(1e-9, bytes[count - 1]! - start);
  const shares = new Float64Array(count - from);
  let before = start;
  for (let sample = from; sample < count; sample += 1) {
    const after = bytes[sample]!;
    shares[sample - from] = ((before + after) / 2 - start) / whole;
    before = after;
  }
  return shares;
}

/** Least squares by the normal equations of three unknowns. */
function fitQuadratic({ logRates }: SampledRates, from: number, shares: Float64Array): SlopeCurve {
  let [s1, s2, s3, s4, t0, t1, t2] = [0, 0, 0, 0, 0, 0, 0];
  const s0 = shares.length;
  for (let at = 0; at < s0; at += 1) {
    const x = shares[at]!;
    const y = logRates[from + at]!;
    const square = x * x;
    s1 += x;
    s2 += square;
    s3 += square * x;
    s4 += square * square;
    t0 += y;
    t1 += x * y;
    t2 += square * y;
  }
  const determinant = s0 * (s2 * s4 - s3 * s3) - s1 * (s1 * s4 - s2 * s3) + s2 * (s1 * s3 - s2 * s2);
  if (Math.abs(determinant) < 1e-12) return { a: t0 / Math.max(1, s0), b: 0, c: 0 };
  const a = t0 * (s2 * s4 - s3 * s3) - s1 * (t1 * s4 - s3 * t2) + s2 * (t1 * s3 - s2 * t2);
  const b = s0 * (t1 * s4 - s3 * t2) - t0 * (s1 * s4 - s3 * s2) + s2 * (s1 * t2 - t1 * s2);
  const c = s0 * (s2 * t2 - s3 * t1) - s1 * (s1 * t2 - s2 * t1) + t0 * (s1 * s3 - s2 * s2);
  return { a: a / determinant, b: b / determinant, c: c / determinant };
}

function errorOfCurve({ logRates }: SampledRates, from: number, shares: Float64Array, { a, b, c }: SlopeCurve): number {
  let error = 0;
  for (let at = 0; at < shares.length; at += 1) {
    const x = shares[at]!;
    error += (logRates[from + at]! - (a + b * x + c * x * x)) ** 2;
  }
  return error;
}

function errorOfSteps(samples: SampledRates, segments: readonly Segment[]): number {
  let error = 0;
  for (const segment of segments) {
    for (let sample = segment.from; sample < segment.to; sample += 1) {
      error += (samples.logRates[sample]! - segment.logRate) ** 2;
    }
  }
  return error;
}

/** A floor that swings between two rates with a steady period, as flash does while it folds its cache. */
export interface Sawtooth {
  periodSeconds: number;
  lowBytesPerSecond: number;
  highBytesPerSecond: number;
  /** From the first rise to the last: whole periods only. */
  meanBytesPerSecond: number;
  /** Share of the period spent high. */
  highShare: number;
}

const LEAST_SWING = 0.35;
const LEAST_GAP = 0.3;
const HYSTERESIS = 0.15;
const LEAST_RISES = 3;
const MOST_PERIOD_SPREAD = 0.2;
const LEAST_PERIOD_SECONDS = 1.5;

/** @param rates raw rates, bytes per second; looked at from sample `from` on */
export function sawtoothOf(
  { seconds, bytes }: SampledRates,
  rates: Float64Array,
  from: number,
  noise: Noise,
): Sawtooth | null {
  const logs = rates.slice(from);
  for (let index = 0; index < logs.length; index += 1) logs[index] = Math.log(Math.max(1, logs[index]!));
  if (logs.length < 12) return null;
  const sorted = sortedOf(logs);
  const percentile = (share: number) => quantile(sorted, share)!;
  if (percentile(0.95) - percentile(0.25) < Math.max(LEAST_SWING, 3.2 * noise.stepSigma)) return null;

  // Two means in one dimension: the split settles within a few rounds.
  let [low, high] = [percentile(0.1), percentile(0.95)];
  for (let round = 0; round < 20; round += 1) {
    const middle = (low + high) / 2;
    let [belowSum, belowCount, aboveSum] = [0, 0, 0];
    for (let index = 0; index < logs.length; index += 1) {
      const log = logs[index]!;
      if (log < middle) {
        belowSum += log;
        belowCount += 1;
      } else aboveSum += log;
    }
    if (belowCount === 0 || belowCount === logs.length) return null;
    const next = [belowSum / belowCount, aboveSum / (logs.length - belowCount)] as const;
    if (Math.abs(next[0] - low) + Math.abs(next[1] - high) < 1e-6) break;
    [low, high] = next;
  }
  if (high - low < LEAST_GAP) return null;

  const rises: number[] = [];
  let isHigh = logs[0]! > (low + high) / 2;
  let highSamples = 0;
  logs.forEach((log, index) => {
    const middle = (low + high) / 2;
    const band = HYSTERESIS * (high - low);
    if (!isHigh && log > middle + band) {
      isHigh = true;
      rises.push(from + index);
    } else if (isHigh && log < middle - band) isHigh = false;
    if (isHigh && rises.length > 0) highSamples += 1;
  });
  if (rises.length < LEAST_RISES) return null;
  const start = (sample: number) => (sample === 0 ? 0 : seconds[sample - 1]!);
  const periods = rises.slice(1).map((rise, index) => start(rise) - start(rises[index]!));
  const period = mean(periods);
  const spread = Math.sqrt(mean(periods.map((one) => (one - period) ** 2))) / period;
  const [first, last] = [rises[0]!, rises.at(-1)!];
  const covered = start(last) - start(first);
  const tail = seconds.at(-1)! - start(from);
  if (spread > MOST_PERIOD_SPREAD || period < LEAST_PERIOD_SECONDS || covered < tail / 2) return null;
  const startBytes = (sample: number) => (sample === 0 ? 0 : bytes[sample - 1]!);
  const counted = logs.length - (first - from);
  return {
    periodSeconds: period,
    lowBytesPerSecond: Math.exp(low),
    highBytesPerSecond: Math.exp(high),
    meanBytesPerSecond: (startBytes(last) - startBytes(first)) / covered,
    highShare: highSamples / Math.max(1, counted),
  };
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
}
