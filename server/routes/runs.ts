import { array, boolean, mixed, object, string } from 'yup';
import type { LiveMessage, RunFeedMessage } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { loudnessSchema } from '#core/4-runs/run/loudness.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { openLiveFeed } from '#server/http/live.ts';
import { validated } from '#server/http/validate.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import {
  all,
  anything,
  body,
  byId,
  events,
  json,
  list,
  nothing,
  operation,
  ref,
  type RouteGroup,
  get,
  patch,
  post,
  remove,
} from '#server/routes/describe.ts';
import { annotateRun, deleteRun, listRuns, readRun } from '#server/store/runs.ts';

const MOST_LISTED_RUNS = 500;

/** What starts a run. The recipe checks its own options. */
const startRunSchema = object({
  volumeId: string().required('volumeId: must name a volume.').max(200),
  folder: string().defined('folder: must be given; empty for stand-ins.').max(4096, 'folder: is too long.'),
  recipeId: string().required('recipeId: must name a recipe.').max(40),
  options: mixed().meta({ jsonSchema: { type: 'object' } }),
  targets: array(
    object({
      volumeId: string().required('targets: each must name a volume.').max(200),
      folder: string().defined('targets: each needs a folder; empty for stand-ins.').max(4096),
    })
      .noUnknown('targets: “${unknown}” is not known.')
      .required(),
  ).default([]),
}).noUnknown('body: “${unknown}” is not known.');

/** What a person adds to a run; what is left out stays as it is. */
const annotateRunSchema = object({
  note: string().max(4000, 'note: is at most 4,000 characters long.').optional(),
  tags: array(string().required().max(40, 'tags: each is at most 40 characters long.'))
    .max(20, 'tags: at most 20.')
    .optional(),
  leftOut: boolean().optional(),
  loudness: loudnessSchema.noUnknown('loudness: “${unknown}” is not known.').nullable().optional().default(undefined),
}).noUnknown('body: “${unknown}” is not known.');

export const runRoutes: RouteGroup = {
  tag: { name: 'Runs', description: 'What was measured, and what goes on.' },
  routes({ db, runs }) {
    const current = async (id: string): Promise<RunDocument> => (await runs.document(id)) ?? readRun(db, id);
    return [
      get(
        '/runs',
        operation('listRuns', 'Runs, newest first, with figures and doubts', 200, json('Runs', list(anything))),
        async (_request, response) => {
          response.json(await listRuns(db, MOST_LISTED_RUNS));
        },
      ),
      post(
        '/runs',
        operation(
          'startRun',
          'Starts a run, or puts it in the queue',
          201,
          json('Its id', anything),
          all(body(jsonSchemaOf(startRunSchema)), { refuses: [404, 409] }),
        ),
        async (request, response) => {
          const { volumeId, folder, recipeId, options, targets } = validated(startRunSchema, request.body);
          // Whoever asked and went away does not wait for a folder to be looked through.
          const gone = new AbortController();
          response.once('close', () => gone.abort());
          const run = await runs.start(
            { volumeId, folder, recipeId, options, ...(targets ? { targets } : {}) },
            gone.signal,
          );
          response.status(201).location(`/api/runs/${run.id}`).json({ id: run.id });
        },
      ),
      get(
        '/runs/{id}',
        operation('readRun', 'A run whole', 200, json('The run', ref('Run')), byId),
        async (request, response) => {
          response.json(await current(request.params.id));
        },
      ),
      /** The run with its figures and doubts, as the command line prints it. */
      get(
        '/runs/{id}/report',
        operation('reportRun', 'A run with figures and doubts', 200, json('The run', ref('Run')), byId),
        async (request, response) => {
          const run = await current(request.params.id);
          response.json({ ...run, ...summaryOf(run) });
        },
      ),
      get(
        '/runs/{id}/live',
        operation(
          'followRun',
          'A run as it goes on, as server-sent events',
          200,
          events('The run, and what comes'),
          byId,
        ),
        async (request, response) => {
          const { id } = request.params;
          const document = await current(id);
          let stop = (): void => undefined;
          const send = openLiveFeed<RunFeedMessage>(response, () => stop());
          // The document is serialised with the next batch, so events from here on must not reach it twice:
          // it is copied now, and everything after is sent as it comes.
          send({ type: 'document', run: structuredClone(document) });
          stop = runs.subscribe((message) => {
            if (message.type !== 'active' && message.runId === id) send(message);
          });
        },
      ),
      post(
        '/runs/{id}/stop',
        operation('stopRun', 'Stops a run and keeps it', 202, json('Stopping', anything), byId),
        (request, response) => {
          runs.stop(request.params.id);
          response.status(202).json({});
        },
      ),
      post(
        '/runs/{id}/pause',
        operation('pauseRun', 'Holds a run', 202, json('Held', anything), all(byId, { refuses: [409] })),
        (request, response) => {
          runs.setPaused(request.params.id, true);
          response.status(202).json({});
        },
      ),
      post(
        '/runs/{id}/resume',
        operation('resumeRun', 'Lets a held run go on', 202, json('Going on', anything), all(byId, { refuses: [409] })),
        (request, response) => {
          runs.setPaused(request.params.id, false);
          response.status(202).json({});
        },
      ),
      patch(
        '/runs/{id}',
        operation(
          'annotateRun',
          'Keeps a note, tags or what was heard with a run, or leaves it out of what its drive testifies',
          200,
          json('Kept', anything),
          all(byId, body(jsonSchemaOf(annotateRunSchema))),
        ),
        async (request, response) => {
          const { note, tags, leftOut, loudness } = validated(annotateRunSchema, request.body);
          const change = {
            ...(note === undefined ? {} : { note }),
            ...(tags === undefined ? {} : { tags }),
            ...(leftOut === undefined ? {} : { leftOut }),
            ...(loudness === undefined ? {} : { loudness }),
          };
          runs.annotate(request.params.id, change);
          await annotateRun(db, request.params.id, change);
          runs.annotated(request.params.id);
          response.json({});
        },
      ),
      remove(
        '/runs/{id}',
        operation('deleteRun', 'Deletes a run', 204, nothing('Deleted'), all(byId, { refuses: [409] })),
        async (request, response) => {
          const { id } = request.params;
          if (runs.active().some(({ runId }) => runId === id)) {
            throw new Problem('run-going-on', 'This run is still going on. Stop it first, then delete it.', {
              status: 409,
            });
          }
          await deleteRun(db, id);
          response.status(204).end();
        },
      ),
      /** What goes on and what waits. */
      get(
        '/live',
        operation(
          'follow',
          'What goes on and waits, as server-sent events',
          200,
          events('What goes on, and what comes'),
        ),
        (_request, response) => {
          let stop = (): void => undefined;
          const send = openLiveFeed<LiveMessage>(response, () => stop());
          send({ type: 'active', active: runs.active() });
          stop = runs.subscribe((message) => {
            if (message.type !== 'event' || message.event.type === 'ended') send(message);
          });
        },
      ),
    ];
  },
};
