import type { ValidationError } from 'yup';
import type { FieldErrors, FieldTexts, FieldValues } from '#core/1-ground/fields/field.ts';
import { fieldTexts, readFields } from '#core/1-ground/fields/read-fields.ts';
import { schemaFault } from '#core/1-ground/schema/fault-words.ts';
import type { AnyRecipeKind } from '#core/3-jobs/recipes/registry.ts';

/** The texts of all fields for a recipe's options. */
export const optionTexts = (kind: AnyRecipeKind, options: object): FieldTexts =>
  fieldTexts(kind.fields, options as FieldValues);

export interface ReadOptions {
  /** Null while anything is at fault. */
  options: object | null;
  errors: FieldErrors;
}

/** All faults at once: what cannot be read, or has no text, keeps its default while the rest is checked. */
export function readOptions(kind: AnyRecipeKind, texts: FieldTexts): ReadOptions {
  const { values, errors } = readFields(kind.fields, texts);
  try {
    const defaults = kind.options.getDefault() as object;
    const options = kind.options.validateSync({ ...defaults, ...values }, { strict: true, abortEarly: false });
    return { options: Object.keys(errors).length === 0 ? options : null, errors };
  } catch (error) {
    for (const one of (error as ValidationError).inner) {
      const { part, sentence } = schemaFault(one);
      errors[part] ??= sentence;
    }
    return { options: null, errors };
  }
}
