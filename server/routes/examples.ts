import { anything, json, nothing, operation, type RouteGroup, get, remove } from '#server/routes/describe.ts';
import { hasExamples, removeExamples } from '#server/store/examples.ts';

export const exampleRoutes: RouteGroup = {
  tag: { name: 'Examples', description: 'The made-up workspace that a first start shows.' },
  routes({ db }) {
    return [
      get(
        '/examples',
        operation('readExamples', 'Whether examples are present', 200, json('Presence', anything)),
        async (_request, response) => {
          response.json({ present: await hasExamples(db) });
        },
      ),
      remove(
        '/examples',
        operation('removeExamples', 'Removes all examples', 204, nothing('Removed')),
        async (_request, response) => {
          await removeExamples(db);
          response.status(204).end();
        },
      ),
    ];
  },
};
