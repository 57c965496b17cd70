import { number, object, string, type InferType } from 'yup';
import { constantRate, frameRateSchema, type EssenceKind } from '#core/3-jobs/demand/essences/essence-kind.ts';
import { kindSchema } from '#core/3-jobs/demand/item-kind.ts';
import { soundSchema } from '#core/3-jobs/demand/essences/sound.ts';
import { dataRate, soundBytesPerSecond } from '#core/2-trade/media/data-rate.ts';
import { formatTextOf, layoutText, type ParsedFormat, FORMAT } from '#core/2-trade/media/format-text.ts';
import { rasterText } from '#core/2-trade/media/rasters.ts';
import { frameRateText, framesPerSecond } from '#core/1-ground/units/frame-rate.ts';
import { countFrom } from '#core/1-ground/fields/kinds.ts';

/** A picture format of core/2-trade/media, as data. */
const schema = object({
  kind: kindSchema('picture'),
  layoutId: string().required().max(60),
  raster: object({
    width: number().integer().min(1).max(65536).required(),
    height: number().integer().min(1).max(65536).required(),
  }).required(),
  frameRate: frameRateSchema.required(),
  ratio: number().min(1).optional(),
  megabitsPerSecond: number().positive().optional(),
  peakFactor: number().min(1).optional(),
  containerShare: number().min(0).max(1).optional(),
  fileBlockBytes: number().integer().positive().optional(),
  sound: soundSchema.optional().default(undefined),
});
export type Picture = InferType<typeof schema>;

/** Layouts whose material lies as a file for each frame. */
const SEQUENCE_LAYOUT = /^(dpx|exr)/;
/** Sound beside a picture, as it is recorded in a studio. */
const STUDIO_SOUND = { samplesPerSecond: 48_000, bytesPerSample: 3 };

const group = 'Format';

/** Raster, layout or codec, and frame rate. */
export const pictureKind: EssenceKind<Picture> = {
  kind: 'picture',
  schema,
  rate(picture, streams) {
    const { raster, layoutId, frameRate, sound } = picture;
    const { bytesPerSecond, peakBytesPerSecond, bytesPerFrame } = dataRate(picture, streams);
    const text = `${rasterText(raster)} ${layoutText(picture)} at ${frameRateText(frameRate)}`;
    const soundPerFrame = sound ? soundBytesPerSecond(sound) / framesPerSecond(frameRate) : 0;
    return constantRate(bytesPerSecond / streams, streams, frameRate, text, {
      average: bytesPerSecond,
      peak: peakBytesPerSecond,
      burst: peakBytesPerSecond - bytesPerSecond,
      bytesPerFrame,
      storedFrameBytes: bytesPerFrame + soundPerFrame,
      isSequence: SEQUENCE_LAYOUT.test(layoutId),
    });
  },
  name: (picture) => formatTextOf(picture),
  form: {
    label: 'A format',
    help: 'Raster, layout or codec, and frame rate.',
    fields: [
      {
        option: 'format',
        group,
        label: 'Format',
        help: 'Such as 3840x2160 4:2:2 10 bit 25p ×3: raster, layout or codec, frame rate, in any order. A rate alone does too: 3 × 180 MB/s.',
        flag: 'format',
        kind: FORMAT,
      },
      {
        option: 'soundTracks',
        group,
        label: 'Sound in each stream',
        help: 'Tracks of 48 kHz and 24 bit; empty for none.',
        flag: 'sound',
        kind: countFrom(0),
        empty: 'none',
      },
    ],
    start: { format: '3840×2160 4:2:2 10-bit uncompressed 25p', soundTracks: '' },
    essence(values) {
      const { format: parsed, soundTracks } = values as { format: ParsedFormat; soundTracks: number | null };
      const { layoutId, raster, frameRate, ratio, megabitsPerSecond } = parsed.format;
      return {
        streams: parsed.streams,
        essence: {
          kind: 'picture',
          layoutId,
          raster,
          frameRate,
          ...(ratio === undefined ? {} : { ratio }),
          ...(megabitsPerSecond === undefined ? {} : { megabitsPerSecond }),
          sound: soundTracks ? { tracks: soundTracks, ...STUDIO_SOUND } : undefined,
        },
      };
    },
    values: (picture) => ({
      format: { format: picture, streams: null } satisfies ParsedFormat,
      soundTracks: picture.sound?.tracks ?? null,
    }),
  },
};
