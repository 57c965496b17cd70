import { array, mixed, object, string } from 'yup';
import { ASK_STATES, type AgentAsk } from '#core/6-exchange/api/wire.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { checkOptions } from '#core/3-jobs/recipes/registry.ts';
import { recipeById } from '#engine/recipes/registry.ts';
import { openLiveFeed } from '#server/http/live.ts';
import { validated } from '#server/http/validate.ts';
import {
  all,
  anything,
  body,
  byId,
  events,
  get,
  json,
  list,
  nothing,
  operation,
  post,
  type RouteGroup,
} from '#server/routes/describe.ts';

/** What a machine says of itself when it connects. */
const agentSchema = object({
  name: string().trim().required('name: must be given.').max(120),
  folders: array(string().required().max(4096)).max(100).required('folders: must be given.'),
}).noUnknown('body: “${unknown}” is not known.');

const askSchema = object({
  folder: string().required('folder: must be given.').max(4096),
  recipeId: string().required('recipeId: must name a recipe.').max(40),
  options: mixed().meta({ jsonSchema: { type: 'object' } }),
}).noUnknown('body: “${unknown}” is not known.');

const reportSchema = object({
  askId: string().required('askId: must be given.').max(80),
  state: string().oneOf(ASK_STATES).required(),
  text: string().defined().max(1000),
  runId: string().max(80).nullable().default(null),
}).noUnknown('body: “${unknown}” is not known.');

export const agentRoutes: RouteGroup = {
  tag: { name: 'Agents', description: 'Machines that measure what a house asks for.' },
  routes({ agents }) {
    return [
      get(
        '/agents',
        operation(
          'listAgents',
          'Machines that are connected, and what they were asked',
          200,
          json('Machines', list(anything)),
        ),
        (_request, response) => {
          response.json(agents.list());
        },
      ),
      /** Held open by the machine: what is asked comes as it is asked, and the machine is gone when it is closed. */
      post(
        '/agents/{id}',
        operation(
          'connectAgent',
          'Connects a machine; what it is asked comes as server-sent events',
          200,
          events('What is asked'),
          all(byId, body(jsonSchemaOf(agentSchema)), { refuses: [409] }),
        ),
        (request, response) => {
          const { name, folders } = validated(agentSchema, request.body);
          let leave = (): void => undefined;
          let send: ((ask: AgentAsk) => void) | undefined;
          const waiting: AgentAsk[] = [];
          // Refused before anything is sent.
          const owner = String(response.locals['tokenId'] ?? 'own');
          leave = agents.connect({ id: request.params.id.slice(0, 80), name, folders }, owner, (ask) =>
            send ? send(ask) : waiting.push(ask),
          );
          send = openLiveFeed<AgentAsk>(response, () => leave());
          waiting.forEach(send);
        },
      ),
      post(
        '/agents/{id}/asks',
        operation(
          'askAgent',
          'Asks a machine to measure a folder that it allows',
          202,
          json('What was asked', anything),
          all(byId, body(jsonSchemaOf(askSchema)), { refuses: [409] }),
        ),
        (request, response) => {
          const { folder, recipeId, options } = validated(askSchema, request.body);
          // What no machine could carry out is refused here.
          checkOptions(recipeById(recipeId).kind, options ?? {});
          response.status(202).json(agents.ask(request.params.id, { folder, recipeId, options: options ?? {} }));
        },
      ),
      post(
        '/agents/{id}/reports',
        operation(
          'reportAsk',
          'What became of something asked',
          204,
          nothing('Heard'),
          all(byId, body(jsonSchemaOf(reportSchema))),
        ),
        (request, response) => {
          const { askId, state, text, runId } = validated(reportSchema, request.body);
          agents.report(request.params.id, askId, state, text, runId ?? null);
          response.status(204).end();
        },
      ),
    ];
  },
};
