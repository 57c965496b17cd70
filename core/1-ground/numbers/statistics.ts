/** Median of numbers; NaN when there are none. */
export function median(values: readonly number[]): number {
  if (values.length === 0) return NaN;
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

/**
 * 95 % confidence interval of the median by order statistics (distribution-free; e.g. David &
 * Nagaraja, *Order Statistics*, 2003, §7.1): the narrowest symmetric pair of ordered values that
 * covers at least 95 %. Null under six values, where even the extremes cover less.
 */
export function medianInterval95(values: readonly number[]): [number, number] | null {
  const n = values.length;
  const sorted = [...values].sort((a, b) => a - b);
  let tail = 0.5 ** n; // P(fewer than one value below the median), built up term by term
  let term = tail;
  let inner = -1;
  for (let k = 0; k < n / 2 && tail <= 0.025; k += 1) {
    inner = k;
    term *= (n - k) / (k + 1);
    tail += term;
  }
  return inner < 0 ? null : [sorted[inner]!, sorted[n - 1 - inner]!];
}

/** Standard deviation ÷ mean, with n − 1; 0 for fewer than two values. */
export function coefficientOfVariation(values: readonly number[]): number {
  if (values.length < 2) return 0;
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  const squares = values.reduce((sum, value) => sum + (value - mean) ** 2, 0);
  return mean > 0 ? Math.sqrt(squares / (values.length - 1)) / mean : 0;
}

/** Mean of what is known of a series; null where nothing is. */
export function meanOfKnown(values: readonly (number | null)[]): number | null {
  const known = values.filter((value) => value !== null);
  return known.length === 0 ? null : known.reduce((sum, value) => sum + value, 0) / known.length;
}
