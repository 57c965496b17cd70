import { workloadSchema } from '#core/3-jobs/demand/workload.ts';
import { runDocumentSchema } from '#core/4-runs/run/run-document.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { profileSchema } from '#core/4-runs/supply/profile.ts';
import {
  anything,
  json,
  operation,
  problem,
  type Method,
  type Operation,
  type RouteGroup,
} from '#server/routes/describe.ts';
import { ROUTE_GROUPS } from '#server/routes/registry.ts';

/**
 * What any request may be refused with: a body that cannot be read, nobody who was let in, another page, a body too
 * large or in an unknown encoding, a name that is not ours, and a fault or a full disk of our own.
 */
const ANY_REQUEST = [400, 401, 403, 413, 415, 421];

const DESCRIBED = { name: 'Description', description: 'What this is.' };

/** Where the description itself is asked for. */
const DESCRIPTION: RouteGroup['paths'] = {
  '/openapi.json': { get: operation('describeApi', 'This description', 200, json('It', anything)) },
};

/** An operation with what holds for each of them. */
function completed(tag: string, method: string, { security, responses, ...rest }: Operation) {
  const changes = method !== 'get';
  const who = changes ? [{ credential: [], ownPage: [] }] : [{ credential: [] }];
  const refusals = Object.fromEntries([...ANY_REQUEST, '5XX'].map((status) => [status, problem]));
  return { ...rest, tags: [tag], security: security ?? who, responses: { ...responses, ...refusals } };
}

/** The API as OpenAPI 3.1, made from the schemas that check it. */
export function openApiDocument() {
  const described = [
    ...ROUTE_GROUPS.flatMap(({ tag, paths }) => Object.entries(paths).map(([path, item]) => ({ tag, path, item }))),
    ...Object.entries(DESCRIPTION).map(([path, item]) => ({ tag: DESCRIBED, path, item })),
  ];
  return {
    openapi: '3.1.0',
    info: {
      title: 'Tavrox',
      version: '1',
      description: 'Local server of Tavrox. Whoever asks for more than the door has to be let in.',
      license: { name: 'MIT', identifier: 'MIT' },
    },
    // Relative: it listens on the loopback address, at the port that it printed.
    servers: [{ url: '/' }],
    tags: [...ROUTE_GROUPS.map(({ tag }) => tag), DESCRIBED],
    paths: Object.fromEntries(
      described.map(({ tag, path, item }) => [
        `/api${path}`,
        Object.fromEntries(
          (Object.entries(item) as [Method, Operation][]).map(([method, one]) => [
            method,
            completed(tag.name, method, one),
          ]),
        ),
      ]),
    ),
    components: {
      securitySchemes: {
        credential: {
          type: 'http',
          scheme: 'bearer',
          description:
            'The key of this start, which stands in the data folder for the command line, or the session that a browser was given for the code of an address.',
        },
        ownPage: {
          type: 'apiKey',
          in: 'header',
          name: 'X-Tavrox',
          description: 'Always 1, beside an Origin that is this server’s own: no page elsewhere can send both.',
        },
      },
      responses: {
        Problem: {
          description: 'What happened, where and what to do (RFC 9457).',
          content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
        },
      },
      schemas: {
        Run: jsonSchemaOf(runDocumentSchema),
        Workload: jsonSchemaOf(workloadSchema),
        Profile: jsonSchemaOf(profileSchema),
        Problem: {
          type: 'object',
          required: ['type', 'title', 'status', 'detail'],
          properties: {
            type: { type: 'string' },
            title: { type: 'string' },
            status: { type: 'integer' },
            detail: { type: 'string' },
            where: { type: 'string' },
          },
        },
      },
    },
  };
}
