import { boolean, number, object, type InferType } from 'yup';
import {
  constantRate,
  frameRateSchema,
  labelSchema,
  rateSchema,
  type EssenceKind,
} from '#core/3-jobs/demand/essences/essence-kind.ts';
import { kindSchema } from '#core/3-jobs/demand/item-kind.ts';

const schema = object({
  kind: kindSchema('measured'),
  label: labelSchema,
  bytesPerSecond: rateSchema,
  peakBytesPerSecond: rateSchema,
  /** Most bytes by which any stretch of it exceeds its average. */
  burstBytes: number().min(0).max(1e15).required(),
  /** Of the picture; sound alone has none. */
  frameRate: frameRateSchema.optional().default(undefined),
  /** Whether each frame is a file. */
  sequence: boolean().required(),
});
export type MeasuredEssence = InferType<typeof schema>;

/** A format taken from real material. */
export const measuredKind: EssenceKind<MeasuredEssence> = {
  kind: 'measured',
  schema,
  rate: ({ bytesPerSecond, peakBytesPerSecond, burstBytes, frameRate, label, sequence }, streams) =>
    constantRate(bytesPerSecond, streams, frameRate ?? null, label, {
      peak: peakBytesPerSecond * streams,
      burst: burstBytes * streams,
      isSequence: sequence,
    }),
  name: ({ label }) => label,
  form: null,
};
