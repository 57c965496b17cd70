import { workloadSchema } from '#core/3-jobs/demand/workload.ts';
import { runDocumentSchema } from '#core/4-runs/run/run-document.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { profileSchema } from '#core/4-runs/supply/profile.ts';
import {
  anything,
  get,
  json,
  operation,
  problem,
  type Operation,
  type Route,
  type RouteGroup,
} from '#server/routes/describe.ts';

/**
 * What any request may be refused with: a body that cannot be read, nobody who was let in, another page, a body too
 * large or in an unknown encoding, a name that is not ours, and a fault or a full disk of our own.
 */
const ANY_REQUEST = [400, 401, 403, 413, 415, 421];

/** An operation with what holds for each of them. */
function completed(tag: string, method: string, { security, responses, ...rest }: Operation) {
  const changes = method !== 'get';
  const who = changes ? [{ credential: [], ownPage: [] }] : [{ credential: [] }];
  const refusals = Object.fromEntries([...ANY_REQUEST, '5XX'].map((status) => [status, problem]));
  return { ...rest, tags: [tag], security: security ?? who, responses: { ...responses, ...refusals } };
}

/** Routes with the group that they are of. */
export interface RoutesOf extends Pick<RouteGroup, 'tag' | 'isOwn'> {
  routes: Route[];
}

/** The API as OpenAPI 3.1, made from the table that answers and the schemas that check it. */
export function openApiDocument(groups: readonly RoutesOf[]) {
  const paths: Record<string, Record<string, ReturnType<typeof completed>>> = {};
  for (const { tag, routes } of groups) {
    for (const { method, path, operation } of routes) {
      paths[`/api${path}`] = { ...paths[`/api${path}`], [method]: completed(tag.name, method, operation) };
    }
  }
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
    tags: groups.map(({ tag }) => tag),
    paths,
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

/** Where the description itself is asked for. */
export const describedBy = (document: () => object): RoutesOf => ({
  tag: { name: 'Description', description: 'What this is.' },
  routes: [
    get(
      '/openapi.json',
      operation('describeApi', 'This description', 200, json('It', anything)),
      (_request, response) => {
        response.json(document());
      },
    ),
  ],
});
