import type { Observation } from '#core/3-jobs/demand/observed/observation.ts';
import { median } from '#core/1-ground/numbers/statistics.ts';

/** One time that was seen, beside what the fit says it should have been. */
export interface FittedTime {
  label: string;
  bytesPerSecond: number;
  seconds: number;
  isWarm: boolean;
  residualSeconds: number;
  /** Far from what the others agree on; it has no part in the fit. */
  isOutlier: boolean;
}

/** Work as a part that no drive changes and a part that goes with the drive's rate: T = a + V ÷ r. */
export interface TimesFit {
  /** a, seconds. */
  otherSeconds: number;
  /** V, bytes. */
  bytes: number;
  /** Standard errors of both; null where there are not more times than parts. */
  otherError: number | null;
  bytesError: number | null;
  /** Root of the mean squared residual of what has part in it, seconds. */
  spreadSeconds: number;
  times: FittedTime[];
}

/** An outlier is further from the fit than this many robust deviations, and than this share of the time. */
const OUTLIER_DEVIATIONS = 5;
const OUTLIER_SHARE = 0.03;

interface Point {
  x: number;
  y: number;
}

/**
 * Least squares of T = a + V ÷ r with a and V not below zero, by the four cases there are: both
 * free, either at zero, both at zero (Lawson & Hanson 1974, for two parts). What was warm has no
 * part in it. Null when there are fewer than two drives of different rates.
 */
export function fitTimes(observations: readonly Observation[]): TimesFit | null {
  const times = observations.flatMap(({ label, bytesPerSecond, seconds, isWarm }) =>
    seconds.map((one) => ({ label, bytesPerSecond, seconds: one, isWarm })),
  );
  const cold = times.filter((one) => !one.isWarm);
  if (!areApart(cold)) return null;
  const point = ({ bytesPerSecond, seconds }: (typeof times)[number]): Point => ({ x: 1 / bytesPerSecond, y: seconds });
  const rough = robustLine(cold.map(point));
  const off = cold.map((one) => Math.abs(one.seconds - rough.a - rough.v / one.bytesPerSecond));
  const scale = 1.4826 * median(off);
  const isFar = (index: number): boolean =>
    off[index]! > OUTLIER_DEVIATIONS * scale && off[index]! > OUTLIER_SHARE * cold[index]!.seconds;
  let counted = cold.filter((_, index) => !isFar(index));
  if (!areApart(counted)) counted = cold;
  const line = leastSquares(counted.map(point));
  return {
    otherSeconds: line.a,
    bytes: line.v,
    ...errorsOf(counted.map(point), line),
    spreadSeconds: Math.sqrt(mean(counted.map((one) => (one.seconds - line.a - line.v / one.bytesPerSecond) ** 2))),
    times: times.map((one) => ({
      ...one,
      residualSeconds: one.seconds - line.a - line.v / one.bytesPerSecond,
      isOutlier: !one.isWarm && !counted.includes(one),
    })),
  };
}

const mean = (values: readonly number[]): number => values.reduce((sum, one) => sum + one, 0) / values.length;

const areApart = (points: readonly { bytesPerSecond: number }[]): boolean =>
  new Set(points.map((one) => one.bytesPerSecond)).size >= 2;

/** A line that a few far points do not turn: the median of the slopes between all pairs (Theil 1950, Sen 1968). */
function robustLine(points: readonly Point[]): { a: number; v: number } {
  const slopes = points.flatMap((one, index) =>
    points.slice(index + 1).flatMap((other) => (other.x === one.x ? [] : [(other.y - one.y) / (other.x - one.x)])),
  );
  const v = Math.max(0, median(slopes));
  return { a: Math.max(0, median(points.map(({ x, y }) => y - v * x))), v };
}

function leastSquares(points: readonly Point[]): { a: number; v: number } {
  const [mx, my] = [mean(points.map(({ x }) => x)), mean(points.map(({ y }) => y))];
  const xx = mean(points.map(({ x }) => (x - mx) ** 2));
  const v = mean(points.map(({ x, y }) => (x - mx) * (y - my))) / xx;
  const a = my - v * mx;
  if (v < 0) return { a: Math.max(0, my), v: 0 };
  if (a < 0)
    return { a: 0, v: Math.max(0, mean(points.map(({ x, y }) => x * y)) / mean(points.map(({ x }) => x * x))) };
  return { a, v };
}

/** Standard errors of ordinary least squares. */
function errorsOf(
  points: readonly Point[],
  { a, v }: { a: number; v: number },
): Pick<TimesFit, 'otherError' | 'bytesError'> {
  const free = points.length - 2;
  if (free < 1) return { otherError: null, bytesError: null };
  const mx = mean(points.map(({ x }) => x));
  const xx = points.reduce((sum, { x }) => sum + (x - mx) ** 2, 0);
  const variance = points.reduce((sum, { x, y }) => sum + (y - a - v * x) ** 2, 0) / free;
  return {
    otherError: Math.sqrt(variance * (1 / points.length + mx ** 2 / xx)),
    bytesError: Math.sqrt(variance / xx),
  };
}

/** Rate beyond which a drive of any speed saves less than a share of the time: V ÷ r ≤ s ÷ (1 − s) · a. Null when none does. */
export function rateBeyondWhich(otherSeconds: number, bytes: number, share: number): number | null {
  if (bytes === 0) return 0;
  return otherSeconds > 0 ? (bytes * (1 - share)) / (share * otherSeconds) : null;
}
