import { accessSync, constants, realpathSync, statSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { dirname, isAbsolute, normalize } from 'node:path';
import type { FolderList } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { reserveBytes, roomBytes } from '#core/4-runs/supply/room.ts';
import { mountOf } from '#engine/system/filesystems.ts';
import { system } from '#engine/system/this-system.ts';
import type { VolumeInfo } from '#engine/volumes/volume.ts';

/** Longest list of folders that is sent; a folder with more is typed. */
const MOST_FOLDERS = 2000;
/** Less cannot be measured sensibly. */
const SMALLEST_ROOM_BYTES = 64e6;

function folderProblem(detail: string, code = 'folder-unusable'): Problem {
  return new Problem(code, detail, { where: 'folder' });
}

/**
 * The real path of a folder on a volume.
 * @throws Problem when it does not exist, is no folder, cannot be entered, or lies elsewhere.
 */
export function resolveFolder(folder: string, volume: VolumeInfo, all: readonly VolumeInfo[]): string {
  if (!isAbsolute(folder) || folder.includes('\0')) {
    throw folderProblem(`“${folder}” is not a full path. Type one that begins with ${volume.mountPoint}.`);
  }
  let real: string;
  try {
    real = realpathSync(normalize(folder));
    if (!statSync(real).isDirectory()) throw folderProblem(`${folder} is a file. Choose a folder.`);
  } catch (error) {
    if (error instanceof Problem) throw error;
    const code = (error as NodeJS.ErrnoException).code;
    if (code === 'ENOENT')
      throw folderProblem(`${folder} does not exist. Choose a folder that does, or make it first.`, 'folder-missing');
    if (code === 'EACCES' || code === 'EPERM')
      throw folderProblem(`${folder} may not be opened by this user. ${system.whenRefused}`, 'no-permission');
    throw folderProblem(`${folder} cannot be opened (${code}). Choose another folder.`);
  }
  // Places that are no volume of their own (a memory disk of the system's, say) differ by device; subvolumes of one btrfs
  // do too, and the parts of an APFS system disk, and belong together all the same.
  const sameDevice =
    statSync(real).dev === statSync(volume.mountPoint).dev || ['btrfs', 'apfs'].includes(volume.filesystem);
  if (mountOf(real, all)?.mountPoint !== volume.mountPoint || !sameDevice) {
    throw folderProblem(
      `${folder} is not on the volume at ${volume.mountPoint}. Choose a folder on it, or the volume that holds this one.`,
      'outside-volume',
    );
  }
  return real;
}

/**
 * The folder that a path being typed is in: itself when it exists, else the nearest one above.
 * @throws Problem when that lies on another volume
 */
export function nearestFolder(path: string, volume: VolumeInfo, all: readonly VolumeInfo[]): string {
  let folder = normalize(path);
  while (folder !== dirname(folder) && !isFolder(folder)) folder = dirname(folder);
  return resolveFolder(folder, volume, all);
}

function isFolder(path: string): boolean {
  try {
    return statSync(path).isDirectory();
  } catch {
    return false;
  }
}

/**
 * Checks that scratch files can be written in a resolved folder.
 * @throws Problem when the volume is read-only, the folder not writable, or there is no room at all.
 */
export function checkWritable(realFolder: string, volume: VolumeInfo): void {
  if (volume.readOnly) {
    throw folderProblem(
      `${volume.mountPoint} is mounted read-only. Mount it writable, or choose another volume.`,
      'read-only',
    );
  }
  try {
    accessSync(realFolder, constants.W_OK | constants.X_OK);
  } catch {
    throw folderProblem(`You may not write in ${realFolder}. Choose a folder you may write in.`, 'no-permission');
  }
  if (roomBytes(volume) < SMALLEST_ROOM_BYTES) {
    throw folderProblem(
      `${volume.mountPoint} has ${bytesText(volume.freeBytes)} free, and ${bytesText(reserveBytes(volume))} of that is always left alone. Free some space first.`,
      'not-enough-room',
    );
  }
}

/** Whether scratch files can be written in a resolved folder. */
export function mayWrite(realFolder: string, volume: VolumeInfo): boolean {
  try {
    checkWritable(realFolder, volume);
    return true;
  } catch (error) {
    if (error instanceof Problem) return false;
    throw error;
  }
}

/** Checks that files of a resolved folder can be read. @throws Problem */
export function checkReadable(realFolder: string): void {
  try {
    accessSync(realFolder, constants.R_OK | constants.X_OK);
  } catch {
    throw folderProblem(`You may not read ${realFolder}. Choose a folder you may read.`, 'no-permission');
  }
}

/** Names of the folders in a folder, sorted; links are not followed. */
export async function listFolders(realFolder: string): Promise<FolderList> {
  let entries;
  try {
    entries = await readdir(realFolder, { withFileTypes: true });
  } catch {
    throw folderProblem(`${realFolder} may not be listed by this user. Choose another folder.`, 'no-permission');
  }
  const names = entries
    .filter((entry) => entry.isDirectory() && !entry.name.startsWith('.'))
    .map((entry) => entry.name)
    .sort((a, b) => a.localeCompare(b, undefined, { numeric: true }));
  return { path: realFolder, names: names.slice(0, MOST_FOLDERS), truncated: names.length > MOST_FOLDERS };
}
