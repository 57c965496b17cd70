import type { Request } from 'express';
import { boolean, object, string } from 'yup';
import { healthOf } from '#engine/system/health.ts';
import { verifyFolder } from '#engine/hash-lists/verify-folder.ts';
import { notedFolders } from '#engine/scratch/journal.ts';
import { tellWork } from '#server/http/live.ts';
import { fileSizesIn, type FolderCount } from '#engine/volumes/real/existing.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';
import {
  checkReadable,
  checkWritable,
  listFolders,
  nearestFolder,
  resolveFolder,
} from '#engine/volumes/real/folder.ts';
import { listVolumes, requireUsedWhole, ALL_WHOLE, type VolumesContext } from '#engine/volumes/registry.ts';
import type { FolderPayload, HealthEntry, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import type { VerifiedFolder, VerifyProgress } from '#core/5-answers/copies/verified-folder.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { validated } from '#server/http/validate.ts';
import {
  all,
  anything,
  byId,
  events,
  json,
  list,
  operation,
  query,
  type RouteGroup,
  get,
  nothing,
  body,
  patch,
} from '#server/routes/describe.ts';
import { listDrives, setUsesAll } from '#server/store/drives.ts';

const folderQuery = object({
  path: string().required('path: must be given.').max(4096, 'path: is too long.'),
  /** Recipe that is to run there: some only read. */
  recipe: string().max(40).optional(),
});

const changeSchema = object({ usesAll: boolean().required('usesAll: is missing.') });

const byPath = all(byId, query('path', { type: 'string', maxLength: 4096 }, true, 'Path of the folder.'));

export const volumeRoutes: RouteGroup = {
  tag: { name: 'Volumes', description: 'What is mounted now, the folders on it, and the stand-ins.' },
  routes({ db, volumes }) {
    /** The folder of a real volume that a request asks for, once it may be read, and those in it that are our own. */
    const readableFolder = async ({ params, query: asked }: Request<{ id: string }>) => {
      const { path } = validated(folderQuery, asked);
      const { volume, all } = await realVolumeOf(params.id, volumes);
      const folder = resolveFolder(path, volume, all);
      checkReadable(folder);
      return { folder, own: await notedFolders(volumes.journalFolder) };
    };
    return [
      get(
        '/volumes',
        operation('listVolumes', 'Volumes attached now, and stand-ins', 200, json('Volumes', list(anything))),
        async (_request, response) => {
          const [found, cards] = await Promise.all([listVolumes(volumes), listDrives(db)]);
          const entries = found.map(({ info }): VolumeEntry => {
            const { deviceKey, spaceKey, device, isSystem, told, ...rest } = info as RealVolumeInfo;
            void [deviceKey, spaceKey, device, isSystem, told];
            const card = cards.find(
              (one) => one.identityKind === info.identity.kind && one.identityValue === info.identity.value,
            );
            return { ...rest, driveId: card?.id ?? null };
          });
          response.json(entries);
        },
      ),
      /** Whether anything else is kept on a drive, noted on its card. */
      patch(
        '/volumes/{id}',
        operation(
          'changeVolume',
          'Whether a volume may be filled to its end',
          204,
          nothing('Kept'),
          all(byId, body(jsonSchemaOf(changeSchema))),
        ),
        async (request, response) => {
          const { usesAll } = validated(changeSchema, request.body);
          const whole = { ...volumes, usedWhole: ALL_WHOLE };
          const { volume } = await realVolumeOf(request.params.id, whole);
          if (usesAll) requireUsedWhole(volume);
          await setUsesAll(db, volume, usesAll);
          response.status(204).end();
        },
      ),
      get(
        '/volumes/{id}/health',
        operation(
          'readHealth',
          'What the drive behind a volume says of itself, or what would let it',
          200,
          json('It', anything),
          byId,
        ),
        async (request, response) => {
          const { volume } = await realVolumeOf(request.params.id, volumes);
          response.json((await healthOf(volume.device)) satisfies HealthEntry);
        },
      ),
      /** Names of the folders in a folder of a volume, or in the nearest above a path that is being typed. */
      get(
        '/volumes/{id}/folders',
        operation('listFolders', 'Folders inside a folder', 200, json('Names', anything), byPath),
        async (request, response) => {
          const { path } = validated(folderQuery, request.query);
          const { volume, all } = await realVolumeOf(request.params.id, volumes);
          response.json(await listFolders(nearestFolder(path, volume, all)));
        },
      ),
      /** The checks of a run, without running. */
      get(
        '/volumes/{id}/folder-check',
        operation(
          'checkFolder',
          'The checks of a run on a folder',
          200,
          json('The folder’s real path', anything),
          all(byPath, query('recipe', { type: 'string', maxLength: 40 }, false, 'Recipe that is to run there.')),
        ),
        async (request, response) => {
          const { path, recipe } = validated(folderQuery, request.query);
          const { volume, all } = await realVolumeOf(request.params.id, volumes);
          const folder = resolveFolder(path, volume, all);
          if (recipe !== undefined && recipeKindById(recipe).readOnly) checkReadable(folder);
          else checkWritable(folder, volume);
          response.json({ path: folder });
        },
      ),
      /** How many files a folder holds, and how much, as a copy of it would take them; tells how far it is. */
      get(
        '/volumes/{id}/payload',
        operation(
          'countFolder',
          'Files of a folder and their bytes, as server-sent events',
          200,
          events('How far it is, and what came of it'),
          byPath,
        ),
        async (request, response) => {
          const { folder, own } = await readableFolder(request);
          await tellWork<FolderCount, FolderPayload>(response, async (tell, signal) => {
            const sizes = await fileSizesIn(folder, { signal, own }, tell);
            return { path: folder, files: sizes.length, bytes: sizes.reduce((sum, size) => sum + size, 0) };
          });
        },
      ),
      /** Holds a folder against its hash lists, and tells how far it is; ends when nobody listens any more. */
      get(
        '/volumes/{id}/verify',
        operation(
          'verifyFolder',
          'A folder held against its hash lists, as server-sent events',
          200,
          events('How far it is, and what came of it'),
          byPath,
        ),
        async (request, response) => {
          const { folder, own } = await readableFolder(request);
          await tellWork<VerifyProgress, VerifiedFolder>(response, (tell, signal) =>
            verifyFolder(folder, tell, signal, own),
          );
        },
      ),
    ];
  },
};

async function realVolumeOf(
  id: string,
  volumes: VolumesContext,
): Promise<{ volume: RealVolumeInfo; all: RealVolumeInfo[] }> {
  const all = (await listVolumes(volumes))
    .map(({ info }) => info)
    .filter((info) => info.kind === 'real') as RealVolumeInfo[];
  const volume = all.find((one) => one.id === id);
  if (!volume) {
    throw new Problem(
      'unknown-volume',
      `There is no volume “${id}” now. Attach the drive again, or choose another volume.`,
      { status: 404 },
    );
  }
  return { volume, all };
}
