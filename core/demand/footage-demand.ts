import type { FootageItem } from '#core/demand/workload.ts';
import { dataRate, layoutById, soundBytesPerSecond } from '#core/media/data-rate.ts';
import { rasterText } from '#core/media/rasters.ts';
import type { Direction } from '#core/run/run-document.ts';
import { frameRateText } from '#core/units/frame-rate.ts';

/** What an item asks of a drive, in the units of the verdict. */
export interface Demand {
  itemId: string;
  name: string;
  direction: Direction;
  /** Average of all streams. */
  bytesPerSecond: number;
  /** Highest bytes in any one second. */
  peakBytesPerSecond: number;
  /** Frames per second; null where there are none to drop. */
  framesPerSecond: number | null;
  streams: number;
  takeSeconds: number;
  takes: number;
  gapSeconds: number;
  bufferBytes: number;
  /** The format in words. */
  formatText: string;
}

/** @throws Problem `bad-input` when the item's format is impossible. */
export function demandOf(item: FootageItem): Demand {
  const rate = rateOf(item);
  const { unit, amount } = item.buffer;
  return {
    itemId: item.id,
    name: item.name,
    direction: item.action === 'record' ? 'write' : 'read',
    bytesPerSecond: rate.average,
    peakBytesPerSecond: rate.peak,
    framesPerSecond: rate.framesPerSecond,
    streams: item.streams,
    takeSeconds: item.takes.seconds,
    takes: item.takes.count,
    gapSeconds: item.takes.gapSeconds,
    bufferBytes: unit === 'bytes' ? amount : amount * rate.average,
    formatText: rate.text,
  };
}

function rateOf({ essence, streams }: FootageItem) {
  if (essence.kind === 'sound') {
    const bytes = soundBytesPerSecond(essence.sound) * streams;
    const { tracks, samplesPerSecond, bytesPerSample } = essence.sound;
    const text = `${tracks} tracks of ${samplesPerSecond / 1000} kHz, ${bytesPerSample * 8} bit`;
    return { average: bytes, peak: bytes, framesPerSecond: null, text };
  }
  const { bytesPerSecond, peakBytesPerSecond } = dataRate(essence, streams);
  const { numerator, denominator } = essence.frameRate;
  const text = `${rasterText(essence.raster)} ${layoutById(essence.layoutId).label} at ${frameRateText(essence.frameRate)}`;
  return { average: bytesPerSecond, peak: peakBytesPerSecond, framesPerSecond: numerator / denominator, text };
}
