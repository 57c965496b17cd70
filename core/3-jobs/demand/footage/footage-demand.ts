import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { rateOf } from '#core/3-jobs/demand/essences/registry.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { progressDuration } from '#core/1-ground/curves/progress.ts';
import { framesPerSecond } from '#core/1-ground/units/frame-rate.ts';

/** @throws Problem `bad-input` when the item's format is impossible. */
export function demandOf(item: FootageItem): Demand {
  const rate = rateOf(item.essence, item.streams);
  const { unit, amount } = item.buffer;
  return {
    itemId: item.id,
    name: item.name,
    act: item.action,
    direction: item.action === 'record' ? 'write' : 'read',
    bytesPerSecond: rate.average,
    peakBytesPerSecond: rate.peak,
    burstBytes: rate.burst,
    curve: rate.curve,
    framesPerSecond: rate.frameRate && framesPerSecond(rate.frameRate),
    bytesPerFrame: rate.bytesPerFrame,
    streams: item.streams,
    isSum: false,
    parts: [],
    takeSeconds: rate.curve ? progressDuration(rate.curve) : item.takes.seconds,
    takes: item.takes.count,
    gapSeconds: item.takes.gapSeconds,
    between: item.takes.between ?? 'stay',
    takeOffSeconds: item.takes.takeOffSeconds ?? null,
    bufferBytes: unit === 'bytes' ? amount : amount * rate.average,
    formatText: rate.text,
  };
}
