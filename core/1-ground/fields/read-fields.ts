import type { Field, FieldErrors, FieldTexts, FieldValues } from '#core/1-ground/fields/field.ts';
import { Problem } from '#core/1-ground/problem.ts';

/** Value of one field from its text; null where it was left empty and may be. @throws Problem `bad-input` */
function readField({ kind, flag, empty }: Field, text: string): unknown {
  const typed = text.trim();
  return empty !== undefined && (typed === '' || typed === empty) ? null : kind.read(typed, flag);
}

/** How one value is shown in its field, so that reading it again gives the same. */
const fieldText = ({ kind }: Field, value: unknown): string =>
  value === null || value === undefined ? '' : kind.show(value);

/** The texts of fields for what they are to give. */
export function fieldTexts(fields: readonly Field[], values: FieldValues): FieldTexts {
  return Object.fromEntries(fields.map((field) => [field.option, fieldText(field, values[field.option])]));
}

/** What fields give, of those that have a text; all faults at once. */
export function readFields(
  fields: readonly Field[],
  texts: FieldTexts,
): { values: Record<string, unknown>; errors: FieldErrors } {
  const values: Record<string, unknown> = {};
  const errors: FieldErrors = {};
  for (const field of fields) {
    const text = texts[field.option];
    if (text === undefined) continue;
    try {
      values[field.option] = readField(field, text);
    } catch (error) {
      errors[field.option] = error instanceof Problem ? error.detail : (error as Error).message;
    }
  }
  return { values, errors };
}
