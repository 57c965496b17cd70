import { SMALLEST_REQUEST_BYTES } from '#core/3-jobs/demand/loads/load-item.ts';
import type { RequestRung } from '#core/4-runs/supply/request-profile.ts';

/** What is known of a drive for requests of any size. Rates in bytes per second. */
export interface RequestSupply {
  /** Of reading in no order; empty where no ladder was measured. */
  rungs: readonly RequestRung[];
  /** Of reading one after the other; null where it was not measured. */
  sequentialBytesPerSecond: number | null;
  /** Least ceiling of the links between; null when none is known. */
  ceilingBytesPerSecond: number | null;
  /** What it is known to write for long; null where that was not measured. */
  writeBytesPerSecond?: number | null;
  /** Opening a file or looking one up, seconds; null where it was not measured. */
  operationSeconds: number | null;
}

/** Nothing between program and data. */
export const FROM_MEMORY: RequestSupply = {
  rungs: [],
  sequentialBytesPerSecond: Infinity,
  ceilingBytesPerSecond: null,
  operationSeconds: 0,
  writeBytesPerSecond: Infinity,
};

/**
 * Seconds of one round of requests (as many as go at once) by block size at one depth: straight
 * lines between the rungs. A request takes a time of its own plus its bytes, so between two rungs
 * the line is right and where the medium begins to bind it errs on the slow side. Below the
 * smallest rung requests take as long as there; above the largest the line goes on.
 */
function roundSeconds(rungs: readonly RequestRung[], blockBytes: number): number {
  const seconds = ({ blockBytes: size, depth, bytesPerSecond }: RequestRung) =>
    (depth * size) / Math.max(1, bytesPerSecond);
  const known = slowestOfEach(rungs);
  const quickest = Math.max(...known.map(({ bytesPerSecond }) => bytesPerSecond), 1);
  const [first, last] = [known[0]!, known.at(-1)!];
  if (blockBytes <= first.blockBytes) return seconds(first);
  if (known.length === 1) return (seconds(first) * blockBytes) / first.blockBytes;
  const above =
    blockBytes >= last.blockBytes ? known.length - 1 : known.findIndex((one) => one.blockBytes >= blockBytes);
  const [low, high] = [known[above - 1]!, known[above]!];
  const share = (blockBytes - low.blockBytes) / (high.blockBytes - low.blockBytes);
  const along = seconds(low) + share * (seconds(high) - seconds(low));
  // A rung that happened to be quicker than a smaller one promises nothing beyond it, nor does any rate not seen.
  return share > 1 ? Math.max(along, seconds(high), (first.depth * blockBytes) / quickest) : along;
}

/** Of several rungs of one size, as more than one run leaves, the slowest; smallest size first. */
function slowestOfEach(rungs: readonly RequestRung[]): RequestRung[] {
  const slowest = new Map<number, RequestRung>();
  for (const rung of rungs) {
    const known = slowest.get(rung.blockBytes);
    if (!known || rung.bytesPerSecond < known.bytesPerSecond) slowest.set(rung.blockBytes, rung);
  }
  return [...slowest.values()].sort((a, b) => a.blockBytes - b.blockBytes);
}

export interface RequestRate {
  bytesPerSecond: number;
  /** Time of one request in the middle, seconds. */
  requestSeconds: number;
  /**
   * Whether a ladder measured it; else the sequential rate stands for it, which is the most it can be, or the largest
   * requests that were measured, beyond them.
   */
  isMeasured: boolean;
  /**
   * Whether the drive may well do more: requests smaller than any that were measured count as one of those, and fewer at
   * a time as a share of the fewest.
   */
  mayBeMore: boolean;
}

