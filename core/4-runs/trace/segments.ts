import { median, selectMedian } from '#core/1-ground/numbers/statistics.ts';
/**
 * Levels of a noisy series by penalised change-point search: PELT on block means of the log rate
 * (Killick, Fearnhead & Eckley, *Optimal detection of changepoints with a linear computational
 * cost*, JASA 2012). All rates here are natural logarithms.
 */

/** Robust noise of a trace. */
export interface Noise {
  /** Noise from one sample to the next. */
  stepSigma: number;
  /** Noise of a level with what neighbouring samples share taken into account. */
  sigma: number;
  /** Factor by which correlation makes a mean less certain, (1 + ρ)/(1 − ρ). */
  inflation: number;
}

const MAD_TO_SIGMA = 1.4826;
const LEAST_SIGMA = 0.005;

/** Median of numbers that may be put in order; 0 when there are none. */
const medianOf = (values: Float64Array): number => (values.length === 0 ? 0 : selectMedian(values));

/** Values enough for a percentile to be known to a fraction of the noise; more only take time to sort. */
const MOST_SORTED = 4096;

/** Values of a range in ascending order; of very many, every so-many-th. */
export function sortedOf(values: Float64Array, from = 0, to = values.length): Float64Array {
  const stride = Math.max(1, Math.ceil((to - from) / MOST_SORTED));
  if (stride === 1) return values.slice(from, to).sort();
  const taken = new Float64Array(Math.ceil((to - from) / stride));
  for (let index = 0; index < taken.length; index += 1) taken[index] = values[from + index * stride]!;
  return taken.sort();
}

/** Median absolute difference of values `lag` apart, as a standard deviation of one value. */
function lagNoise(logRates: Float64Array, from: number, to: number, lag: number): number {
  const stride = Math.max(1, Math.ceil((to - from - lag) / MOST_SORTED));
  const differences = new Float64Array(Math.max(0, Math.ceil((to - from - lag) / stride)));
  for (let count = 0; count < differences.length; count += 1) {
    const index = from + lag + count * stride;
    differences[count] = Math.abs(logRates[index]! - logRates[index - lag]!);
  }
  return (MAD_TO_SIGMA / Math.SQRT2) * medianOf(differences);
}

/** Windows keep a sawtooth, whose few large steps are no noise, from inflating the figure. */
const MOST_WINDOWS = 12;
const LEAST_WINDOW = 40;

export function noiseOf(logRates: Float64Array): Noise {
  const windows = Math.max(1, Math.min(MOST_WINDOWS, Math.floor(logRates.length / LEAST_WINDOW)));
  const size = Math.floor(logRates.length / windows);
  const single: number[] = [];
  const ratios: number[] = [];
  for (let window = 0; window < windows; window += 1) {
    const [from, to] = [window * size, window === windows - 1 ? logRates.length : (window + 1) * size];
    const near = lagNoise(logRates, from, to, 1);
    single.push(near);
    if (near > 0) ratios.push(lagNoise(logRates, from, to, 5) / near);
  }
  const stepSigma = Math.max(LEAST_SIGMA, median(single));
  ratios.sort((a, b) => a - b);
  const quartile = ratios[Math.floor(ratios.length / 4)] ?? 1;
  const correlation = Math.min(0.65, Math.max(0, 1 - 1 / Math.max(1e-9, quartile) ** 2));
  return {
    stepSigma,
    sigma: stepSigma / Math.sqrt(1 - correlation),
    inflation: (1 + correlation) / (1 - correlation),
  };
}

/** Running median of five; samples far from it take its value. Only this series is segmented. */
export function withoutSpikes(logRates: Float64Array, stepSigma: number): Float64Array {
  const clean = Float64Array.from(logRates);
  const limit = Math.max(4 * stepSigma, 0.1);
  const last = logRates.length - 1;
  for (let index = 0; index <= last; index += 1) {
    const middle = medianOfFive(
      logRates[Math.max(0, index - 2)]!,
      logRates[Math.max(0, index - 1)]!,
      logRates[index]!,
      logRates[Math.min(last, index + 1)]!,
      logRates[Math.min(last, index + 2)]!,
    );
    if (Math.abs(logRates[index]! - middle) > limit) clean[index] = middle;
  }
  return clean;
}

/** Median of five numbers by their order alone, without sorting: it is asked for at every sample. */
function medianOfFive(a: number, b: number, c: number, d: number, e: number): number {
  const lowPair = Math.max(Math.min(a, b), Math.min(c, d));
  const highPair = Math.min(Math.max(a, b), Math.max(c, d));
  return Math.max(Math.min(lowPair, highPair), Math.min(Math.max(lowPair, highPair), e));
}

/** Boundaries of segments as sample numbers: 0, …, length. */
export type Boundaries = number[];

const MOST_BLOCKS = 400;
const LEAST_SEGMENT_SAMPLES = 4;
const LEAST_SEGMENT_SECONDS = 1;
/** Neighbours closer than this (6 %) are one level. */
const CLOSEST_LEVELS = 0.06;

export interface SampledRates {
  /** End of each sample, seconds and bytes; its start is the end of the one before. */
  seconds: Float64Array;
  bytes: Float64Array;
  /** Natural logarithm of the sample's rate, spikes removed. */
  logRates: Float64Array;
}

