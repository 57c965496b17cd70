import { burstOver } from '#core/3-jobs/demand/demand.ts';
import type { Essence } from '#core/3-jobs/demand/essences/registry.ts';
import { badInput } from '#core/1-ground/problem.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';
import { FRAME_RATES, framesPerSecond, type FrameRate } from '#core/1-ground/units/frame-rate.ts';

/** Bytes of one frame (or sample) of real material and the moment at which it is shown. */
export interface MaterialSample {
  atSeconds: number;
  bytes: number;
}

/** What real material asks of a drive. */
export interface MaterialRates {
  /** Frames of the picture; where there is none, pieces of sound. */
  frames: number;
  isSoundOnly: boolean;
  durationSeconds: number;
  bytes: number;
  bytesPerSecond: number;
  /** Most bytes in any one second, beginning at any frame. */
  peakBytesPerSecond: number;
  /** Where that second begins. */
  peakAtSeconds: number;
  /** Most bytes by which any stretch exceeds the average. */
  burstBytes: number;
  frameRate: FrameRate;
  largestFrameBytes: number;
  smallestFrameBytes: number;
}

/** Frame rates within this share of a usual one are that one: containers round their times. */
const USUAL_TOLERANCE = 0.001;

/** The usual frame rate nearest to a number, else the number to a thousandth. */
export function frameRateNear(perSecond: number): FrameRate {
  const off = (rate: FrameRate) => Math.abs(framesPerSecond(rate) / perSecond - 1);
  const nearest = FRAME_RATES.reduce((best, rate) => (off(rate) < off(best) ? rate : best));
  if (off(nearest) < USUAL_TOLERANCE) return nearest;
  return { numerator: Math.max(1, Math.round(perSecond * 1000)), denominator: 1000 };
}

/**
 * Average, peak over one second and burst of real material.
 * @param samples in any order, of all tracks together
 * @param picture frames of the picture, for the frame rate; null when there is only sound
 * @param durationSeconds of the whole; the last frame lasts to its end
 * @throws Problem `bad-input` when there is nothing in it
 */
export function materialRates(
  samples: readonly MaterialSample[],
  durationSeconds: number,
  picture: readonly MaterialSample[] | null = samples,
): MaterialRates {
  const frames = picture ?? samples;
  const bytes = samples.reduce((sum, sample) => sum + sample.bytes, 0);
  if (samples.length === 0 || bytes === 0 || !(durationSeconds > 0)) {
    throw badInput('material', 'material: there is nothing in it to be read.');
  }
  const sorted = [...samples].sort((a, b) => a.atSeconds - b.atSeconds);
  const origin = Math.min(0, sorted[0]!.atSeconds);
  const bytesPerSecond = bytes / durationSeconds;
  // A second at the very end of something shorter than one is all of it.
  const window = Math.min(1, durationSeconds);
  let [peak, peakAtSeconds, inWindow, from] = [0, 0, 0, 0];
  for (const sample of sorted) {
    inWindow += sample.bytes;
    while (sorted[from]!.atSeconds <= sample.atSeconds - window + 1e-9) {
      inWindow -= sorted[from]!.bytes;
      from += 1;
    }
    if (inWindow > peak) [peak, peakAtSeconds] = [inWindow, sorted[from]!.atSeconds - origin];
  }
  const sizes = frames.map((frame) => frame.bytes);
  return {
    frames: frames.length,
    isSoundOnly: picture === null,
    durationSeconds,
    bytes,
    bytesPerSecond,
    peakBytesPerSecond: Math.max(bytesPerSecond, peak / window),
    peakAtSeconds,
    burstBytes: burstOver(progressOfSamples(sorted, origin), bytesPerSecond),
    frameRate: frameRateNear(framesPerSecondOf(frames, durationSeconds)),
    largestFrameBytes: sizes.reduce((most, size) => Math.max(most, size), 0),
    smallestFrameBytes: sizes.reduce((least, size) => Math.min(least, size), Infinity),
  };
}

/** From frame to frame: the whole may last longer than its picture. */
function framesPerSecondOf(frames: readonly MaterialSample[], durationSeconds: number): number {
  let [first, last] = [Infinity, -Infinity];
  for (const { atSeconds } of frames) {
    first = Math.min(first, atSeconds);
    last = Math.max(last, atSeconds);
  }
  return last > first ? (frames.length - 1) / (last - first) : frames.length / durationSeconds;
}

/** Bytes asked for by a moment: each sample is needed at once, when it is shown. */
function progressOfSamples(sorted: readonly MaterialSample[], origin: number): Progress {
  const progress: Progress = { seconds: [0], bytes: [0] };
  let sum = 0;
  for (const { atSeconds, bytes } of sorted) {
    progress.seconds.push(atSeconds - origin);
    progress.bytes.push(sum);
    sum += bytes;
    progress.seconds.push(atSeconds - origin);
    progress.bytes.push(sum);
  }
  return progress;
}

/** The format that real material is of. */
export function essenceOfMaterial(label: string, rates: MaterialRates, sequence: boolean): Essence {
  return {
    kind: 'measured',
    label: label.slice(0, 120),
    bytesPerSecond: rates.bytesPerSecond,
    peakBytesPerSecond: rates.peakBytesPerSecond,
    burstBytes: rates.burstBytes,
    frameRate: rates.isSoundOnly ? undefined : rates.frameRate,
    sequence,
  };
}
