import { array, boolean, number, object, string, type InferType } from 'yup';
import { essenceSchema } from '#core/demand/essences/registry.ts';
import { parseDocument } from '#core/schema/parse-document.ts';

/** A named list of demands. The JSON Schema is docs/formats/workload.schema.json. */
export const WORKLOAD_VERSION = 'workload/1';

/** Buffer of the recording or playing program: it says which of the two was given. */
const bufferSchema = object({
  unit: string()
    .oneOf(['seconds', 'bytes'] as const)
    .required(),
  amount: number().min(0).required(),
});

/** Footage recorded or played in takes. */
export const footageItemSchema = object({
  kind: string()
    .oneOf(['footage'] as const)
    .required(),
  id: string().required().max(80),
  name: string().required().max(120),
  action: string()
    .oneOf(['record', 'play'] as const)
    .required(),
  essence: essenceSchema,
  streams: number().integer().min(1).max(1000).required(),
  takes: object({
    count: number().integer().min(1).max(10_000).required(),
    seconds: number().positive().max(1e7).required(),
    gapSeconds: number().min(0).max(1e7).required(),
  }).required(),
  buffer: bufferSchema.required(),
  /** Goes on at the same time as the other items that say so. */
  together: boolean().optional().default(undefined),
});
export type FootageItem = InferType<typeof footageItemSchema>;

export const workloadSchema = object({
  tavrox: string()
    .oneOf([WORKLOAD_VERSION] as const)
    .required(),
  id: string().required().max(80),
  name: string().required().max(120),
  note: string().defined().max(4000),
  example: boolean().required(),
  items: array(footageItemSchema.required()).max(200).required(),
});
export type Workload = InferType<typeof workloadSchema>;

/** @throws Problem `bad-input` that names the place of the first fault. */
export function parseWorkload(input: unknown): Workload {
  return parseDocument(workloadSchema, input, 'workload');
}
