import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { LatencyColumns } from '#core/4-runs/run/run-document.ts';

/**
 * Logarithmic latency histogram: eight buckets to the octave from 1 µs, so that a percentile is
 * known to 9 %. Percentiles cannot be had from samples ten times a second; these counts keep
 * every request.
 */
export const FIRST_BUCKET_SECONDS = 1e-6;
export const BUCKETS_PER_OCTAVE = 8;
/** Up to 2^27 µs = 134 s; longer requests count in the last bucket. */
export const BUCKET_COUNT = 27 * BUCKETS_PER_OCTAVE;

/** Number of the bucket that a latency falls into. */
export function bucketOf(seconds: number): number {
  if (seconds <= FIRST_BUCKET_SECONDS) return 0;
  const bucket = Math.floor(Math.log2(seconds / FIRST_BUCKET_SECONDS) * BUCKETS_PER_OCTAVE);
  return Math.min(BUCKET_COUNT - 1, bucket);
}

/** Upper edge of a bucket in seconds: the safe side of a percentile. */
export function bucketUpperSeconds(bucket: number): number {
  return FIRST_BUCKET_SECONDS * 2 ** ((bucket + 1) / BUCKETS_PER_OCTAVE);
}

/** The rows of a histogram series that `keep` accepts, summed into one array of counts. */
export function sumHistogram(latency: LatencyColumns, keep: (direction: Direction, pass: number) => boolean): number[] {
  const counts = new Array<number>(BUCKET_COUNT).fill(0);
  latency.atSeconds.forEach((_, row) => {
    if (!keep(latency.direction[row]!, latency.pass[row]!)) return;
    latency.buckets[row]!.forEach((bucket, index) => {
      if (bucket < BUCKET_COUNT) counts[bucket]! += latency.counts[row]![index]!;
    });
  });
  return counts;
}

/**
 * Latency below which a share of the requests stayed, as the upper edge of its bucket, but no more than the longest
 * of them, seconds. Null when the histogram is empty.
 */
export function percentileSeconds(
  counts: readonly number[],
  share: number,
  longestSeconds: number | null = null,
): number | null {
  const total = counts.reduce((sum, count) => sum + count, 0);
  if (total === 0) return null;
  const wanted = Math.max(1, Math.ceil(share * total));
  let bucket = 0;
  let seen = counts[0]!;
  while (seen < wanted && bucket + 1 < counts.length) {
    bucket += 1;
    seen += counts[bucket]!;
  }
  return Math.min(bucketUpperSeconds(bucket), longestSeconds ?? Infinity);
}
