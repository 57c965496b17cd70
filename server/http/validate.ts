import { ValidationError, type InferType, type Schema } from 'yup';
import { badInput } from '#core/1-ground/problem.ts';
import { schemaFault } from '#core/1-ground/schema/fault-words.ts';

/** Checks a request's input against its schema. @throws Problem naming the field at fault. */
export function validated<S extends Schema>(schema: S, input: unknown): InferType<S> {
  try {
    return schema.validateSync(input, { strict: true });
  } catch (error) {
    if (error instanceof ValidationError) throw badInput(error.path || 'body', schemaFault(error).sentence);
    throw error;
  }
}
