import {
  constants,
  closeSync,
  existsSync,
  fsyncSync,
  lstatSync,
  mkdirSync,
  openSync,
  realpathSync,
  writeFileSync,
} from 'node:fs';
import { chmod, lstat, mkdir, readFile, readdir, rename, rm, rmdir, unlink, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { Problem } from '#core/problem.ts';
import { isAlive, isSameProcess, ownIdentity, type ProcessIdentity } from '#engine/locks/process-identity.ts';

/**
 * Scratch folders: the only places in which Tavrox writes on somebody's drive. Each is made by
 * exclusive creation, has a name of our own and a marker file inside, and is noted in a journal
 * before it exists, so that whatever happens to this process the next start can remove it, and
 * removes nothing else: only the files that the journal names, then the empty folder.
 */
export interface Scratch {
  folder: string;
  /** Creates a file exclusively and returns its descriptor. `flags` are added to O_RDWR. */
  createFile(flags: number): number;
  /** Creates a folder in it for files that workers make by number. */
  createFolder(name: string): string;
  /**
   * Creates a folder in it for files of any names, which are noted first: nothing but these is ever
   * removed from it. Paths are within the folder, with slashes.
   */
  createTree(number: number, paths: readonly string[]): CopyTree;
  /** Whether it still lies where it was made: a volume may be taken off under it, and another lie at its place. */
  isThere(): boolean;
  /** Closes and removes everything. Giving back gigabytes can take a drive seconds. */
  remove(): Promise<void>;
  /** Closes everything and leaves it in place until it is given back. */
  keep(kept: KeptScratch): Promise<void>;
}

/** What is known of a kept scratch space, to check what is read from it later. */
export interface KeptScratch {
  driveLabel: string;
  bytes: number;
  keptAt: string;
}

/** A folder of files of any names in a scratch space. */
export interface CopyTree {
  folder: string;
  /** Gives it a name of its own in a folder, which must not exist yet. @returns where it lies now */
  moveTo(parent: string, name: string): Promise<string>;
  /** Removes what was noted of it. */
  remove(): Promise<void>;
}

export interface JournalEntry {
  runId: string;
  /** Which of the run's scratch spaces it is, where it has several. */
  part?: string;
  folder: string;
  /** The process that made it: while that lives, nobody else removes it. */
  owner: ProcessIdentity;
  /** Set once the run ended and its files are to stay. */
  kept?: KeptScratch;
  /** The folder it was made in, so that the same is known from another that lies at its place. */
  parent?: Place;
}

/** What tells a folder from another of its name: its filesystem, its number there, and when it was made. */
interface Place {
  device: number;
  inode: number;
  madeAt: number;
}

function placeOf(folder: string): Place | null {
  try {
    const { dev, ino, birthtimeMs } = lstatSync(folder);
    return { device: dev, inode: ino, madeAt: Math.round(birthtimeMs) };
  } catch {
    return null;
  }
}

/** Whether the folder in which a scratch space was made is there: after a drive came back its filesystem has another number. */
function isParentThere({ folder, parent }: JournalEntry): boolean {
  const now = placeOf(dirname(folder));
  if (now === null || parent === undefined) return now !== null;
  return now.inode === parent.inode && (now.device === parent.device || now.madeAt === parent.madeAt);
}

const FOLDER_PREFIX = 'tavrox-scratch-';
/** Folders of files with names of their own, see createTree. */
const TREE_FOLDER = /^copy-\d{1,3}$/;
const MARKER_FILE = 'tavrox-scratch.json';
const DATA_FILE = /^data-\d{1,4}\.bin$/;
/** Folders of numbered files, for recipes that make many; they hold only folders and files of such names. */
const OWN_FOLDER = /^(frames-\d{1,3}|files|f-\d{1,6})$/;
const NUMBERED_FILE = /^n-\d{1,9}\.bin$/;

function writeWhole(file: string, text: string): void {
  const descriptor = openSync(
    file,
    constants.O_WRONLY | constants.O_CREAT | constants.O_EXCL | constants.O_NOFOLLOW,
    0o600,
  );
  try {
    writeFileSync(descriptor, text);
    fsyncSync(descriptor);
  } finally {
    closeSync(descriptor);
  }
}

const scratchName = ({ runId, part }: Pick<JournalEntry, 'runId' | 'part'>): string =>
  part === undefined ? runId : `${runId}-${part}`;

/**
 * Makes the scratch folder of a run inside `parent`.
 * @param journalFolder where the note is kept until the scratch folder is gone
 * @param part which of several scratch spaces of the run it is
 * @throws Problem `scratch-failed` when it cannot be made; nothing is left then
 */
export async function makeScratch(
  parent: string,
  runId: string,
  journalFolder: string,
  part?: string,
): Promise<Scratch> {
  const name = scratchName({ runId, ...(part === undefined ? {} : { part }) });
  const folder = join(realpathSync(parent), `${FOLDER_PREFIX}${name}`);
  const place = placeOf(dirname(folder));
  const entry: JournalEntry = {
    runId,
    ...(part === undefined ? {} : { part }),
    folder,
    owner: ownIdentity(),
    ...(place === null ? {} : { parent: place }),
  };
  const note = join(journalFolder, `${name}.json`);
  mkdirSync(journalFolder, { recursive: true, mode: 0o700 });
  writeWhole(note, JSON.stringify(entry));
  const descriptors: number[] = [];
  let files = 0;
  try {
    mkdirSync(folder, { mode: 0o700 });
    writeWhole(join(folder, MARKER_FILE), JSON.stringify({ tavrox: 'scratch/1', runId }));
  } catch (error) {
    await removeScratch(entry, note);
    const code = (error as NodeJS.ErrnoException).code;
    throw new Problem(
      'scratch-failed',
      `No scratch folder could be made in ${parent} (${code}). Choose a folder you may write in.`,
      {
        where: 'folder',
        cause: error,
      },
    );
  }
  return {
    folder,
    createFile(flags) {
      // A filesystem that refuses the flags may have made the file all the same: each try has a name of its own.
      const file = join(folder, `data-${files}.bin`);
      files += 1;
      const descriptor = openSync(
        file,
        constants.O_RDWR | constants.O_CREAT | constants.O_EXCL | constants.O_NOFOLLOW | flags,
        0o600,
      );
      descriptors.push(descriptor);
      return descriptor;
    },
    createFolder(name) {
      const path = join(folder, name);
      mkdirSync(path, { mode: 0o700 });
      return path;
    },
    createTree(number, paths) {
      // Noted and on the disk before the first of them is made.
      writeWhole(treeNote(note, number), paths.join('\0'));
      const path = join(folder, `copy-${number}`);
      mkdirSync(path, { mode: 0o700 });
      return {
        folder: path,
        async moveTo(parent, name) {
          const place = await takePlace(parent, name, path);
          await rm(treeNote(note, number), { force: true });
          return place;
        },
        async remove() {
          await removeTree(path, new Set(paths));
          await rm(treeNote(note, number), { force: true });
        },
      };
    },
    isThere: () => place === null || placeOf(folder)?.device === place.device,
    async remove() {
      for (const descriptor of descriptors.splice(0)) closeSync(descriptor);
      await removeScratch(entry, note);
    },
    async keep(kept) {
      for (const descriptor of descriptors.splice(0)) closeSync(descriptor);
      await writeFile(`${note}.part`, JSON.stringify({ ...entry, kept }), { mode: 0o600 });
      await rename(`${note}.part`, note);
    },
  };
}

const treeNote = (note: string, number: number): string => note.replace(/\.json$/, `.copy-${number}.paths`);

/** The most folders of one name that are told apart by a number. */
const MOST_NAMESAKES = 999;

/** Moves a folder to a name that is free: an empty folder is made there first, which the move replaces. */
async function takePlace(parent: string, name: string, from: string): Promise<string> {
  for (let number = 1; number <= MOST_NAMESAKES; number += 1) {
    const place = join(parent, number === 1 ? name : `${name} ${number}`);
    try {
      await mkdir(place);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'EEXIST') continue;
      throw error;
    }
    try {
      await rename(from, place);
      return place;
    } catch (error) {
      // Somebody put something into it in between: that stays theirs.
      if (!['ENOTEMPTY', 'EEXIST'].includes((error as NodeJS.ErrnoException).code ?? '')) {
        await rmdir(place).catch(() => undefined);
        throw error;
      }
    }
  }
  throw new Problem('copy-unplaced', `There are too many folders “${name}” in ${parent}. Choose another folder.`);
}

