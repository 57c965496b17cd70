import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { progressBytes, progressDuration, type Progress } from '#core/1-ground/curves/progress.ts';

/** What one item asks for over a take: bytes by a moment, straight between its points, and the buffer that it has. */
export interface Asked {
  curve: Progress;
  bufferBytes: number;
  /** By how much a stretch may exceed the curve: so many bytes at most, and so many in each second of it. */
  burst: { bytes: number; bytesPerSecond: number };
}

const NO_BURST: Asked['burst'] = { bytes: 0, bytesPerSecond: 0 };

/** Points of a demand that is no constant rate, beyond which it is thinned. */
const MOST_POINTS = 80;

const kept = new WeakMap<Progress, Asked['curve']>();

/**
 * What a demand asks for. A rate with peaks of its own may exceed it anywhere. A long curve is thinned to within
 * a little of the buffer, which is taken off it.
 */
export function askedOf(demand: Demand): Asked {
  const { curve, bytesPerSecond, peakBytesPerSecond, takeSeconds, bufferBytes, burstBytes } = demand;
  if (curve === null) {
    const above = peakBytesPerSecond - bytesPerSecond;
    return {
      curve: { seconds: [0, takeSeconds], bytes: [0, bytesPerSecond * takeSeconds] },
      bufferBytes,
      burst: burstBytes > 0 ? { bytes: burstBytes, bytesPerSecond: above > 0 ? above : Infinity } : NO_BURST,
    };
  }
  if (curve.seconds.length <= MOST_POINTS) return { curve, bufferBytes, burst: NO_BURST };
  const known = kept.get(curve) ?? thinnedAbove(curve, MOST_POINTS);
  kept.set(curve, known);
  return { curve: known, bufferBytes: bufferBytes - mostApart(curve, known), burst: NO_BURST };
}

/** Points at equal steps of time and of bytes, so that neither stops nor bursts are lost. */
function thinnedAbove(curve: Progress, most: number): Progress {
  const { seconds, bytes } = curve;
  const thin: Progress = { seconds: [seconds[0]!], bytes: [bytes[0]!] };
  const [stepSeconds, stepBytes] = [(2 * progressDuration(curve)) / most, (2 * progressBytes(curve)) / most];
  for (let point = 1; point < seconds.length; point += 1) {
    const isFar =
      seconds[point]! - thin.seconds.at(-1)! >= stepSeconds || bytes[point]! - thin.bytes.at(-1)! >= stepBytes;
    if (!isFar && point < seconds.length - 1) continue;
    thin.seconds.push(seconds[point]!);
    thin.bytes.push(bytes[point]!);
  }
  return thin;
}

/** By how much any stretch of a curve may ask for more than the same stretch of its thinned one. */
function mostApart({ seconds, bytes }: Progress, thin: Progress): number {
  let [above, below, at] = [0, 0, 1];
  for (let point = 0; point < seconds.length; point += 1) {
    while (at < thin.seconds.length - 1 && thin.seconds[at]! < seconds[point]!) at += 1;
    const [from, to] = [thin.seconds[at - 1]!, thin.seconds[at]!];
    const share = to > from ? Math.min(1, (seconds[point]! - from) / (to - from)) : 1;
    const off = bytes[point]! - (thin.bytes[at - 1]! + share * (thin.bytes[at]! - thin.bytes[at - 1]!));
    above = Math.max(above, off);
    below = Math.max(below, -off);
  }
  return above + below;
}

export const askedSeconds = (asked: readonly Asked[]): number =>
  Math.max(...asked.map(({ curve }) => progressDuration(curve)));

export const askedBytes = (asked: readonly Asked[]): number =>
  asked.reduce((sum, { curve }) => sum + progressBytes(curve), 0);

/** All that is asked for by a moment, as one curve. */
export function summed(asked: readonly Asked[]): Progress {
  if (asked.length === 1) return asked[0]!.curve;
  const seconds = [...new Set(asked.flatMap(({ curve }) => curve.seconds))].sort((a, b) => a - b);
  const bytes = seconds.map(() => 0);
  for (const { curve } of asked) {
    let at = 0;
    seconds.forEach((second, index) => {
      while (at < curve.seconds.length - 1 && curve.seconds[at + 1]! <= second) at += 1;
      bytes[index]! += valueAt(curve, at, second);
    });
  }
  return { seconds, bytes };
}

export function valueAt({ seconds, bytes }: Progress, at: number, second: number): number {
  if (at >= seconds.length - 1) return bytes[at]!;
  const span = seconds[at + 1]! - seconds[at]!;
  const share = span > 0 ? Math.max(0, second - seconds[at]!) / span : 0;
  return bytes[at]! + share * (bytes[at + 1]! - bytes[at]!);
}

/** What is asked for up to a moment. */
export function cutAt(asked: readonly Asked[], second: number): Asked[] {
  return asked.map((one) => {
    const { seconds, bytes } = one.curve;
    const beyond = seconds.findIndex((value) => value > second);
    if (beyond < 0) return one;
    const curve = {
      seconds: [...seconds.slice(0, beyond), second],
      bytes: [...bytes.slice(0, beyond), valueAt(one.curve, beyond - 1, second)],
    };
    return { ...one, curve };
  });
}

/** The same asked for so many times as fast: the same bytes in less time. */
export function hastened(asked: readonly Asked[], times: number): Asked[] {
  return asked.map(({ curve, bufferBytes, burst }) => ({
    curve: { seconds: curve.seconds.map((second) => second / times), bytes: curve.bytes },
    bufferBytes,
    burst: { bytes: burst.bytes, bytesPerSecond: burst.bytesPerSecond * times },
  }));
}
