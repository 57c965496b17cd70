import { workloadSchema } from '#core/demand/workload.ts';
import { RUN_STATES, runDocumentSchema } from '#core/run/run-document.ts';
import { profileSchema } from '#core/supply/profile.ts';
import { jsonSchemaOf, type JsonSchema } from '#core/schema/json-schema.ts';
import { faultsSchema } from '#core/stand-ins/faults.ts';
import { orderSchema } from '#server/routes/workloads.ts';
import { annotateRunSchema, startRunSchema } from '#server/routes/runs.ts';

const problem = {
  description: 'What happened, where and what to do (RFC 9457).',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
};
const json = (description: string, schema: JsonSchema) => ({
  description,
  content: { 'application/json': { schema } },
});
const list = (schema: JsonSchema): JsonSchema => ({ type: 'array', items: schema });
const anything: JsonSchema = { type: 'object' };
const ref = (name: string): JsonSchema => ({ $ref: `#/components/schemas/${name}` });
const idParameter = { name: 'id', in: 'path', required: true, schema: { type: 'string' } };
const pathParameter = { name: 'path', in: 'query', required: true, schema: { type: 'string' } };

function operation(summary: string, status: number, success: object, more: object = {}) {
  return { summary, ...more, responses: { [status]: success, default: problem } };
}

/** The API as OpenAPI 3.1, made from the schemas that check it. */
export function openApiDocument() {
  return {
    openapi: '3.1.0',
    info: {
      title: 'Tavrox',
      version: '1',
      description: 'Local server of Tavrox. Every request needs the key of this start.',
    },
    paths: {
      '/api/volumes': { get: operation('Volumes attached now, and stand-ins', 200, json('Volumes', list(anything))) },
      '/api/volumes/{id}/folders': {
        get: operation('Folders inside a folder', 200, json('Names', anything), {
          parameters: [idParameter, pathParameter],
        }),
      },
      '/api/volumes/{id}/folder-check': {
        get: operation('The checks of a run on a folder', 200, json('The folder’s real path', anything), {
          parameters: [idParameter, pathParameter],
        }),
      },
      '/api/runs': {
        get: operation('Runs, newest first, with figures and doubts', 200, json('Runs', list(anything))),
        post: operation('Starts a run, or puts it in the queue', 201, json('Its id', anything), {
          requestBody: { required: true, ...json('', jsonSchemaOf(startRunSchema)) },
        }),
      },
      '/api/runs/{id}': {
        get: operation('A run whole', 200, json('The run', ref('Run')), { parameters: [idParameter] }),
        patch: operation('Keeps a note or tags with a run', 200, json('Kept', anything), {
          parameters: [idParameter],
          requestBody: { required: true, ...json('', jsonSchemaOf(annotateRunSchema)) },
        }),
        delete: operation('Deletes a run', 204, { description: 'Deleted' }, { parameters: [idParameter] }),
      },
      '/api/runs/{id}/report': {
        get: operation('A run with figures and doubts', 200, json('The run', ref('Run')), {
          parameters: [idParameter],
        }),
      },
      '/api/runs/{id}/stop': {
        post: operation('Stops a run and keeps it', 202, json('Stopping', anything), { parameters: [idParameter] }),
      },
      '/api/runs/{id}/pause': {
        post: operation('Holds a run', 202, json('Held', anything), { parameters: [idParameter] }),
      },
      '/api/runs/{id}/resume': {
        post: operation('Lets a held run go on', 202, json('Going on', anything), { parameters: [idParameter] }),
      },
      '/api/stand-ins/{id}/faults': {
        put: operation('Switches faults on in a stand-in', 200, json('Faults', anything), {
          parameters: [idParameter],
          requestBody: {
            required: true,
            ...json('', { type: 'object', properties: { faults: jsonSchemaOf(faultsSchema) } }),
          },
        }),
      },
      '/api/kept': { get: operation('Scratch files that were kept', 200, json('Kept', list(anything))) },
      '/api/kept/{id}': {
        delete: operation(
          'Gives back a kept scratch file',
          204,
          { description: 'Removed' },
          { parameters: [idParameter] },
        ),
      },
      '/api/runs/{id}/live': {
        get: operation(
          'A run as it goes on, as server-sent events',
          200,
          { description: 'Events' },
          { parameters: [idParameter] },
        ),
      },
      '/api/live': { get: operation('What goes on and waits, as server-sent events', 200, { description: 'Events' }) },
      '/api/drives': { get: operation('Drive cards', 200, json('Drives', list(anything))) },
      '/api/drives/{id}/profiles': {
        get: operation('What a drive’s runs testify, by connection', 200, json('Profiles', list(ref('Profile'))), {
          parameters: [idParameter],
        }),
      },
      '/api/workloads': { get: operation('Workloads', 200, json('Workloads', list(ref('Workload')))) },
      '/api/workloads/{id}': {
        put: operation(
          'Keeps a workload whole',
          204,
          { description: 'Kept' },
          {
            parameters: [idParameter],
            requestBody: { required: true, ...json('', ref('Workload')) },
          },
        ),
        delete: operation('Deletes a workload', 204, { description: 'Deleted' }, { parameters: [idParameter] }),
      },
      '/api/workload-order': {
        put: operation(
          'Orders the workloads',
          204,
          { description: 'Kept' },
          {
            requestBody: { required: true, ...json('', jsonSchemaOf(orderSchema)) },
          },
        ),
      },
      '/api/examples': {
        get: operation('Whether examples are present', 200, json('Presence', anything)),
        delete: operation('Removes all examples', 204, { description: 'Removed' }),
      },
    },
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
