import { Router } from 'express';
import { object, string } from 'yup';
import { discoverVolumes } from '#engine/volumes/real/discovery.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';
import { listKept, removeKept } from '#engine/scratch/scratch.ts';
import { STAND_INS } from '#engine/volumes/stand-in/catalogue.ts';
import {
  checkReadable,
  checkWritable,
  listFolders,
  nearestFolder,
  resolveFolder,
} from '#engine/volumes/real/folder.ts';
import { listVolumes } from '#engine/volumes/registry.ts';
import type { VolumeEntry } from '#core/api/wire.ts';
import { Problem } from '#core/problem.ts';
import { recipeKindById } from '#core/recipes/registry.ts';
import { faultsSchema } from '#core/stand-ins/faults.ts';
import { validated } from '#server/http/validate.ts';
import type { RouteContext } from '#server/routes/context.ts';
import { listDrives } from '#server/store/drives.ts';

const folderQuery = object({
  path: string().required('path: must be given.').max(4096, 'path: is too long.'),
  /** Recipe that is to run there: some only read. */
  recipe: string().max(40).optional(),
});
const faultsBody = object({ faults: faultsSchema }).noUnknown('body: ${unknown} is not known.');

export function volumeRoutes({ db, volumes }: RouteContext): Router {
  const router = Router();

  router.get('/volumes', async (_request, response) => {
    const [found, cards] = await Promise.all([listVolumes(volumes), listDrives(db)]);
    const entries = found.map(({ info }): VolumeEntry => {
      const { deviceKey, device, ...rest } = info as RealVolumeInfo;
      void [deviceKey, device];
      const card = cards.find(
        (one) => one.identityKind === info.identity.kind && one.identityValue === info.identity.value,
      );
      return { ...rest, driveId: card?.id ?? null };
    });
    response.json(entries);
  });

  /** Names of the folders in a folder of a volume, or in the nearest above a path that is being typed. */
  router.get('/volumes/:id/folders', async (request, response) => {
    const { path } = validated(folderQuery, request.query);
    const { volume, all } = await realVolumeOf(request.params.id);
    response.json(await listFolders(nearestFolder(path, volume, all)));
  });

  /** The checks of a run, without running. */
  router.get('/volumes/:id/folder-check', async (request, response) => {
    const { path, recipe } = validated(folderQuery, request.query);
    const { volume, all } = await realVolumeOf(request.params.id);
    const folder = resolveFolder(path, volume, all);
    if (recipe !== undefined && recipeKindById(recipe).readOnly) checkReadable(folder);
    else checkWritable(folder, volume);
    response.json({ path: folder });
  });

  /** Faults that are switched on in a stand-in, for the runs that start from now on. */
  router.put('/stand-ins/:id/faults', (request, response) => {
    const { faults } = validated(faultsBody, request.body);
    const { id } = request.params;
    if (!STAND_INS.some((one) => one.id === id)) {
      throw new Problem('unknown-volume', `There is no stand-in “${id}”.`, { status: 404, where: 'id' });
    }
    volumes.faults.set(id, faults);
    response.json({ faults });
  });

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
}

async function realVolumeOf(id: string): Promise<{ volume: RealVolumeInfo; all: RealVolumeInfo[] }> {
  const all = await discoverVolumes();
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
