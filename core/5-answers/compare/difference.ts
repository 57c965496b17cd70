import { randomFrom } from '#core/1-ground/random.ts';
import { median } from '#core/1-ground/numbers/statistics.ts';

/** How far apart two sets of rates are, as a share of the second. */
export interface Difference {
  /** (median of the first − median of the second) ÷ median of the second. */
  share: number;
  /** 95 % interval of it. */
  low: number;
  high: number;
  /** Whether the interval leaves no difference out: nothing is shown then. */
  isShown: boolean;
}

/** Fewer rates than this say nothing about their spread. */
const LEAST_VALUES = 3;
const RESAMPLES = 2000;

/**
 * Difference of medians with a 95 % interval by the percentile bootstrap (Efron 1979): both sets are
 * drawn again with replacement. Null where a set has too few rates to have a spread. The same seed
 * gives the same interval.
 */
export function differenceOf(first: readonly number[], second: readonly number[], seed = 1): Difference | null {
  if (first.length < LEAST_VALUES || second.length < LEAST_VALUES) return null;
  const random = randomFrom(seed);
  const drawn = (values: readonly number[]): number =>
    median(values.map(() => values[Math.floor(random() * values.length)]!));
  const shareOf = (a: number, b: number): number => (b > 0 ? a / b - 1 : 0);
  const shares = Array.from({ length: RESAMPLES }, () => shareOf(drawn(first), drawn(second))).sort((a, b) => a - b);
  const low = shares[Math.floor(0.025 * RESAMPLES)]!;
  const high = shares[Math.ceil(0.975 * RESAMPLES) - 1]!;
  return { share: shareOf(median(first), median(second)), low, high, isShown: low > 0 || high < 0 };
}