/** Rate of requests of a size, so many at a time; null when nothing is known of reading. */
export function requestRate(supply: RequestSupply, blockBytes: number, parallel: number): RequestRate | null {
  const ceiling = supply.ceilingBytesPerSecond ?? Infinity;
  const depths = [...new Set(supply.rungs.map((rung) => rung.depth))].sort((a, b) => a - b);
  if (depths.length === 0) {
    if (supply.sequentialBytesPerSecond === null) return null;
    const bytesPerSecond = Math.min(supply.sequentialBytesPerSecond, ceiling);
    const requestSeconds = (blockBytes * parallel) / bytesPerSecond;
    return { bytesPerSecond, requestSeconds, isMeasured: false, mayBeMore: false };
  }
  const at = (depth: number): number =>
    (depth * blockBytes) /
    roundSeconds(
      supply.rungs.filter((rung) => rung.depth === depth),
      blockBytes,
    );
  const upper = depths.findIndex((depth) => depth >= parallel);
  const used = upper < 0 ? depths.slice(-1) : depths.slice(Math.max(0, upper - 1), upper + 1);
  const smallest = Math.max(
    ...used.map((depth) =>
      Math.min(...supply.rungs.filter((rung) => rung.depth === depth).map((rung) => rung.blockBytes)),
    ),
  );
  const mayBeMore = parallel < depths[0]! || Math.max(blockBytes, SMALLEST_REQUEST_BYTES) < smallest;
  let rate: number;
  // More at once than was measured is no faster than that; fewer share what the fewest measured did.
  if (upper < 0) rate = at(depths.at(-1)!);
  else if (upper === 0) rate = (at(depths[0]!) * Math.min(parallel, depths[0]!)) / depths[0]!;
  else {
    const [low, high] = [depths[upper - 1]!, depths[upper]!];
    // Rates grow less the more go at once: the straight line between two depths lies below that.
    const share = (parallel - low) / (high - low);
    rate = at(low) + share * (at(high) - at(low));
  }
  const bytesPerSecond = Math.min(rate, ceiling);
  const isMeasured = blockBytes <= Math.max(...supply.rungs.map((rung) => rung.blockBytes));
  return { bytesPerSecond, requestSeconds: (blockBytes * parallel) / bytesPerSecond, isMeasured, mayBeMore };
}

/** Standard normal quantiles of what a histogram tells: half, and 99 of 100. */
const [MEDIAN_QUANTILE, P99_QUANTILE] = [0, 2.3263];

/**
 * Share of requests of about a size that take longer than a time, from the middle and the 99th
 * percentile of the nearest rung as a logarithmic normal distribution, and none beyond the longest
 * that was seen. Null where no latencies were measured.
 */
export function shareSlowerThan(
  { rungs }: RequestSupply,
  blockBytes: number,
  parallel: number,
  seconds: number,
): number | null {
  const rung = nearestRung(rungs, blockBytes, parallel);
  if (!rung || rung.latencyP50Seconds === null || rung.latencyP99Seconds === null) return null;
  if (seconds >= rung.latencyMaxSeconds) return 0;
  const [p50, p99] = [rung.latencyP50Seconds, Math.max(rung.latencyP99Seconds, rung.latencyP50Seconds * 1.001)];
  if (seconds <= 0 || p50 <= 0) return 1;
  const sigma = (Math.log(p99) - Math.log(p50)) / (P99_QUANTILE - MEDIAN_QUANTILE);
  return upperTail((Math.log(seconds) - Math.log(p50)) / sigma);
}

/** The longest single request that was seen of about a size, seconds; null where none was measured. */
export function longestRequest({ rungs }: RequestSupply, blockBytes: number, parallel: number): number | null {
  return nearestRung(rungs, blockBytes, parallel)?.latencyMaxSeconds ?? null;
}

function nearestRung(rungs: readonly RequestRung[], blockBytes: number, parallel: number): RequestRung | null {
  const distance = (rung: RequestRung) =>
    Math.abs(Math.log2(rung.blockBytes / blockBytes)) + 0.5 * Math.abs(Math.log2(rung.depth / parallel));
  return rungs.reduce<RequestRung | null>((best, one) => (!best || distance(one) < distance(best) ? one : best), null);
}

/** Upper tail of the standard normal distribution (Abramowitz & Stegun 26.2.17, off by less than 1e-7). */
function upperTail(z: number): number {
  if (z < 0) return 1 - upperTail(-z);
  const t = 1 / (1 + 0.231_641_9 * z);
  const series =
    t * (0.319_381_53 + t * (-0.356_563_782 + t * (1.781_477_937 + t * (-1.821_255_978 + t * 1.330_274_429))));
  return (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) * series;
}
