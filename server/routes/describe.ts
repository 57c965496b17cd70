import { Router, type RequestHandler } from 'express';
import type { JsonSchema } from '#core/1-ground/schema/json-schema.ts';
import type { RouteContext } from '#server/routes/context.ts';

/** Routes on one subject. */
export interface RouteGroup {
  /** What they are about, and its one sentence. */
  tag: { name: string; description: string };
  /** For the machine's own user alone, and for nobody who came with a token: who is let in, and the store as a whole. */
  isOwn?: true;
  routes: (context: RouteContext) => Route[];
}

/** A path below /api with its method, what it does, said for the OpenAPI document, and what answers it. */
export interface Route {
  method: Method;
  /** With `{id}` in it where one is asked for. */
  path: string;
  operation: Operation;
  answer: Answer;
}

/** What answers; `id` is there where the path asks for one. */
type Answer = RequestHandler<{ id: string }>;

export type Method = 'get' | 'put' | 'post' | 'patch' | 'delete';

export interface Operation {
  operationId: string;
  summary: string;
  parameters?: object[];
  requestBody?: object;
  /** Empty where nobody has to be let in; else what the whole API asks for. */
  security?: [];
  responses: Record<string, object>;
}

/** What an operation takes, and the statuses with which it may refuse beyond those that any request may meet. */
export interface Takes extends Pick<Operation, 'parameters' | 'requestBody' | 'security'> {
  refuses?: number[];
  /** Statuses beside the one of success that are no refusals. */
  otherwise?: Record<string, object>;
}

export const ref = (name: string): JsonSchema => ({ $ref: `#/components/schemas/${name}` });
export const problem = { $ref: '#/components/responses/Problem' };

/** An answer, or a body, that is JSON. */
export const json = (description: string, schema: JsonSchema) => ({
  description,
  content: { 'application/json': { schema } },
});
export const list = (schema: JsonSchema): JsonSchema => ({ type: 'array', items: schema });
export const anything: JsonSchema = { type: 'object' };
/** Server-sent events: each holds a list of messages as JSON. */
export const events = (description: string) => ({
  description,
  content: { 'text/event-stream': { schema: { type: 'string' } } },
});
export const nothing = (description: string) => ({ description });

export const body = (schema: JsonSchema): Takes => ({
  requestBody: { required: true, ...json('', schema) },
  refuses: [422],
});

export const query = (name: string, schema: JsonSchema, required: boolean, description: string): Takes => ({
  parameters: [{ name, in: 'query', required, description, schema }],
  refuses: [422],
});

export const byId: Takes = {
  parameters: [{ name: 'id', in: 'path', required: true, description: 'Its id.', schema: { type: 'string' } }],
  refuses: [404],
};

/** Whoever has it already, by the mark that it came with, is told so and sent nothing. */
export const unlessKnown: Takes = {
  parameters: [
    {
      name: 'If-None-Match',
      in: 'header',
      required: false,
      description: 'The ETag of what is held already.',
      schema: { type: 'string' },
    },
  ],
  otherwise: { 304: nothing('It is what is held already') },
};

/** Several of them in one. */
export function all(...takes: Takes[]): Takes {
  const bodies = takes.flatMap(({ requestBody }) => requestBody ?? []);
  return {
    parameters: takes.flatMap(({ parameters = [] }) => parameters),
    ...(bodies[0] ? { requestBody: bodies[0] } : {}),
    refuses: takes.flatMap(({ refuses = [] }) => refuses),
    otherwise: Object.assign({}, ...takes.map(({ otherwise = {} }) => otherwise)) as Record<string, object>,
  };
}

/** One operation; `operationId` is what a generated client calls it. */
export function operation(
  operationId: string,
  summary: string,
  status: number,
  success: object,
  { refuses = [], otherwise = {}, ...takes }: Takes = {},
): Operation {
  return {
    operationId,
    summary,
    ...takes,
    responses: { [status]: success, ...otherwise, ...Object.fromEntries(refuses.map((one) => [one, problem])) },
  };
}

const route =
  (method: Method) =>
  (path: string, operation: Operation, answer: Answer): Route => ({ method, path, operation, answer });
export const get = route('get');
export const put = route('put');
export const post = route('post');
export const patch = route('patch');
export const remove = route('delete');

/** Whether nobody has to be let in for it. */
export const isOpen = ({ operation }: Route): boolean => operation.security !== undefined;

/** What answers routes, each after what is to come before it. */
export function routerOf(routes: readonly Route[], ...before: RequestHandler[]): Router {
  const router = Router();
  for (const { method, path, answer } of routes) {
    router[method](path.replace(/\{(\w+)\}/g, ':$1'), ...before, answer as unknown as RequestHandler);
  }
  return router;
}
