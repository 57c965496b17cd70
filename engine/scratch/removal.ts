import type { Stats } from 'node:fs';
import { chmod, lstat, readFile, readdir, rmdir, unlink } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { count } from '#core/1-ground/units/format.ts';
import { changeNote, dropNote, readMade, readTrees, scratchName, type JournalEntry } from '#engine/scratch/journal.ts';
import { isSamePlace, placeOf } from '#engine/scratch/place.ts';
import { whatHappened } from '#engine/system-words.ts';

export const FOLDER_PREFIX = 'tavrox-scratch-';
export const MARKER_FILE = 'tavrox-scratch.json';
const NUMBERED_FILE = /^n-(\d{1,9})\.bin$/;

/** Mount points of the volumes that are attached now; only asked for where something is not at its place. */
export type MountPoints = () => Promise<readonly string[]>;

export const nowhere: MountPoints = () => Promise.resolve([]);

/** How the removal of a scratch folder went; `why` is for people. */
export type Removal = { is: 'removed' } | { is: 'absent' | 'not-ours' | 'failed'; why: string };

const AWAY = 'The volume that it lies on is not attached now. It is removed when that is back.';
const MOVED = 'It is not where it was made: somebody moved or removed it. Forget it if it is gone.';
const OTHER = 'Something else lies at its place. Look there, and forget it if it is gone.';

const FAILED: Record<string, string> = {
  EROFS: 'Its volume is mounted read-only.',
  EACCES: 'This user may not change it.',
  EPERM: 'This user may not change it.',
  EBUSY: 'It is in use.',
};

/**
 * Removes what the journal names of a scratch folder, follows no link, and drops the note once the folder was seen to
 * go; else the note says why it did not.
 * @param mountPoints volumes that it may lie on now, where it is not at its place
 */
export async function removeScratch(
  entry: JournalEntry,
  note: string,
  mountPoints: MountPoints = nowhere,
): Promise<Removal> {
  const removal = await removeFolder(entry, note, mountPoints).catch((error: unknown): Removal => {
    const { code = '' } = error as NodeJS.ErrnoException;
    return { is: 'failed', why: FAILED[code] ?? `${whatHappened(error)}.` };
  });
  if (removal.is === 'removed') await dropNote(note);
  else if (entry.left !== removal.why) await changeNote(note, { ...entry, left: removal.why });
  return removal;
}

async function removeFolder(entry: JournalEntry, note: string, mountPoints: MountPoints): Promise<Removal> {
  const parent = placeOf(dirname(entry.folder));
  const isParentThere = parent !== null && (entry.parent === undefined || isSamePlace(entry.parent, parent));
  const folder = await findFolder(entry, isParentThere, mountPoints);
  if (folder === null) {
    if (!isParentThere) return { is: 'absent', why: AWAY };
    if (await lstat(entry.folder).catch(() => null)) return { is: 'not-ours', why: OTHER };
    // A crash came before it was made: there is nothing to be removed.
    return entry.own === undefined ? { is: 'removed' } : { is: 'absent', why: MOVED };
  }
  for (const { number, paths } of await readTrees(note)) await removeTree(join(folder, `copy-${number}`), paths);
  // What was made last is innermost.
  for (const made of (await readMade(note)).reverse()) {
    const path = join(folder, made.path);
    const stats = await statsOf(path);
    if (made.kind === 'file' && stats?.isFile()) await unlink(path);
    if (made.kind === 'folder' && stats?.isDirectory()) {
      if (made.numbers) await removeNumbered(path, made.numbers);
      await removeIfEmpty(path);
    }
  }
  const rest = (await readdir(folder)).filter((name) => name !== MARKER_FILE);
  if (rest.length > 0) {
    const named = rest.slice(0, 3).join(', ');
    const what = count(rest.length, 'thing', 'things');
    return { is: 'not-ours', why: `It holds ${what} that Tavrox did not make: ${named}${rest.length > 3 ? ' …' : ''}` };
  }
  if (await isMarked(folder, entry)) await unlink(join(folder, MARKER_FILE));
  await rmdir(folder);
  return { is: 'removed' };
}

