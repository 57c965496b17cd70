import { closeSync, constants, mkdirSync, openSync, realpathSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { Problem } from '#core/1-ground/problem.ts';
import { system } from '#engine/system/this-system.ts';
import { ownIdentity } from '#engine/locks/process-identity.ts';
import {
  changeNote,
  dropNote,
  forgetTree,
  noteMade,
  noteTree,
  openNote,
  scratchName,
  writeWhole,
  type JournalEntry,
  type KeptScratch,
} from '#engine/scratch/journal.ts';
import { placeOf } from '#engine/scratch/place.ts';
import { whatHappened } from '#engine/system-words.ts';
import { FOLDER_PREFIX, MARKER_FILE, removeScratch, removeTree, type Removal } from '#engine/scratch/removal.ts';

/**
 * Scratch folders: the only places in which Tavrox writes on somebody's drive. Each is made by exclusive creation, has
 * a name of our own and a marker file inside, and is noted in the journal before it exists, as is what is made in it,
 * so that whatever happens to this process the next start can remove that, and removes nothing else.
 */
export interface Scratch {
  folder: string;
  /** Creates a file exclusively and returns its descriptor. `flags` are added to O_RDWR. */
  createFile(flags: number): number;
  /** Creates folders in it for files that workers make by number; `numbers` are the first and the last. */
  createFolders(folders: readonly { path: string; numbers: readonly [from: number, to: number] | null }[]): void;
  /**
   * Creates a folder in it for files of any names, which are noted first: nothing but these is ever
   * removed from it. Paths are within the folder, with slashes.
   */
  createTree(number: number, paths: readonly string[]): CopyTree;
  /**
   * Whether it still lies where it was made; else whether it was moved, or its volume is away: that may be taken off
   * under it, and another lie at its place.
   */
  whereabouts(): 'there' | 'moved' | 'away';
  /** Closes and removes everything. Giving back gigabytes can take a drive seconds. @returns how it went */
  remove(): Promise<Removal>;
  /** Closes everything and leaves it in place until it is given back. */
  keep(kept: KeptScratch): Promise<void>;
}

/** A folder of files of any names in a scratch space. */
export interface CopyTree {
  folder: string;
  /** Gives it a name of its own in a folder, which must not exist yet. @returns where it lies now */
  moveTo(parent: string, name: string): Promise<string>;
  /** Removes what was noted of it. */
  remove(): Promise<void>;
}

/** The run that a scratch space is made for, and the volume that it is made on. */
export interface ScratchOwner {
  runId: string;
  /** Which of several scratch spaces of the run it is. */
  part?: string;
  /** Where the journal lies. */
  journalFolder: string;
  volume: { mountPoint: string; driveLabel: string };
}

/**
 * Makes the scratch folder of a run inside `parent`.
 * @throws Problem `scratch-failed` when it cannot be made; nothing is left then
 */
export async function makeScratch(parent: string, owner: ScratchOwner): Promise<Scratch> {
  const { runId, part, journalFolder, volume } = owner;
  const name = scratchName({ runId, ...(part === undefined ? {} : { part }) });
  const folder = join(realpathSync(parent), `${FOLDER_PREFIX}${name}`);
  const around = placeOf(dirname(folder));
  const entry: JournalEntry = {
    runId,
    ...(part === undefined ? {} : { part }),
    folder,
    driveLabel: volume.driveLabel,
    pathInVolume: relative(volume.mountPoint, folder),
    owner: ownIdentity(),
    ...(around === null ? {} : { parent: around }),
  };
  const note = openNote(journalFolder, entry);
  const fail = (error: unknown): Problem =>
    new Problem(
      'scratch-failed',
      `No scratch folder could be made in ${parent}. ${whatHappened(error)}. Choose another folder, or put that right.`,
      { where: 'folder', cause: error },
    );
  try {
    mkdirSync(folder, { mode: 0o700 });
  } catch (error) {
    // What lies there was there before, and is not ours.
    await dropNote(note);
    throw fail(error);
  }
  try {
    writeWhole(join(folder, MARKER_FILE), JSON.stringify({ tavrox: 'scratch/1', runId, name }));
    const own = placeOf(folder);
    if (own) entry.own = own;
    await changeNote(note, entry);
  } catch (error) {
    await removeScratch(entry, note);
    throw fail(error);
  }
  const descriptors: number[] = [];
  let files = 0;
  let removal: Removal | undefined;
  const closeFiles = (): void => {
    for (const descriptor of descriptors.splice(0)) closeSync(descriptor);
  };
  return {
    folder,
    createFile(flags) {
      // A filesystem that refuses the flags may have made the file all the same: each try has a name of its own.
      const path = `data-${files}.bin`;
      files += 1;
      noteMade(note, [{ kind: 'file', path }]);
      const descriptor = openSync(
        join(folder, path),
        constants.O_RDWR | constants.O_CREAT | constants.O_EXCL | constants.O_NOFOLLOW | flags,
        0o600,
      );
      descriptors.push(descriptor);
      return descriptor;
    },
    createFolders(folders) {
      noteMade(
        note,
        folders.map((one) => ({ kind: 'folder', ...one })),
      );
      for (const { path } of folders) mkdirSync(join(folder, path), { mode: 0o700 });
    },
    createTree(number, paths) {
      // Noted and on the disk before the first of them is made.
      noteTree(note, number, paths);
      const path = join(folder, `copy-${number}`);
      mkdirSync(path, { mode: 0o700 });
      return {
        folder: path,
        async moveTo(into, named) {
          const place = await takePlace(into, named, path);
          await forgetTree(note, number);
          return place;
        },
        async remove() {
          await removeTree(path, new Set(paths));
          await forgetTree(note, number);
        },
      };
    },
    whereabouts() {
      const now = placeOf(folder);
      if (now !== null && now.device === entry.own?.device && now.inode === entry.own.inode) return 'there';
      return around !== null && placeOf(dirname(folder))?.device === around.device ? 'moved' : 'away';
    },
    async remove() {
      closeFiles();
      if (removal?.is !== 'removed') removal = await removeScratch(entry, note);
      return removal;
    },
    async keep(kept) {
      closeFiles();
      await changeNote(note, { ...entry, kept });
    },
  };
}

/** The most folders of one name that are told apart by a number. */
const MOST_NAMESAKES = 999;

/** Moves a folder to a name that is free. */
async function takePlace(parent: string, name: string, from: string): Promise<string> {
  for (let number = 1; number <= MOST_NAMESAKES; number += 1) {
    const place = join(parent, number === 1 ? name : `${name} ${number}`);
    if (await system.moveToFree(from, place)) return place;
  }
  throw new Problem('copy-unplaced', `There are too many folders “${name}” in ${parent}. Choose another folder.`);
}