/** Removes of a folder what is named, follows no links, and then the folders that are empty. */
async function removeTree(folder: string, paths: ReadonlySet<string>, inside = ''): Promise<void> {
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
  await rmdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'ENOTEMPTY' && error.code !== 'EEXIST') throw error;
  });
}

export type Removal = 'removed' | 'absent' | 'not-ours' | 'failed';

/**
 * Removes one scratch folder and its journal note. Follows no links, and leaves everything in
 * place when the folder holds what Tavrox did not put there.
 */
async function removeScratch(entry: JournalEntry, note: string): Promise<Removal> {
  const result = await removeFolder(entry, note);
  // While the drive is away the note stays, whatever lies at its place: the folder may come back with it.
  if (result === 'removed' || result === 'not-ours' || (result === 'absent' && isParentThere(entry))) {
    await rm(note, { force: true });
    for (const list of await treeNotes(note)) await rm(list, { force: true });
  }
  return result;
}

/** The lists of what was to be made in the trees of a scratch space. */
async function treeNotes(note: string): Promise<string[]> {
  const [folder, start] = [dirname(note), `${basename(note, '.json')}.copy-`];
  const names = existsSync(folder) ? await readdir(folder) : [];
  return names.filter((name) => name.startsWith(start) && name.endsWith('.paths')).map((name) => join(folder, name));
}

