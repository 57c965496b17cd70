import { constants, closeSync, existsSync, fsyncSync, lstatSync, mkdirSync, openSync, readdirSync, readFileSync, realpathSync, rmdirSync, unlinkSync, writeSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { Problem } from '#core/problem.ts';

/**
 * Scratch folders: the only places in which Tavrox writes on somebody's drive. Each is made by
 * exclusive creation, has a name of our own and a marker file inside, and is noted in a journal
 * before it exists, so that whatever happens to this process the next start can remove it, and
 * removes nothing else: only the files that the journal names, then the empty folder.
 */
export interface Scratch {
  folder: string;
  /** Creates a file exclusively and returns its descriptor. `flags` are added to O_RDWR. */
  createFile(index: number, flags: number): number;
  /** Closes and removes everything. */
  remove(): void;
}

export interface JournalEntry {
  runId: string;
  folder: string;
}

const FOLDER_PREFIX = 'tavrox-scratch-';
const MARKER_FILE = 'tavrox-scratch.json';
const DATA_FILE = /^data-\d{1,4}\.bin$/;

function writeWhole(file: string, text: string): void {
  const descriptor = openSync(file, constants.O_WRONLY | constants.O_CREAT | constants.O_EXCL | constants.O_NOFOLLOW, 0o600);
  try {
    writeSync(descriptor, text);
    fsyncSync(descriptor);
  } finally {
    closeSync(descriptor);
  }
}

/**
 * Makes the scratch folder of a run inside `parent`.
 * @param journalFolder where the note is kept until the scratch folder is gone
 * @throws Problem `scratch-failed` when it cannot be made; nothing is left then
 */
export function makeScratch(parent: string, runId: string, journalFolder: string): Scratch {
  const folder = join(realpathSync(parent), `${FOLDER_PREFIX}${runId}`);
  const entry: JournalEntry = { runId, folder };
  const note = join(journalFolder, `${runId}.json`);
  mkdirSync(journalFolder, { recursive: true, mode: 0o700 });
  writeWhole(note, JSON.stringify(entry));
  const descriptors: number[] = [];
  try {
    mkdirSync(folder, { mode: 0o700 });
    writeWhole(join(folder, MARKER_FILE), JSON.stringify({ tavrox: 'scratch/1', runId }));
  } catch (error) {
    removeScratch(entry, note);
    const code = (error as NodeJS.ErrnoException).code;
    throw new Problem('scratch-failed', `No scratch folder could be made in ${parent} (${code}). Choose a folder you may write in.`, {
      where: 'folder',
      cause: error,
    });
  }
  return {
    folder,
    createFile(index, flags) {
      const file = join(folder, `data-${index}.bin`);
      const descriptor = openSync(file, constants.O_RDWR | constants.O_CREAT | constants.O_EXCL | constants.O_NOFOLLOW | flags, 0o600);
      descriptors.push(descriptor);
      return descriptor;
    },
    remove() {
      for (const descriptor of descriptors.splice(0)) closeSync(descriptor);
      removeScratch(entry, note);
    },
  };
}

export type Removal = 'removed' | 'absent' | 'not-ours' | 'failed';

/**
 * Removes one scratch folder and its journal note. Follows no links, and leaves everything in
 * place when the folder holds what Tavrox did not put there.
 */
function removeScratch({ folder, runId }: JournalEntry, note: string): Removal {
  const result = removeFolder(folder, runId);
  // While the drive is unplugged the note stays: the folder may come back with it.
  const parentThere = existsSync(dirname(folder));
  if (result === 'removed' || result === 'not-ours' || (result === 'absent' && parentThere)) {
    unlinkSync(note);
  }
  return result;
}

function removeFolder(folder: string, runId: string): Removal {
  try {
    if (basename(folder) !== `${FOLDER_PREFIX}${runId}`) return 'not-ours';
    if (!lstatSync(folder).isDirectory()) return 'not-ours';
    const names = readdirSync(folder);
    // A crash between making the folder and its marker leaves it empty: rmdir takes only that.
    if (names.length > 0 && !isMarked(folder, runId)) return 'not-ours';
    if (names.some((name) => name !== MARKER_FILE && !DATA_FILE.test(name))) return 'not-ours';
    for (const name of names.filter((one) => one !== MARKER_FILE)) unlinkSync(join(folder, name));
    if (names.length > 0) unlinkSync(join(folder, MARKER_FILE));
    rmdirSync(folder);
    return 'removed';
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'absent' : 'failed';
  }
}

function isMarked(folder: string, runId: string): boolean {
  try {
    const marker = join(folder, MARKER_FILE);
    if (!lstatSync(marker).isFile()) return false;
    return (JSON.parse(readFileSync(marker, 'utf8')) as { runId?: string }).runId === runId;
  } catch {
    return false;
  }
}

/**
 * Removes what earlier processes left. Notes of runs for which `isRunning` are passed over.
 * @returns how each noted folder fared
 */
export function cleanUpScratch(
  journalFolder: string,
  isRunning: (runId: string) => boolean,
): { folder: string; removal: Removal }[] {
  if (!existsSync(journalFolder)) return [];
  const results: { folder: string; removal: Removal }[] = [];
  for (const name of readdirSync(journalFolder)) {
    const note = join(journalFolder, name);
    const entry = readNote(note);
    if (entry === undefined) {
      // A note cut off by a crash was written before its folder was made: nothing to remove.
      unlinkSync(note);
    } else if (!isRunning(entry.runId)) {
      results.push({ folder: entry.folder, removal: removeScratch(entry, note) });
    }
  }
  return results;
}

function readNote(note: string): JournalEntry | undefined {
  try {
    const entry = JSON.parse(readFileSync(note, 'utf8')) as Partial<JournalEntry>;
    return typeof entry.runId === 'string' && typeof entry.folder === 'string' ? (entry as JournalEntry) : undefined;
  } catch {
    return undefined;
  }
}
