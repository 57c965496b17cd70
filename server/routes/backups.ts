import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { restoreWorkspace } from '#server/archive/restore.ts';
import { all, anything, byId, json, list, operation, type RouteGroup, get, post } from '#server/routes/describe.ts';
import { keptByServer, listBackups } from '#server/store/backups.ts';
import { refusalText } from '#server/store/database.ts';

export const backupRoutes: RouteGroup = {
  tag: { name: 'Backups', description: 'Copies of everything Tavrox keeps.' },
  isOwn: true,
  routes({ db, store, runs, dataFolder }) {
    const backUp = () => store.backUp();
    /** @throws Problem where the store is on a server of its own */
    const checkOwn = () => {
      if (store.postgres !== null) throw keptByServer();
    };
    const isBusy = () => runs.active().length > 0;
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
        operation('makeBackup', 'Makes one now', 201, json('The backup', anything), { refuses: [409] }),
        async (_request, response) => {
          checkOwn();
          const backup = await store.backUp().catch((error: unknown) => {
            throw new Problem('not-backed-up', `No backup was made. ${refusalText(error, db)}`, {
              status: 507,
              cause: error,
            });
          });
          response.status(201).json(backup);
        },
      ),
      /** The workspace becomes what it was then; what it is now is backed up first. */
      post(
        '/backups/{id}/restore',
        operation(
          'restoreBackup',
          'Puts a backup in the place of the whole workspace',
          200,
          json('What was restored', anything),
          all(byId, { refuses: [409, 422] }),
        ),
        async (request, response) => {
          checkOwn();
          const { id } = request.params;
          const backup = listBackups(dataFolder).find(({ file }) => basename(file) === id);
          if (!backup) throw new Problem('not-found', `There is no backup “${id}” any more.`, { status: 404 });
          response.json(await restoreWorkspace({ db, backUp }, backup.file, isBusy));
        },
      ),
      post(
        '/archive/restore',
        operation(
          'restoreFile',
          'Puts a backup from a file in the place of the whole workspace',
          200,
          json('What was restored', anything),
          {
            requestBody: {
              required: true,
              description: 'A backup of a store.',
              content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } },
            },
            refuses: [409, 422],
          },
        ),
        async (request, response) => {
          checkOwn();
          if (!Buffer.isBuffer(request.body)) throw badInput('file', 'The file is empty.');
          const folder = await mkdtemp(join(dataFolder, 'restore-'));
          try {
            const file = join(folder, 'backup.tar.gz');
            await writeFile(file, request.body, { mode: 0o600 });
            response.json(await restoreWorkspace({ db, backUp }, file, isBusy));
          } finally {
            await rm(folder, { recursive: true, force: true });
          }
        },
      ),
    ];
  },
};
