import { Router } from 'express';
import { anything, json, nothing, operation, type RouteGroup } from '#server/routes/describe.ts';
import { hasExamples, removeExamples } from '#server/store/examples.ts';

export const exampleRoutes: RouteGroup = {
  paths: {
    '/examples': {
      get: operation('Whether examples are present', 200, json('Presence', anything)),
      delete: operation('Removes all examples', 204, nothing('Removed')),
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
