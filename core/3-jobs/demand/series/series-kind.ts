import { ONE_TAKE, burstOver, type Demand } from '#core/3-jobs/demand/demand.ts';
import { PART_MARK, type ItemKind } from '#core/3-jobs/demand/item-kind.ts';
import { computeTimes, frameSizes, sumOf } from '#core/3-jobs/demand/series/frame-bytes.ts';
import { rateForShare, type SeriesWork } from '#core/3-jobs/demand/series/pipeline.ts';
import { seriesForm } from '#core/3-jobs/demand/series/series-form.ts';
import { seriesItemSchema, type SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { framesPerSecond } from '#core/1-ground/units/frame-rate.ts';

const kept = new WeakMap<SeriesItem, SeriesWork>();

/** An item as it is worked through, made once. @throws Problem `bad-input` when its frames are larger than anything */
export function seriesWork(item: SeriesItem): SeriesWork {
  const known = kept.get(item);
  if (known) return known;
  const [bytes, given] = [frameSizes(item), computeTimes(item)];
  const held = item.heldWriting?.bytesPerSecond ?? null;
  const work: SeriesWork = {
    bytes,
    compute: held === null ? given : given.map((seconds, frame) => Math.max(0, seconds - bytes[frame]! / held)),
    holdsWriting: item.heldWriting !== undefined && held === null,
    queueFrames: item.queueFrames,
  };
  kept.set(item, work);
  return work;
}

/** What an item asks for is worked out once, and not for every drive: it may have a hundred thousand frames. */
const demandsKept = new WeakMap<SeriesItem, Demand[]>();

/** What it writes: as a rate, that at which the drive takes the most it may of the whole. */
function writing(item: SeriesItem): Demand {
  const work = seriesWork(item);
  const [bytes, compute] = [sumOf(work.bytes), sumOf(work.compute)];
  const takeSeconds = compute > 0 ? compute / (1 - item.mostDriveShare) : 1;
  const bytesPerSecond = Math.max(1, rateForShare(work, item.mostDriveShare) ?? bytes / takeSeconds);
  return {
    itemId: item.id,
    name: item.name,
    direction: 'write',
    act: 'simulate',
    bytesPerSecond,
    peakBytesPerSecond: bytesPerSecond,
    burstBytes: 0,
    curve: null,
    framesPerSecond: null,
    bytesPerFrame: bytes / item.frameCount,
    streams: 1,
    isSum: false,
    parts: [],
    takeSeconds,
    ...ONE_TAKE,
    bufferBytes: 0,
    formatText: `${item.frameCount} cache frames of ${bytesText(bytes / item.frameCount)}`,
  };
}

/** What looking at it asks for, at its frame rate. */
function playing(item: SeriesItem, frameRate: NonNullable<SeriesItem['playback']>['frameRate']): Demand {
  const { bytes } = seriesWork(item);
  const rate = framesPerSecond(frameRate);
  const takeSeconds = item.frameCount / rate;
  const bytesPerSecond = Math.max(1, sumOf(bytes) / takeSeconds);
  let total = 0;
  const curve = { seconds: [0], bytes: [0] };
  let [largest, inSecond] = [0, 0];
  const window = Math.max(1, Math.round(rate));
  bytes.forEach((size, frame) => {
    total += size;
    curve.seconds.push((frame + 1) / rate);
    curve.bytes.push(total);
    inSecond += size - (frame >= window ? bytes[frame - window]! : 0);
    largest = Math.max(largest, frame + 1 >= window ? (inSecond * rate) / window : 0);
  });
  return {
    itemId: `${item.id}${PART_MARK}play`,
    name: `Playing ${item.name}`,
    direction: 'read',
    act: 'play',
    bytesPerSecond,
    peakBytesPerSecond: Math.max(bytesPerSecond, largest),
    burstBytes: burstOver(curve, bytesPerSecond),
    curve: null,
    framesPerSecond: rate,
    bytesPerFrame: total / item.frameCount,
    streams: 1,
    isSum: false,
    parts: [],
    takeSeconds,
    ...ONE_TAKE,
    bufferBytes: bytesPerSecond,
    formatText: `cache frames of ${bytesText(total / item.frameCount)} at ${Number(rate.toFixed(3))}`,
  };
}

/** A simulation that writes a cache frame by frame, and plays it back. */
export const seriesKind: ItemKind<SeriesItem> = {
  kind: 'series',
  schema: seriesItemSchema,
  demands(item) {
    const known = demandsKept.get(item);
    if (known) return known;
    const demands = [writing(item), ...(item.playback ? [playing(item, item.playback.frameRate)] : [])];
    demandsKept.set(item, demands);
    return demands;
  },
  form: seriesForm,
};
