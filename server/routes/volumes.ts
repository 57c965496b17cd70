import { Router } from 'express';
import { object, string } from 'yup';
import { discoverVolumes, type RealVolumeInfo } from '#engine/volumes/real/discovery.ts';
import { checkWritable, listFolders, nearestFolder, resolveFolder } from '#engine/volumes/real/folder.ts';
import { listVolumes } from '#engine/volumes/registry.ts';
import type { VolumeEntry } from '#core/api/wire.ts';
import { Problem } from '#core/problem.ts';
import { validated } from '#server/http/validate.ts';
import type { RouteContext } from '#server/routes/context.ts';
import { listDrives } from '#server/store/drives.ts';

const folderQuery = object({ path: string().required('path: must be given.').max(4096, 'path: is too long.') });

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
    const { path } = validated(folderQuery, request.query);
    const { volume, all } = await realVolumeOf(request.params.id);
    const folder = resolveFolder(path, volume, all);
    checkWritable(folder, volume);
    response.json({ path: folder });
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