/** Whether a scratch folder is gone from the folder that it was made in, which is there. */
export async function wasRemoved(entry: JournalEntry): Promise<boolean> {
  const parent = placeOf(dirname(entry.folder));
  if (parent === null || entry.parent === undefined || !isSamePlace(entry.parent, parent)) return false;
  return (await findFolder(entry, true, nowhere)) === null && (await statsOf(entry.folder)) === null;
}

/** Where a scratch folder is now: at its place, beside it under another name, or where its volume is mounted. */
async function findFolder(
  entry: JournalEntry,
  isParentThere: boolean,
  mountPoints: MountPoints,
): Promise<string | null> {
  if (await isMarked(entry.folder, entry)) return entry.folder;
  if (isParentThere) {
    // A crash between making the folder and its marker leaves it empty.
    if (placeOf(entry.folder) && (await readdir(entry.folder)).length === 0) return entry.folder;
    const beside = dirname(entry.folder);
    for (const name of entry.own ? await readdir(beside) : []) {
      const folder = join(beside, name);
      if (placeOf(folder)?.inode === entry.own?.inode && (await isMarked(folder, entry))) return folder;
    }
  }
  for (const mountPoint of await mountPoints()) {
    const folder = join(mountPoint, entry.pathInVolume);
    if (await isMarked(folder, entry)) return folder;
  }
  return null;
}

/** Whether a folder, and no link to one, holds the marker of the scratch space that was noted. */
async function isMarked(folder: string, entry: JournalEntry): Promise<boolean> {
  if (placeOf(folder) === null) return false;
  try {
    const marker = join(folder, MARKER_FILE);
    if (!(await lstat(marker)).isFile()) return false;
    const { name } = (JSON.parse(await readFile(marker, 'utf8')) ?? {}) as { name?: string };
    return name === scratchName(entry);
  } catch (error) {
    // A folder that the journal knows by its place is not another one because its drive cannot read the marker.
    const { code } = error as NodeJS.ErrnoException;
    if (code !== undefined && !ABSENT.has(code) && isOwnPlace(folder, entry)) throw error;
    return false;
  }
}

const isOwnPlace = (folder: string, { own }: JournalEntry): boolean => {
  const place = placeOf(folder);
  return own !== undefined && place !== null && isSamePlace(own, place);
};
const ABSENT = new Set(['ENOENT', 'ENOTDIR']);

const statsOf = (path: string): Promise<Stats | null> =>
  lstat(path).catch((error: NodeJS.ErrnoException) => {
    if (ABSENT.has(error.code ?? '')) return null;
    throw error;
  });

/** Removes of a folder the files that have one of the numbers. */
async function removeNumbered(folder: string, [from, to]: readonly [number, number]): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    const number = Number(NUMBERED_FILE.exec(entry.name)?.[1] ?? NaN);
    if (entry.isFile() && number >= from && number <= to) await unlink(join(folder, entry.name));
  }
}

/** Removes of a folder what is named, follows no links, and then the folders that are empty. */
export async function removeTree(folder: string, paths: ReadonlySet<string>, inside = ''): Promise<void> {
  if (!(await statsOf(folder))?.isDirectory()) return;
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    const path = `${inside}${entry.name}`;
    if (!paths.has(path)) continue;
    const full = join(folder, entry.name);
    if (entry.isDirectory()) {
      // A folder may have been made as its source is: without the right to change it.
      await chmod(full, 0o700);
      await removeTree(full, paths, `${path}/`);
    } else await unlink(full);
  }
  await removeIfEmpty(folder);
}

const removeIfEmpty = (folder: string): Promise<void> =>
  rmdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (!['ENOTEMPTY', 'EEXIST', 'ENOENT'].includes(error.code ?? '')) throw error;
  });
