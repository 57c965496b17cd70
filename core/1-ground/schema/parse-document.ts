import { ValidationError, type InferType, type Schema } from 'yup';
import { badInput } from '#core/1-ground/problem.ts';
import { withoutSchema } from '#core/1-ground/schema/document-kind.ts';
import { schemaFault } from '#core/1-ground/schema/fault-words.ts';

/**
 * A document from outside, checked as it is.
 * @param name of the document, with which every sentence begins
 * @throws Problem `bad-input` that names the place of the first fault
 */
export function parseDocument<S extends Schema>(schema: S, input: unknown, name: string): InferType<S> {
  try {
    return schema.validateSync(withoutSchema(input), { strict: true });
  } catch (error) {
    if (error instanceof ValidationError) throw badInput(error.path || name, `${name}: ${schemaFault(error).sentence}`);
    throw error;
  }
}
