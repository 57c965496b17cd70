import { Router } from 'express';
import { Problem } from '#core/1-ground/problem.ts';
import { forgetLeft, listKept, listLeft, removeKept, removeLeft } from '#engine/scratch/left.ts';
import type { Removal } from '#engine/scratch/removal.ts';
import { mountPointsNow } from '#engine/volumes/real/discovery.ts';
import { all, anything, byId, json, list, nothing, operation, type RouteGroup } from '#server/routes/describe.ts';

/** @throws Problem 409 with why a scratch folder was not removed */
function requireRemoved(removal: Removal): void {
  if (removal.is === 'removed') return;
  throw new Problem('not-removed', `The scratch folder was not removed. ${removal.why}`, { status: 409 });
}

const removable = all(byId, { refuses: [409] });

export const keptRoutes: RouteGroup = {
  tag: {
    name: 'Scratch',
    description: 'What runs left on drives: kept on purpose, or because it could not be removed.',
  },
  paths: {
    '/kept': { get: operation('listKept', 'Scratch files that were kept', 200, json('Kept', list(anything))) },
    '/kept/{id}': {
      delete: operation('removeKept', 'Gives back a kept scratch file', 204, nothing('Removed'), removable),
    },
    '/left': {
      get: operation(
        'listLeft',
        'Scratch folders that could not be removed, and why',
        200,
        json('Left', list(anything)),
      ),
    },
    '/left/{id}': {
      delete: operation(
        'forgetLeft',
        'Drops the note of one, and touches nothing else',
        204,
        nothing('Forgotten'),
        byId,
      ),
    },
    '/left/{id}/remove': {
      post: operation('removeLeft', 'Tries again to remove one', 204, nothing('Removed'), removable),
    },
  },
  routes({ volumes: { journalFolder } }) {
    const router = Router();

    router.get('/kept', async (_request, response) => {
      response.json(await listKept(journalFolder));
    });

    router.delete('/kept/:runId', async (request, response) => {
      requireRemoved(await removeKept(journalFolder, request.params.runId, mountPointsNow));
      response.status(204).end();
    });

    router.get('/left', async (_request, response) => {
      response.json(await listLeft(journalFolder));
    });

    router.post('/left/:id/remove', async (request, response) => {
      requireRemoved(await removeLeft(journalFolder, request.params.id, mountPointsNow));
      response.status(204).end();
    });

    router.delete('/left/:id', async (request, response) => {
      await forgetLeft(journalFolder, request.params.id);
      response.status(204).end();
    });

    return router;
  },
};
