import type { Schema, SchemaDescription, SchemaFieldDescription } from 'yup';

/** A JSON Schema (draft 2020-12) as plain data. */
export type JsonSchema = Record<string, unknown>;

declare module 'yup' {
  interface CustomSchemaMetadata {
    /** Used as it is where the description of a schema does not tell its shape. */
    jsonSchema?: JsonSchema;
    /** Documents of earlier versions lack it: its default is taken then. */
    addedLater?: boolean;
  }
}

/** JSON Schema of a Yup schema, so that each shape is written once. */
export function jsonSchemaOf(schema: Schema): JsonSchema {
  return fieldSchema(schema.describe());
}

function fieldSchema(description: SchemaFieldDescription): JsonSchema {
  const { meta, type } = description as SchemaDescription & { meta?: { jsonSchema?: JsonSchema } };
  const shape = meta?.jsonSchema ?? shapeOf(type, description as SchemaDescription);
  const { nullable } = description as SchemaDescription;
  return nullable ? { anyOf: [shape, { type: 'null' }] } : shape;
}

function shapeOf(type: string, description: SchemaDescription): JsonSchema {
  // Lazy schemas describe neither choices nor tests: their meta data has to tell the shape.
  const { oneOf = [], tests = [] } = description as Partial<SchemaDescription>;
  const choices = oneOf.filter((value) => value !== null && value !== undefined);
  const param = (name: string, key: string) => tests.find((test) => test.name === name)?.params?.[key];
  switch (type) {
    case 'object': {
      const fields = (description as unknown as { fields: Record<string, SchemaFieldDescription> }).fields;
      const required = Object.entries(fields)
        .filter(([, field]) => isRequired(field))
        .map(([name]) => name);
      return {
        type: 'object',
        properties: Object.fromEntries(Object.entries(fields).map(([name, field]) => [name, fieldSchema(field)])),
        ...(required.length > 0 ? { required } : {}),
      };
    }
    case 'array': {
      const inner = (description as unknown as { innerType?: SchemaFieldDescription }).innerType;
      return { type: 'array', ...(inner ? { items: fieldSchema(inner) } : {}) };
    }
    case 'string':
      return {
        type: 'string',
        ...(choices.length > 0 ? { enum: choices } : {}),
        ...withParam('maxLength', param('max', 'max')),
      };
    case 'number':
      return {
        type:
          param('integer', 'integer') !== undefined || tests.some((test) => test.name === 'integer')
            ? 'integer'
            : 'number',
        ...withParam('minimum', param('min', 'min')),
        ...withParam('maximum', param('max', 'max')),
      };
    case 'boolean':
      return { type: 'boolean' };
    default:
      return {};
  }
}

function isRequired(field: SchemaFieldDescription): boolean {
  const { optional, default: fallback, meta } = field as SchemaDescription & { default?: unknown };
  if (meta?.addedLater) return false;
  return optional === false && (fallback === undefined || (field as SchemaDescription).type === 'object');
}

const withParam = (name: string, value: unknown): JsonSchema => (typeof value === 'number' ? { [name]: value } : {});
