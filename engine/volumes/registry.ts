import { realpathSync } from 'node:fs';
import type { Fault } from '#core/4-runs/stand-ins/faults.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { discoverVolumes } from '#engine/volumes/real/discovery.ts';
import { mountOf } from '#engine/volumes/real/mounts.ts';
import { realVolume } from '#engine/volumes/real/real-volume.ts';
import { STAND_INS } from '#engine/volumes/stand-in/catalogue.ts';
import type { StandInPace } from '#engine/volumes/stand-in/tools.ts';
import { standInVolume } from '#engine/volumes/stand-in/stand-in-volume.ts';
import type { Volume } from '#engine/volumes/volume.ts';

export interface VolumesContext {
  /** Where scratch folders are noted until they are gone. */
  journalFolder: string;
  pace: StandInPace;
  /** Faults switched on in stand-ins, by their ids. */
  faults: Map<string, readonly Fault[]>;
}

/** All volumes as they are now: the real ones by mount point, then the stand-ins. */
export async function listVolumes({ journalFolder, pace, faults }: VolumesContext): Promise<Volume[]> {
  const real = await discoverVolumes();
  return [
    ...real.map((info) => realVolume(info, { all: real, journalFolder })),
    ...STAND_INS.map((standIn) => standInVolume(standIn, pace, faults.get(standIn.id))),
  ];
}

/** @throws Problem 404 when no such volume is attached now. */
export async function volumeById(id: string, context: VolumesContext): Promise<Volume> {
  const volume = (await listVolumes(context)).find((one) => one.info.id === id);
  if (!volume) {
    throw new Problem(
      'unknown-volume',
      `There is no volume “${id}” now. Attach the drive again, or choose another volume.`,
      {
        status: 404,
        where: 'volume',
      },
    );
  }
  return volume;
}

/**
 * The volume that a path on the command line means: a stand-in by its name, else the real one
 * that holds the folder.
 */
export async function volumeForPath(path: string, context: VolumesContext): Promise<Volume> {
  const volumes = await listVolumes(context);
  const standIn = volumes.find(
    (one) => one.info.kind === 'stand-in' && [one.info.id, one.info.identity.value].includes(path),
  );
  if (standIn) return standIn;
  let real: string;
  try {
    real = realpathSync(path);
  } catch {
    throw new Problem('folder-missing', `${path} does not exist. Choose a folder that does, or make it first.`, {
      where: 'folder',
    });
  }
  const info = mountOf(
    real,
    volumes.filter((one) => one.info.kind === 'real').map((one) => one.info),
  );
  const volume = volumes.find((one) => one.info.id === info?.id);
  if (!volume)
    throw new Problem('unknown-volume', `${path} is on no volume that Tavrox can measure.`, { where: 'folder' });
  return volume;
}