/** What may be removed of a tree; nothing when there is no list of it. */
async function pathsOfTree(note: string, treeName: string): Promise<ReadonlySet<string>> {
  try {
    return new Set((await readFile(treeNote(note, Number(treeName.slice('copy-'.length))), 'utf8')).split('\0'));
  } catch {
    return new Set();
  }
}

async function removeFolder(entry: JournalEntry, note: string): Promise<Removal> {
  const { folder, runId } = entry;
  try {
    if (basename(folder) !== `${FOLDER_PREFIX}${scratchName(entry)}`) return 'not-ours';
    if (!(await lstat(folder)).isDirectory()) return 'not-ours';
    for (const { name, isDirectory } of await entriesOf(folder)) {
      if (!isDirectory || !TREE_FOLDER.test(name) || !(await isMarked(folder, runId))) continue;
      await removeTree(join(folder, name), await pathsOfTree(note, name));
    }
    const names = await readdir(folder);
    // A crash between making the folder and its marker leaves it empty: rmdir takes only that.
    if (names.length > 0 && !(await isMarked(folder, runId))) return 'not-ours';
    if (!(await isAllOurs(folder, 0))) return 'not-ours';
    for (const name of names.filter((one) => one !== MARKER_FILE)) {
      if (OWN_FOLDER.test(name)) await removeNumbered(join(folder, name));
      else await unlink(join(folder, name));
    }
    if (names.length > 0) await unlink(join(folder, MARKER_FILE));
    await rmdir(folder);
    return 'removed';
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'absent' : 'failed';
  }
}

async function entriesOf(folder: string): Promise<{ name: string; isDirectory: boolean }[]> {
  const entries = await readdir(folder, { withFileTypes: true });
  return entries.map((entry) => ({ name: entry.name, isDirectory: entry.isDirectory() }));
}

/** Whether a scratch folder holds nothing but what Tavrox puts there. */
async function isAllOurs(folder: string, level: number): Promise<boolean> {
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    if (entry.isDirectory()) {
      if (!OWN_FOLDER.test(entry.name) || level > 1) return false;
      if (!(await isAllOurs(join(folder, entry.name), level + 1))) return false;
    } else {
      const known =
        level === 0 ? entry.name === MARKER_FILE || DATA_FILE.test(entry.name) : NUMBERED_FILE.test(entry.name);
      if (!known) return false;
    }
  }
  return true;
}

