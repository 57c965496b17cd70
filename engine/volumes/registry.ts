import { realpathSync } from 'node:fs';
import { dirname } from 'node:path';
import type { Identity } from '#core/4-runs/run/drive-and-volume.ts';
import type { Fault } from '#core/4-runs/stand-ins/faults.ts';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { discoverVolumes } from '#engine/volumes/real/discovery.ts';
import { system } from '#engine/system/this-system.ts';
import { mountOf } from '#engine/system/filesystems.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';
import { realVolume } from '#engine/volumes/real/real-volume.ts';
import { STAND_INS } from '#engine/volumes/stand-in/catalogue.ts';
import type { StandInPace } from '#engine/volumes/stand-in/tools.ts';
import { standInVolume } from '#engine/volumes/stand-in/stand-in-volume.ts';
import type { Volume, VolumeInfo } from '#engine/volumes/volume.ts';

export interface VolumesContext {
  /** Where scratch folders are noted until they are gone. */
  journalFolder: string;
  pace: StandInPace;
  /** Faults switched on in stand-ins, by their ids. */
  faults: Map<string, readonly Fault[]>;
  /** Drives on which nothing else is kept. */
  usedWhole: () => Promise<readonly Identity[]>;
}

/** Where nothing is known of what a person keeps on drives. */
export const NONE_WHOLE: VolumesContext['usedWhole'] = () => Promise.resolve([]);
/** Where a person says so of the drive that is asked about. */
export const ALL_WHOLE: VolumesContext['usedWhole'] = async () =>
  (await discoverVolumes()).map(({ identity }) => identity);

/** @throws Problem where a volume may not be filled to its end although a person says so */
export function requireUsedWhole({ usesAll, label }: VolumeInfo): void {
  if (usesAll) return;
  throw badInput(
    'use-all',
    `use-all: ${label} is simulated, or holds the system or what Tavrox keeps itself: it may not be filled to its end.`,
  );
}

/** All volumes as they are now: the real ones by mount point, then the stand-ins. */
export async function listVolumes({ journalFolder, pace, faults, usedWhole }: VolumesContext): Promise<Volume[]> {
  const [found, whole] = await Promise.all([discoverVolumes(), usedWhole()]);
  const isWhole = ({ kind, value }: Identity) => whole.some((one) => one.kind === kind && one.value === value);
  const real = found.map((info) => ({
    ...info,
    usesAll: isWhole(info.identity) && !holdsTheSystem(info, found, journalFolder),
  }));
  return [
    ...real.map((info) => realVolume(info, { all: real, journalFolder })),
    ...STAND_INS.map((standIn) => standInVolume(standIn, pace, faults.get(standIn.id))),
  ];
}

/** Whether a volume is the system's, or holds what Tavrox keeps itself: neither may be filled to its end. */
function holdsTheSystem(info: RealVolumeInfo, all: readonly VolumeInfo[], journalFolder: string): boolean {
  return info.isSystem || mountOf(existingAbove(journalFolder), all)?.spaceKey === info.spaceKey;
}

/** A folder as the system names it, or the nearest above it that is there. */
function existingAbove(folder: string): string {
  try {
    return realpathSync(folder);
  } catch {
    return folder === dirname(folder) ? folder : existingAbove(dirname(folder));
  }
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
    throw new Problem('unknown-volume', `${path} is on no volume that Tavrox can measure. ${system.whenNowhere}`, {
      where: 'folder',
    });
  return volume;
}
