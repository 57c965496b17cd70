import { array, boolean, object, string, type InferType } from 'yup';
import { itemSchema } from '#core/3-jobs/demand/items.ts';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';

/** A named list of demands. The JSON Schema is docs/formats/workload.schema.json. */
export const WORKLOAD_VERSION = 'workload/1';

export const workloadSchema = object({
  tavrox: string()
    .oneOf([WORKLOAD_VERSION] as const)
    .required(),
  id: string().required().max(80),
  name: string().required().max(120),
  note: string().defined().max(4000),
  example: boolean().required(),
  items: array(itemSchema).max(200).required(),
});
export type Workload = InferType<typeof workloadSchema>;

/** @throws Problem `bad-input` that names the place of the first fault. */
export function parseWorkload(input: unknown): Workload {
  return parseDocument(workloadSchema, input, 'workload');
}
