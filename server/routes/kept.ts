import { Router } from 'express';
import { Problem } from '#core/problem.ts';
import { listKept, removeKept } from '#engine/scratch/scratch.ts';
import { anything, byId, json, list, nothing, operation, type RouteGroup } from '#server/routes/describe.ts';

export const keptRoutes: RouteGroup = {
  paths: {
    '/kept': { get: operation('Scratch files that were kept', 200, json('Kept', list(anything))) },
    '/kept/{id}': { delete: operation('Gives back a kept scratch file', 204, nothing('Removed'), byId) },
  },
  routes({ volumes }) {
    const router = Router();

    /** Scratch files that were kept after their runs. */
    router.get('/kept', async (_request, response) => {
      response.json(await listKept(volumes.journalFolder));
    });

    router.delete('/kept/:runId', async (request, response) => {
      const removal = await removeKept(volumes.journalFolder, request.params.runId);
      if (removal === 'failed' || removal === 'not-ours') {
        throw new Problem(
          'not-removed',
          'The kept scratch folder could not be removed: it holds files that are not Tavrox’s, or may not be written to. Look into it and remove it by hand.',
          { status: 409 },
        );
      }
      response.status(204).end();
    });

    return router;
  },
};
