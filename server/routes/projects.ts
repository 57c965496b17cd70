import { badInput } from '#core/1-ground/problem.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';
import { projectSchema } from '#core/5-answers/sizing/project.ts';
import {
  all,
  anything,
  body,
  byId,
  json,
  list,
  nothing,
  operation,
  type RouteGroup,
  get,
  put,
  remove,
} from '#server/routes/describe.ts';
import { changeProject, deleteProject, listProjects } from '#server/store/projects.ts';

export const projectRoutes: RouteGroup = {
  tag: { name: 'Projects', description: 'What storage is sized for.' },
  routes({ db }) {
    return [
      get(
        '/projects',
        operation('listProjects', 'Projects that storage is sized for', 200, json('Projects', list(anything))),
        async (_request, response) => {
          response.json(await listProjects(db));
        },
      ),
      /** What is saved by a person is no example any more. */
      put(
        '/projects/{id}',
        operation(
          'saveProject',
          'Keeps a project whole, unless it is another than the version that was seen',
          200,
          json('The version that it has now', anything),
          all(byId, body(jsonSchemaOf(projectSchema)), { refuses: [409] }),
        ),
        async (request, response) => {
          const project = projectSchema.cast(parseDocument(projectSchema, request.body, 'project'));
          if (project.id !== request.params.id) throw badInput('id', 'id: is another than in the address.');
          response.json({ version: await changeProject(db, project) });
        },
      ),
      remove(
        '/projects/{id}',
        operation('deleteProject', 'Deletes a project', 204, nothing('Deleted'), byId),
        async (request, response) => {
          await deleteProject(db, request.params.id);
          response.status(204).end();
        },
      ),
    ];
  },
};
