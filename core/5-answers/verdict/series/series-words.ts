import { rateForShare } from '#core/3-jobs/demand/series/pipeline.ts';
import { channelBytes, gridFrameBytes } from '#core/3-jobs/demand/series/frame-bytes.ts';
import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { bytesText, formatDuration, formatNumber, formatShare, rateText } from '#core/1-ground/units/format.ts';
import { capitalized } from '#core/1-ground/words.ts';
import { BY_TYPED_RATES } from '#core/5-answers/verdict/sentences.ts';
import type { SeriesOnDrive } from '#core/5-answers/verdict/series/series-on-drive.ts';

/** A drive that wins less than this of the whole time wins nothing that anybody notices. */
export const LITTLE_SHARE = 0.05;

/** What going from one drive to another saves, as people ask it. Seconds; null where nothing was measured. */
export interface Saving {
  from: string;
  to: string;
  /** Rate of the faster ÷ rate of the slower. */
  timesFaster: number;
  savedSeconds: number;
  ofSeconds: number;
  /** One of both is known from its box only. */
  isPromise: boolean;
}

/** From the slowest to the fastest of several drives. */
export function largestSaving(rows: readonly { label: string; on: SeriesOnDrive | null }[]): Saving | null {
  const known = rows.flatMap(({ label, on }) => (on ? [{ label, on }] : []));
  if (known.length < 2) return null;
  const by = [...known].sort((a, b) => b.on.neverEmptied.totalSeconds - a.on.neverEmptied.totalSeconds);
  const [slow, fast] = [by[0]!, by.at(-1)!];
  const ofSeconds = slow.on.neverEmptied.totalSeconds;
  return {
    from: slow.label,
    to: fast.label,
    timesFaster: fast.on.bytesPerSecond / Math.max(1, slow.on.bytesPerSecond),
    savedSeconds: ofSeconds - fast.on.neverEmptied.totalSeconds,
    ofSeconds,
    isPromise: [slow, fast].some(({ on }) => on.evidence.isPromise === true),
  };
}

/** “From A to B, a drive 30 times faster saves 41 s of 1 h 28 min.” */
export function savingSentence({ from, to, timesFaster, savedSeconds, ofSeconds, isPromise }: Saving): string {
  const faster = timesFaster < 1.05 ? 'about as fast' : `${formatNumber(timesFaster)} times faster`;
  const time = `${formatDuration(savedSeconds)} of ${formatDuration(ofSeconds)}`;
  return `From ${from} to ${to}, a drive ${faster} ${isPromise ? `would save ${time}, ${BY_TYPED_RATES}` : `saves ${time}`}.`;
}

/** Beyond which rate a faster drive wins next to nothing, as a sentence. */
export function beyondSentence(item: SeriesItem): string {
  const work = seriesWork(item);
  if (work.holdsWriting) {
    return 'Its times hold the writing to a drive whose rate is not typed: what a faster one saves cannot be told, and each drive is taken to be the one they were made on.';
  }
  const rate = rateForShare(work, LITTLE_SHARE);
  if (rate === null) return 'Nothing is computed here: a faster drive is always faster.';
  return `Beyond ${rateText(rate)} a faster drive wins less than ${formatShare(LITTLE_SHARE)}: the rest is the processor.`;
}

/** What one channel of a grid costs, and what half its depth would save. Bytes. */
export interface ChannelCost {
  name: string;
  components: number;
  bits: number;
  frameBytes: number;
  /** Of one version. */
  seriesBytes: number;
}

/** Channels of a series, the dearest first; empty where a folder told the sizes. */
export function channelCosts({ frames, frameCount }: SeriesItem): ChannelCost[] {
  if (frames.kind !== 'grid') return [];
  return frames.channels
    .map((channel) => ({
      ...channel,
      frameBytes: channelBytes(frames, channel),
      seriesBytes: channelBytes(frames, channel) * frameCount,
    }))
    .sort((a, b) => b.frameBytes - a.frameBytes);
}

/** The same grid with all of its channels at a depth: what a frame and a version come to. Bytes. */
export interface DepthCost {
  bits: number;
  frameBytes: number;
  seriesBytes: number;
}

const DEPTHS = [32, 16, 8] as const;

/** Side by side: as it is, and with every deeper channel at 16 and at 8 bit; empty where a folder or a size told the frames. */
export function depthCosts(item: SeriesItem): DepthCost[] {
  const { frames, frameCount } = item;
  if (frames.kind !== 'grid') return [];
  const deepest = Math.max(...frames.channels.map(({ bits }) => bits));
  return DEPTHS.filter((bits) => bits <= deepest).map((bits) => {
    const channels = frames.channels.map((one) => ({ ...one, bits: one.bits > bits ? bits : one.bits }));
    const frameBytes = gridFrameBytes({ ...frames, channels });
    return { bits, frameBytes, seriesBytes: frameBytes * frameCount };
  });
}

/** What the dearest channel of 32 bits or more would save at half its depth; null where there is none. */
export function halfDepthSentence(item: SeriesItem): string | null {
  const deep = channelCosts(item).find(({ bits }) => bits >= 32);
  if (!deep) return null;
  return `${capitalized(deep.name)} in half the depth would save ${bytesText(deep.seriesBytes / 2)} a version.`;
}
