import { Router } from 'express';
import { anything, json, nothing, operation, type RouteGroup } from '#server/routes/describe.ts';
import { hasExamples, removeExamples } from '#server/store/examples.ts';

export const exampleRoutes: RouteGroup = {
  tag: { name: 'Examples', description: 'The made-up workspace that a first start shows.' },
  paths: {
    '/examples': {
      get: operation('readExamples', 'Whether examples are present', 200, json('Presence', anything)),
      delete: operation('removeExamples', 'Removes all examples', 204, nothing('Removed')),
    },
  },
  routes({ db }) {
    const router = Router();

    router.get('/examples', async (_request, response) => {
      response.json({ present: await hasExamples(db) });
    });

    router.delete('/examples', async (_request, response) => {
      await removeExamples(db);
      response.status(204).end();
    });

    return router;
  },
};
