import { Problem } from '#core/1-ground/problem.ts';
import { forgetLeft, listKept, listLeft, removeKept, removeLeft } from '#engine/scratch/left.ts';
import type { Removal } from '#engine/scratch/removal.ts';
import { mountPointsNow } from '#engine/volumes/real/discovery.ts';
import {
  all,
  anything,
  byId,
  json,
  list,
  nothing,
  operation,
  type RouteGroup,
  get,
  post,
  remove,
} from '#server/routes/describe.ts';

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
  routes({ volumes: { journalFolder } }) {
    return [
      get(
        '/kept',
        operation('listKept', 'Scratch files that were kept', 200, json('Kept', list(anything))),
        async (_request, response) => {
          response.json(await listKept(journalFolder));
        },
      ),
      remove(
        '/kept/{id}',
        operation('removeKept', 'Gives back a kept scratch file', 204, nothing('Removed'), removable),
        async (request, response) => {
          requireRemoved(await removeKept(journalFolder, request.params.id, mountPointsNow));
          response.status(204).end();
        },
      ),
      get(
        '/left',
        operation('listLeft', 'Scratch folders that could not be removed, and why', 200, json('Left', list(anything))),
        async (_request, response) => {
          response.json(await listLeft(journalFolder));
        },
      ),
      post(
        '/left/{id}/remove',
        operation('removeLeft', 'Tries again to remove one', 204, nothing('Removed'), removable),
        async (request, response) => {
          requireRemoved(await removeLeft(journalFolder, request.params.id, mountPointsNow));
          response.status(204).end();
        },
      ),
      remove(
        '/left/{id}',
        operation('forgetLeft', 'Drops the note of one, and touches nothing else', 204, nothing('Forgotten'), byId),
        async (request, response) => {
          await forgetLeft(journalFolder, request.params.id);
          response.status(204).end();
        },
      ),
    ];
  },
};
