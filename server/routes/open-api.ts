import { workloadSchema } from '#core/demand/workload.ts';
import { RUN_STATES, runDocumentSchema } from '#core/run/run-document.ts';
import { jsonSchemaOf } from '#core/schema/json-schema.ts';
import { profileSchema } from '#core/supply/profile.ts';
import { ROUTE_GROUPS } from '#server/routes/registry.ts';

/** The API as OpenAPI 3.1, made from the schemas that check it. */
export function openApiDocument() {
  const paths = ROUTE_GROUPS.flatMap((group) => Object.entries(group.paths));
  return {
    openapi: '3.1.0',
    info: {
      title: 'Tavrox',
      version: '1',
      description: 'Local server of Tavrox. Every request needs the key of this start.',
    },
    paths: Object.fromEntries(paths.map(([path, item]) => [`/api${path}`, item])),
    components: {
      schemas: {
        Run: jsonSchemaOf(runDocumentSchema),
        RunState: { type: 'string', enum: RUN_STATES },
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