/** Sums of weight, value and square up to each index, for costs of any range at once. */
class Sums {
  readonly weight: Float64Array;
  readonly value: Float64Array;
  readonly square: Float64Array;
  constructor(values: ArrayLike<number>, weights: ArrayLike<number> | null) {
    const length = values.length;
    this.weight = new Float64Array(length + 1);
    this.value = new Float64Array(length + 1);
    this.square = new Float64Array(length + 1);
    for (let index = 0; index < length; index += 1) {
      const weight = weights === null ? 1 : weights[index]!;
      this.weight[index + 1] = this.weight[index]! + weight;
      this.value[index + 1] = this.value[index]! + weight * values[index]!;
      this.square[index + 1] = this.square[index]! + weight * values[index]! ** 2;
    }
  }
  mean(from: number, to: number): number {
    return (this.value[to]! - this.value[from]!) / (this.weight[to]! - this.weight[from]!);
  }
  /** Squared error around the mean of a range. */
  error(from: number, to: number): number {
    const weight = this.weight[to]! - this.weight[from]!;
    if (weight <= 0) return 0;
    const value = this.value[to]! - this.value[from]!;
    return Math.max(0, this.square[to]! - this.square[from]! - (value * value) / weight);
  }
}

/** Ends of blocks as sample numbers: one closes at 1/400 of the seconds or of the bytes. */
function blockEnds({ seconds, bytes }: SampledRates): number[] {
  const count = seconds.length;
  const [longest, most] = [seconds[count - 1]! / MOST_BLOCKS, bytes[count - 1]! / MOST_BLOCKS];
  const ends: number[] = [];
  let [fromSeconds, fromBytes] = [0, 0];
  for (let index = 0; index < count; index += 1) {
    const full = seconds[index]! - fromSeconds >= longest || bytes[index]! - fromBytes >= most;
    if (!full && index < count - 1) continue;
    ends.push(index + 1);
    [fromSeconds, fromBytes] = [seconds[index]!, bytes[index]!];
  }
  return ends;
}

/** Change points of a trace: levels apart by more than its noise, refined to single samples. */
export function segmentsOf(samples: SampledRates, noise: Noise): Boundaries {
  const count = samples.logRates.length;
  if (count < 2 * LEAST_SEGMENT_SAMPLES) return [0, count];
  const raw = new Sums(samples.logRates, null);
  const boundaries = refine(pelt(samples, raw, noise), raw);
  return mergeClose(boundaries, raw);
}

function pelt(samples: SampledRates, raw: Sums, { sigma, inflation }: Noise): Boundaries {
  const { seconds } = samples;
  const ends = blockEnds(samples);
  const blocks = ends.length;
  const means = new Float64Array(blocks);
  const weights = new Float64Array(blocks);
  ends.forEach((end, block) => {
    const from = block === 0 ? 0 : ends[block - 1]!;
    means[block] = raw.mean(from, end);
    weights[block] = end - from;
  });
  const sums = new Sums(means, weights);
  const scale = sigma * sigma * inflation;
  const penalty = 3 * Math.log(Math.max(20, blocks));
  const startSample = (block: number) => (block === 0 ? 0 : ends[block - 1]!);
  const startSecond = (block: number) => (block === 0 ? 0 : seconds[startSample(block) - 1]!);
  const longEnough = (from: number, to: number) =>
    startSample(to) - startSample(from) >= LEAST_SEGMENT_SAMPLES &&
    startSecond(to) - startSecond(from) >= LEAST_SEGMENT_SECONDS - 1e-9;

  const best = new Float64Array(blocks + 1).fill(Infinity);
  best[0] = -penalty;
  const previous = new Int32Array(blocks + 1);
  let candidates = [0];
  for (let to = 1; to <= blocks; to += 1) {
    let [least, from] = [Infinity, 0];
    const costs: number[] = [];
    for (const candidate of candidates) {
      const cost = best[candidate]! + sums.error(candidate, to) / scale;
      costs.push(cost);
      if (longEnough(candidate, to) && cost + penalty < least) [least, from] = [cost + penalty, candidate];
    }
    best[to] = least;
    previous[to] = from;
    // A start that cannot win any more even without a further penalty is dropped for good.
    candidates = candidates.filter((candidate, index) => costs[index]! <= least || !longEnough(candidate, to));
    if (least < Infinity) candidates.push(to);
  }
  const boundaries: number[] = [];
  for (let block = blocks; block > 0; block = previous[block]!) boundaries.unshift(startSample(block));
  return [0, ...boundaries];
}

/** Moves each boundary to the sample that parts its neighbours best, within half of either. */
function refine(boundaries: Boundaries, raw: Sums): Boundaries {
  const refined = [...boundaries];
  for (let index = 1; index < refined.length - 1; index += 1) {
    const [before, at, after] = [refined[index - 1]!, refined[index]!, refined[index + 1]!];
    const low = Math.max(before + 1, at - Math.ceil((at - before) / 2));
    const high = Math.min(after - 1, at + Math.ceil((after - at) / 2));
    let [least, best] = [Infinity, at];
    for (let sample = low; sample <= high; sample += 1) {
      const error = raw.error(before, sample) + raw.error(sample, after);
      if (error < least) [least, best] = [error, sample];
    }
    refined[index] = best;
  }
  return refined;
}

function mergeClose(boundaries: Boundaries, raw: Sums): Boundaries {
  const merged = [...boundaries];
  for (;;) {
    let [closest, at] = [CLOSEST_LEVELS, -1];
    for (let index = 1; index < merged.length - 1; index += 1) {
      const gap = Math.abs(raw.mean(merged[index - 1]!, merged[index]!) - raw.mean(merged[index]!, merged[index + 1]!));
      if (gap < closest) [closest, at] = [gap, index];
    }
    if (at < 0) return merged;
    merged.splice(at, 1);
  }
}
