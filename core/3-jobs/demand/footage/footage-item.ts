import { boolean, number, object, string, type InferType } from 'yup';
import { essenceSchema } from '#core/3-jobs/demand/essences/registry.ts';
import { BETWEEN } from '#core/3-jobs/demand/demand.ts';
import { itemIdSchema, itemNameSchema, kindSchema } from '#core/3-jobs/demand/item-kind.ts';

/** Buffer of the recording or playing program: it says which of the two was given. */
const bufferSchema = object({
  unit: string()
    .oneOf(['seconds', 'bytes'] as const)
    .required(),
  amount: number().min(0).required(),
});

/** Footage recorded or played in takes. */
export const footageItemSchema = object({
  kind: kindSchema('footage'),
  id: itemIdSchema,
  name: itemNameSchema,
  action: string()
    .oneOf(['record', 'play'] as const)
    .required(),
  essence: essenceSchema,
  streams: number().integer().min(1).max(1000).required(),
  takes: object({
    count: number().integer().min(1).max(10_000).required(),
    seconds: number().positive().max(1e7).required(),
    gapSeconds: number().min(0).max(1e7).required(),
    /** What becomes of a take before the next begins: it stays on the drive, or is taken off. */
    between: string().oneOf(BETWEEN).default('stay').meta({ addedLater: true }),
    /** How long taking off one take takes, seconds; null for no longer than the gap. */
    takeOffSeconds: number().positive().max(1e7).nullable().default(null).meta({ addedLater: true }),
  }).required(),
  buffer: bufferSchema.required(),
  /** Goes on at the same time as the other items that say so. */
  together: boolean().optional().default(undefined),
});
export type FootageItem = InferType<typeof footageItemSchema>;
