import { number, object, type InferType } from 'yup';
import {
  constantRate,
  frameRateSchema,
  labelSchema,
  rateSchema,
  type EssenceKind,
} from '#core/3-jobs/demand/essences/essence-kind.ts';
import { kindSchema } from '#core/3-jobs/demand/item-kind.ts';
import { rateText } from '#core/1-ground/units/format.ts';
import { readFormatText, withoutStreams } from '#core/2-trade/media/format-text.ts';
import { RATE_PATTERN, parseNumber, parseRate } from '#core/1-ground/units/quantity.ts';
import type { FrameRate } from '#core/1-ground/units/frame-rate.ts';
import { FRAME_RATE, RATE, TEXT, numberSuchAs } from '#core/1-ground/fields/kinds.ts';

const schema = object({
  kind: kindSchema('own'),
  label: labelSchema,
  /** Of one stream. */
  bytesPerSecond: rateSchema,
  frameRate: frameRateSchema.optional().default(undefined),
  peakFactor: number().min(1).max(100).optional(),
});
export type OwnEssence = InferType<typeof schema>;

const RATE_ALONE = new RegExp(String.raw`^(?:(\d{1,3})\s*[x×]\s*)?(${RATE_PATTERN})(?:\s*[x×]\s*(\d{1,3}))?$`);

/**
 * What is typed as a rate, alone such as “240 MB/s ×2”, beside a name that says nothing of its own, such as
 * “3 cameras AVCHD 24 Mb/s”, or as sound, “48 kHz 24 bit, 16 tracks”; null for what is a format.
 */
export function typedRate(what: string): { essence: OwnEssence; streams: number } | null {
  const match = RATE_ALONE.exec(what.trim());
  if (match) {
    const bytesPerSecond = parseRate(match[2]!, 'what');
    if (!(bytesPerSecond > 0)) return null;
    const streams = Math.max(1, Number(match[1] ?? match[3] ?? 1));
    return { essence: { kind: 'own', label: rateText(bytesPerSecond), bytesPerSecond, frameRate: undefined }, streams };
  }
  const sound = typedSound(what);
  if (sound) return sound;
  const { megabitsPerSecond, raster, frameRate, layouts, streams } = readFormatText(what);
  const isFormat = (raster !== null && frameRate !== null) || layouts.length === 1;
  if (megabitsPerSecond === null || isFormat) return null;
  const bytesPerSecond = (megabitsPerSecond * 1e6) / 8;
  if (!(bytesPerSecond > 0)) return null;
  return {
    essence: { kind: 'own', label: nameOf(what), bytesPerSecond, frameRate: frameRate ?? undefined },
    streams: Math.max(1, streams ?? 1),
  };
}

const SAMPLES = /(?<![\d.,])(\d{1,3}(?:[.,]\d+)?)\s*kHz\b/i;
const DEPTH = /(?<!\d)(16|24|32)[\s-]*bits?\b/i;
const TRACKS = /(?:[x×]\s*(\d{1,3})(?!\d)|(?<!\d)(\d{1,3})\s*(?:[x×]|tracks?\b|channels?\b|ch\b)|\b(mono|stereo)\b)/i;

/** Sound as its samples are, without a codec: rate, depth, and how many tracks; null for what is none. */
function typedSound(what: string): ReturnType<typeof typedRate> {
  const [samples, depth, tracks] = [SAMPLES, DEPTH, TRACKS].map((pattern) => pattern.exec(what));
  if (!samples || !depth) return null;
  const hertz = 1000 * parseNumber(samples[1]!, 'what');
  if (!(hertz >= 8000 && hertz <= 768_000)) return null;
  const others = [SAMPLES, DEPTH, TRACKS].reduce((rest, pattern) => rest.replace(pattern, ' '), what);
  // Whatever else is said is not sound alone.
  if (!/^(?:[\s,;]|\b(?:wav|bwf|pcm|sound|audio|of|at|uncompressed)\b)*$/i.test(others)) return null;
  const label = `sound of ${samples[1]!.replace(',', '.')} kHz and ${depth[1]!} bit`;
  const bytesPerSecond = (hertz * Number(depth[1])) / 8;
  const streams = tracks ? (tracks[3] ? (/mono/i.test(tracks[3]) ? 1 : 2) : Number(tracks[1] ?? tracks[2])) : 1;
  return {
    essence: { kind: 'own', label, bytesPerSecond, frameRate: undefined },
    streams: Math.max(1, streams),
  };
}

/** Without how many there are of it, and its rate as it is read: “AVCHD 24 Mb/s”. */
const nameOf = (what: string): string =>
  withoutStreams(what)
    .replace(/(?<=^|\s)(\d{2,4})M(?=\s|$)/, '$1 Mb/s')
    .trim()
    .slice(0, 120);

const group = 'Format';

/** A format that the person gives by its rate. */
export const ownKind: EssenceKind<OwnEssence> = {
  kind: 'own',
  schema,
  rate: ({ bytesPerSecond, peakFactor = 1, frameRate, label }, streams) =>
    constantRate(bytesPerSecond, streams, frameRate ?? null, label, { peak: bytesPerSecond * streams * peakFactor }),
  name: ({ label }) => label,
  form: {
    label: 'By its rate',
    help: 'For what the library does not know.',
    fields: [
      {
        option: 'label',
        group,
        label: 'Name of the format',
        help: 'As it will be called in sentences.',
        flag: 'label',
        kind: TEXT,
        empty: 'after its rate',
      },
      {
        option: 'rate',
        group,
        label: 'Rate of one stream',
        help: 'Such as 62 MB/s or 500 Mb/s.',
        flag: 'rate',
        kind: RATE,
      },
      {
        option: 'frameRate',
        group,
        label: 'Frames per second',
        help: 'Empty where there are none to drop.',
        flag: 'frame rate',
        kind: FRAME_RATE,
        empty: 'none',
      },
      {
        option: 'peak',
        group,
        label: 'Peak',
        help: 'Worst second ÷ average, such as 1.5.',
        flag: 'peak',
        kind: numberSuchAs('1.5', 1),
        empty: 'as the average',
      },
    ],
    start: { label: '', rate: '', frameRate: '25', peak: '' },
    essence(values) {
      const { label, rate, frameRate, peak } = values as {
        label: string | null;
        rate: number;
        frameRate: FrameRate | null;
        peak: number | null;
      };
      return {
        essence: {
          kind: 'own',
          label: label ?? `Own format, ${rateText(rate)}`,
          bytesPerSecond: rate,
          frameRate: frameRate ?? undefined,
          ...(peak === null ? {} : { peakFactor: peak }),
        },
      };
    },
    values: ({ label, bytesPerSecond, frameRate = null, peakFactor = null }) => ({
      label,
      rate: bytesPerSecond,
      frameRate,
      peak: peakFactor,
    }),
  },
};
