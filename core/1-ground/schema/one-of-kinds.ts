import { lazy, type Schema } from 'yup';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';

/** What has a schema for each kind that its `kind` may name, in the order in which they are published. */
type Kinds = readonly (readonly [kind: string, schema: Schema])[];

/**
 * The schema of something that is one of several kinds.
 * @param usual of what names none of them: its sentence says which there are
 */
export function oneOfKinds<T>(kinds: Kinds, usual: Schema = kinds[0]![1]): Schema<T> {
  // A map: names that every object has are no kinds.
  const schemas = new Map(kinds);
  return lazy(
    (value: { kind?: string } | null | undefined) => (schemas.get(value?.kind ?? '') ?? usual).required() as Schema,
  ).meta({ jsonSchema: { anyOf: kinds.map(([, schema]) => jsonSchemaOf(schema)) } }) as unknown as Schema<T>;
}
