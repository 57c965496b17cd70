import { number, object, type InferType } from 'yup';
import { constantRate, type EssenceKind } from '#core/3-jobs/demand/essences/essence-kind.ts';
import { kindSchema } from '#core/3-jobs/demand/item-kind.ts';
import { soundBytesPerSecond } from '#core/2-trade/media/data-rate.ts';
import { COUNT, numberSuchAs } from '#core/1-ground/fields/kinds.ts';

export const soundSchema = object({
  tracks: number().integer().min(1).max(4096).required(),
  samplesPerSecond: number().positive().max(1e6).required(),
  bytesPerSample: number().positive().max(16).required(),
});

const schema = object({ kind: kindSchema('sound'), sound: soundSchema.required() });
export type SoundEssence = InferType<typeof schema>;

const group = 'Sound';

/** Tracks of uncompressed sound without a picture. */
export const soundKind: EssenceKind<SoundEssence> = {
  kind: 'sound',
  schema,
  rate({ sound }, streams) {
    const { tracks, samplesPerSecond, bytesPerSample } = sound;
    const text = `${tracks} tracks of ${samplesPerSecond / 1000} kHz, ${bytesPerSample * 8} bit`;
    return constantRate(soundBytesPerSecond(sound), streams, null, text);
  },
  name: ({ sound: { tracks } }) => `Sound, ${tracks} track${tracks === 1 ? '' : 's'}`,
  form: {
    label: 'Sound',
    help: 'Tracks without a picture.',
    fields: [
      {
        option: 'tracks',
        group,
        label: 'Tracks',
        help: 'All of them together.',
        flag: 'tracks',
        kind: COUNT,
      },
      {
        option: 'kilohertz',
        group,
        label: 'Samples, kHz',
        help: '48 or 96, as recorded.',
        flag: 'samples',
        kind: numberSuchAs('48'),
      },
      {
        option: 'bits',
        group,
        label: 'Bits of a sample',
        help: '16, 24 or 32.',
        flag: 'bits',
        kind: COUNT,
      },
    ],
    start: { tracks: '8', kilohertz: '48', bits: '24' },
    essence(values) {
      const { tracks, kilohertz, bits } = values as { tracks: number; kilohertz: number; bits: number };
      return {
        essence: { kind: 'sound', sound: { tracks, samplesPerSecond: kilohertz * 1000, bytesPerSample: bits / 8 } },
      };
    },
    values: ({ sound: { tracks, samplesPerSecond, bytesPerSample } }) => ({
      tracks,
      kilohertz: samplesPerSecond / 1000,
      bits: bytesPerSample * 8,
    }),
  },
};
