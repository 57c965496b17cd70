import type { Essence, FootageItem } from '#core/demand/workload.ts';
import { dataRate, layoutById, soundBytesPerSecond } from '#core/media/data-rate.ts';
import { rasterText } from '#core/media/rasters.ts';
import type { Direction } from '#core/run/run-document.ts';
import { progressBytes, progressDuration, type Progress } from '#core/trace/progress.ts';
import { rateText } from '#core/units/format.ts';
import { framesPerSecond, frameRateText } from '#core/units/frame-rate.ts';

/** What an item asks of a drive, in the units of the verdict. */
export interface Demand {
  itemId: string;
  name: string;
  direction: Direction;
  /** Average of all streams. */
  bytesPerSecond: number;
  /** Highest bytes in any one second. */
  peakBytesPerSecond: number;
  /** Bytes by which any stretch of the demand exceeds its average: what its own peaks take of the buffer. */
  burstBytes: number;
  /** Demand over one take, where it is no constant rate: bytes asked for by a moment. */
  curve: Progress | null;
  /** Frames per second; null where there are none to drop. */
  framesPerSecond: number | null;
  /** Bytes of one frame of one stream; what a program moves at a time. */
  bytesPerFrame: number;
  streams: number;
  /** Whether it is the sum of several items. */
  isSum: boolean;
  takeSeconds: number;
  takes: number;
  gapSeconds: number;
  bufferBytes: number;
  /** The format in words. */
  formatText: string;
}

/** @throws Problem `bad-input` when the item's format is impossible. */
export function demandOf(item: FootageItem): Demand {
  const rate = rateOf(item.essence, item.streams);
  const { unit, amount } = item.buffer;
  return {
    itemId: item.id,
    name: item.name,
    direction: item.action === 'record' ? 'write' : 'read',
    bytesPerSecond: rate.average,
    peakBytesPerSecond: rate.peak,
    burstBytes: rate.burst,
    curve: rate.curve,
    framesPerSecond: rate.framesPerSecond,
    bytesPerFrame: rate.bytesPerFrame,
    streams: item.streams,
    isSum: false,
    takeSeconds: rate.curve ? progressDuration(rate.curve) : item.takes.seconds,
    takes: item.takes.count,
    gapSeconds: item.takes.gapSeconds,
    bufferBytes: unit === 'bytes' ? amount : amount * rate.average,
    formatText: rate.text,
  };
}

interface EssenceRate {
  average: number;
  peak: number;
  burst: number;
  curve: Progress | null;
  framesPerSecond: number | null;
  bytesPerFrame: number;
  text: string;
}

/** Programs that have no frames move about a tenth of a second at a time. */
const CHUNK_SECONDS = 0.1;

/** @throws Problem `bad-input` when the format is impossible. */
export function rateOf(essence: Essence, streams: number): EssenceRate {
  switch (essence.kind) {
    case 'sound': {
      const bytes = soundBytesPerSecond(essence.sound) * streams;
      const { tracks, samplesPerSecond, bytesPerSample } = essence.sound;
      const text = `${tracks} tracks of ${samplesPerSecond / 1000} kHz, ${bytesPerSample * 8} bit`;
      return constant(bytes, bytes, null, (bytes / streams) * CHUNK_SECONDS, text);
    }
    case 'picture': {
      const { bytesPerSecond, peakBytesPerSecond, bytesPerFrame } = dataRate(essence, streams);
      const text = `${rasterText(essence.raster)} ${layoutById(essence.layoutId).label} at ${frameRateText(essence.frameRate)}`;
      return constant(bytesPerSecond, peakBytesPerSecond, framesPerSecond(essence.frameRate), bytesPerFrame, text);
    }
    case 'own': {
      const rate = essence.frameRate ? framesPerSecond(essence.frameRate) : null;
      const { bytesPerSecond, peakFactor = 1 } = essence;
      const average = bytesPerSecond * streams;
      const frame = rate === null ? bytesPerSecond * CHUNK_SECONDS : bytesPerSecond / rate;
      return constant(average, average * peakFactor, rate, frame, essence.label);
    }
    case 'measured': {
      const { bytesPerSecond, peakBytesPerSecond, burstBytes, label } = essence;
      const rate = framesPerSecond(essence.frameRate);
      return {
        ...constant(bytesPerSecond * streams, peakBytesPerSecond * streams, rate, bytesPerSecond / rate, label),
        burst: burstBytes * streams,
      };
    }
    case 'curve': {
      const curve = { seconds: essence.seconds, bytes: essence.bytes.map((bytes) => bytes * streams) };
      const average = progressBytes(curve) / progressDuration(curve);
      const peak = steepest(curve);
      return {
        average,
        peak,
        burst: burstOver(curve, average),
        curve,
        framesPerSecond: essence.frameRate ? framesPerSecond(essence.frameRate) : null,
        bytesPerFrame: (average / streams) * CHUNK_SECONDS,
        text: `${essence.label}, ${rateText(average)} on average`,
      };
    }
  }
}

/** A second at the peak brings (peak − average) × 1 s more than its share. */
function constant(
  average: number,
  peak: number,
  rate: number | null,
  bytesPerFrame: number,
  text: string,
): EssenceRate {
  return { average, peak, burst: peak - average, curve: null, framesPerSecond: rate, bytesPerFrame, text };
}

/** Highest rate between two points of a curve. */
function steepest({ seconds, bytes }: Progress): number {
  let highest = 0;
  for (let point = 1; point < seconds.length; point += 1) {
    const took = seconds[point]! - seconds[point - 1]!;
    if (took > 0) highest = Math.max(highest, (bytes[point]! - bytes[point - 1]!) / took);
  }
  return highest;
}

/** Most bytes by which any stretch of a demand's curve exceeds a constant rate: its arrival curve's burst. */
export function burstOver({ seconds, bytes }: Progress, bytesPerSecond: number): number {
  let [lowest, burst] = [0, 0];
  for (let point = 0; point < seconds.length; point += 1) {
    const value = bytes[point]! - bytesPerSecond * seconds[point]!;
    if (point === 0 || value < lowest) lowest = value;
    burst = Math.max(burst, value - lowest);
  }
  return burst;
}