/** Removes a folder of numbered files, and the folders of them in it. */
async function removeNumbered(folder: string): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    if (entry.isDirectory()) await removeNumbered(join(folder, entry.name));
    else await unlink(join(folder, entry.name));
  }
  await rmdir(folder);
}

async function isMarked(folder: string, runId: string): Promise<boolean> {
  try {
    const marker = join(folder, MARKER_FILE);
    if (!(await lstat(marker)).isFile()) return false;
    return (JSON.parse(await readFile(marker, 'utf8')) as { runId?: string }).runId === runId;
  } catch {
    return false;
  }
}

/**
 * Removes what earlier processes left. Runs of this process for which `isRunning`, and those of other
 * processes that live, are passed over.
 * @returns how each noted folder fared
 */
export async function cleanUpScratch(
  journalFolder: string,
  isRunning: (runId: string) => boolean,
): Promise<{ folder: string; removal: Removal }[]> {
  if (!existsSync(journalFolder)) return [];
  const results: { folder: string; removal: Removal }[] = [];
  for (const name of await noteNames(journalFolder)) {
    const note = join(journalFolder, name);
    const entry = await readNote(note);
    if (entry === undefined) {
      // A note cut off by a crash was written before its folder was made: nothing to remove.
      await unlink(note);
    } else if (entry.kept) {
      // Kept on purpose; forgotten only when somebody removed it by hand.
      if (isParentThere(entry) && !existsSync(entry.folder)) await unlink(note);
    } else if (!isInUse(entry, isRunning)) {
      results.push({ folder: entry.folder, removal: await removeScratch(entry, note) });
    }
  }
  return results;
}

const noteNames = async (journalFolder: string): Promise<string[]> =>
  (await readdir(journalFolder)).filter((name) => name.endsWith('.json'));

function isInUse({ runId, owner }: JournalEntry, isRunning: (runId: string) => boolean): boolean {
  return isSameProcess(owner, ownIdentity()) ? isRunning(runId) : isAlive(owner);
}

async function readNote(note: string): Promise<JournalEntry | undefined> {
  try {
    const entry = JSON.parse(await readFile(note, 'utf8')) as Partial<JournalEntry>;
    const whole = typeof entry.runId === 'string' && typeof entry.folder === 'string' && entry.owner !== undefined;
    return whole ? (entry as JournalEntry) : undefined;
  } catch {
    return undefined;
  }
}

/** Folders of all scratch spaces that are noted: going on, kept or left. */
export async function notedFolders(journalFolder: string): Promise<Set<string>> {
  if (!existsSync(journalFolder)) return new Set();
  const entries = await Promise.all(
    (await noteNames(journalFolder)).map((name) => readNote(join(journalFolder, name))),
  );
  return new Set(entries.flatMap((entry) => entry?.folder ?? []));
}

/** Scratch spaces that were kept, for a list. */
export async function listKept(journalFolder: string): Promise<(KeptScratch & { runId: string; folder: string })[]> {
  if (!existsSync(journalFolder)) return [];
  const kept = [];
  for (const name of await noteNames(journalFolder)) {
    const entry = await readNote(join(journalFolder, name));
    if (entry?.kept) kept.push({ runId: entry.runId, folder: entry.folder, ...entry.kept });
  }
  return kept;
}

/** Gives back a kept scratch space. @throws Problem 404 when there is none of this run */
export async function removeKept(journalFolder: string, runId: string): Promise<Removal> {
  const note = join(journalFolder, `${runId}.json`);
  const entry = /^[\w-]+$/.test(runId) ? await readNote(note) : undefined;
  if (!entry?.kept) {
    throw new Problem('not-kept', `No scratch file of the run “${runId}” is kept. It may have been removed already.`, {
      status: 404,
    });
  }
  return removeScratch(entry, note);
}
