import { Problem } from '#core/1-ground/problem.ts';
import { anything, json, list, operation, type RouteGroup, get, post } from '#server/routes/describe.ts';
import { listBackups } from '#server/store/backups.ts';
import { refusalText } from '#server/store/store.ts';

export const backupRoutes: RouteGroup = {
  tag: { name: 'Backups', description: 'Copies of everything Tavrox keeps.' },
  routes({ store, dataFolder }) {
    return [
      get(
        '/backups',
        operation('listBackups', 'Backups of the store, the newest first', 200, json('Backups', list(anything))),
        (_request, response) => {
          response.json(listBackups(dataFolder));
        },
      ),
      post(
        '/backups',
        operation('makeBackup', 'Makes one now', 201, json('The backup', anything)),
        async (_request, response) => {
          const backup = await store.backUp().catch((error: unknown) => {
            throw new Problem('not-backed-up', `No backup was made. ${refusalText(error)}`, {
              status: 507,
              cause: error,
            });
          });
          response.status(201).json(backup);
        },
      ),
    ];
  },
};
