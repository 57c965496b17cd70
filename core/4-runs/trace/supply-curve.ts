import type { Progress } from '#core/1-ground/curves/progress.ts';

/**
 * What a drive supplied in one transfer: its trace, thinned to within a few hundredths of a second, and the stretch
 * along which it may be taken to go on.
 */
export interface SupplyCurve extends Progress {
  /** Stretch that may be repeated beyond the last byte, and how much slower each time. */
  continuation: Continuation | null;
}

export interface Continuation {
  /** Numbers of the points between which the stretch lies. */
  fromCorner: number;
  toCorner: number;
  /** Seconds of each repetition ÷ seconds of the stretch. */
  slower: number[];
}

/** A curve that is not continued. */
export const curveOf = ({ seconds, bytes }: Progress): SupplyCurve => ({
  seconds: [...seconds],
  bytes: [...bytes],
  continuation: null,
});

/** Number of the first point at or beyond a number of bytes; the last point when there is none. */
export function pointAtBytes({ bytes }: Progress, value: number): number {
  const found = bytes.findIndex((one) => one >= value);
  return found < 0 ? bytes.length - 1 : found;
}

export const curveBytes = (curve: Progress): number => curve.bytes.at(-1) ?? 0;

/** The curve that moves most; there has to be one. */
export function longestCurve(curves: readonly SupplyCurve[]): SupplyCurve {
  return curves.reduce((long, one) => (curveBytes(one) > curveBytes(long) ? one : long));
}

/**
 * Seconds that a drive takes at the end of so many bytes until they are on it: what its trace stood still after its last
 * byte, as a share where fewer bytes than the trace's were written.
 */
export function flushSecondsFor(curve: SupplyCurve, bytes: number): number {
  const all = curveBytes(curve);
  if (curve.continuation !== null || all <= 0) return 0;
  const whole = curve.seconds.at(-1)! - curve.seconds[pointAtBytes(curve, all)]!;
  return whole * Math.min(1, bytes / all);
}

const laidOut = new WeakMap<SupplyCurve, Progress>();

/** A curve with its continuation laid out behind it. */
export function continued(curve: SupplyCurve): Progress {
  const known = laidOut.get(curve);
  if (known) return known;
  const { fromCorner, toCorner, slower } = curve.continuation ?? { fromCorner: 0, toCorner: 0, slower: [] };
  const all: Progress = { seconds: [...curve.seconds], bytes: [...curve.bytes] };
  for (const factor of slower) {
    const [endSeconds, endBytes] = [all.seconds.at(-1)!, all.bytes.at(-1)!];
    for (let point = fromCorner + 1; point <= toCorner; point += 1) {
      all.seconds.push(endSeconds + factor * (curve.seconds[point]! - curve.seconds[fromCorner]!));
      all.bytes.push(endBytes + curve.bytes[point]! - curve.bytes[fromCorner]!);
    }
  }
  laidOut.set(curve, all);
  return all;
}

/** A curve as documents of earlier versions have it: beside the points of the trace others, told apart by their kind. */
export interface EarlierCurve extends SupplyCurve {
  kinds?: number[] | null | undefined;
}

/** The points of the trace among those of a curve of an earlier version. */
export function withoutKinds({ kinds, seconds, bytes, continuation }: EarlierCurve): SupplyCurve {
  if (!kinds) return { seconds, bytes, continuation };
  const points = kinds.flatMap((kind, corner) => (kind === 0 ? [corner] : []));
  const numberOf = (corner: number) =>
    Math.max(
      0,
      points.findIndex((point) => point >= corner),
    );
  return {
    seconds: points.map((corner) => seconds[corner]!),
    bytes: points.map((corner) => bytes[corner]!),
    continuation: continuation && {
      ...continuation,
      fromCorner: numberOf(continuation.fromCorner),
      toCorner: numberOf(continuation.toCorner),
    },
  };
}
