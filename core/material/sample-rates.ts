import { burstOver } from '#core/demand/demand.ts';
import type { Essence } from '#core/demand/essences/registry.ts';
import { badInput } from '#core/problem.ts';
import type { Progress } from '#core/trace/progress.ts';
import { FRAME_RATES, framesPerSecond, type FrameRate } from '#core/units/frame-rate.ts';

/** Bytes of one frame (or sample) of real material and the moment at which it is shown. */
export interface MaterialSample {
  atSeconds: number;
  bytes: number;
}

/** What real material asks of a drive. */
export interface MaterialRates {
  frames: number;
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

/** The usual frame rate next to a number, else the number to a thousandth. */
export function frameRateNear(perSecond: number): FrameRate {
  const usual = FRAME_RATES.find((rate) => Math.abs(framesPerSecond(rate) / perSecond - 1) < USUAL_TOLERANCE);
  return usual ?? { numerator: Math.max(1, Math.round(perSecond * 1000)), denominator: 1000 };
}

/**
 * Average, peak over one second and burst of real material.
 * @param samples in any order, of all tracks together
 * @param frames of the picture, for the frame rate; all samples when there is no picture
 * @param durationSeconds of the whole; the last frame lasts to its end
 * @throws Problem `bad-input` when there is nothing in it
 */
export function materialRates(
  samples: readonly MaterialSample[],
  durationSeconds: number,
  frames: readonly MaterialSample[] = samples,
): MaterialRates {
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
    durationSeconds,
    bytes,
    bytesPerSecond,
    peakBytesPerSecond: Math.max(bytesPerSecond, peak / window),
    peakAtSeconds,
    burstBytes: burstOver(progressOfSamples(sorted, origin), bytesPerSecond),
    frameRate: frameRateNear(frames.length / durationSeconds),
    largestFrameBytes: sizes.reduce((most, size) => Math.max(most, size), 0),
    smallestFrameBytes: sizes.reduce((least, size) => Math.min(least, size), Infinity),
  };
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
    frameRate: rates.frameRate,
    sequence,
  };
}
