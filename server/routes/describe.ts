import type { Router } from 'express';
import type { JsonSchema } from '#core/schema/json-schema.ts';
import type { RouteContext } from '#server/routes/context.ts';

/** Routes on one subject, with their description for the OpenAPI document. */
export interface RouteGroup {
  /** OpenAPI path items by their paths below /api. */
  paths: Record<string, object>;
  routes(context: RouteContext): Router;
}

const problem = {
  description: 'What happened, where and what to do (RFC 9457).',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
};

/** An answer, or a body, that is JSON. */
export const json = (description: string, schema: JsonSchema) => ({
  description,
  content: { 'application/json': { schema } },
});
export const list = (schema: JsonSchema): JsonSchema => ({ type: 'array', items: schema });
export const anything: JsonSchema = { type: 'object' };
export const ref = (name: string): JsonSchema => ({ $ref: `#/components/schemas/${name}` });
export const body = (schema: JsonSchema) => ({ requestBody: { required: true, ...json('', schema) } });
export const byId = { parameters: [{ name: 'id', in: 'path', required: true, schema: { type: 'string' } }] };
export const byPath = {
  parameters: [...byId.parameters, { name: 'path', in: 'query', required: true, schema: { type: 'string' } }],
};
export const nothing = (description: string) => ({ description });

/** One operation; a problem is what every one of them may answer. */
export function operation(summary: string, status: number, success: object, more: object = {}) {
  return { summary, ...more, responses: { [status]: success, default: problem } };
}
