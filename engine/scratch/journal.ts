import {
  appendFileSync,
  closeSync,
  constants,
  existsSync,
  fsyncSync,
  mkdirSync,
  openSync,
  writeFileSync,
} from 'node:fs';
import { readFile, readdir, rename, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { ProcessIdentity } from '#engine/locks/process-identity.ts';
import type { Place } from '#engine/scratch/place.ts';

/**
 * The journal: a note of each scratch folder, written before it exists, and beside it lists of what is made in it,
 * written before that. What these name may be removed, and nothing else; a note goes when its folder was seen to go.
 */
export interface JournalEntry {
  runId: string;
  /** Which of the run's scratch spaces it is, where it has several. */
  part?: string;
  folder: string;
  driveLabel: string;
  /** Its way from the mount point of its volume, so that it is found where that is mounted elsewhere. */
  pathInVolume: string;
  /** The process that made it: while that lives, nobody else removes it. */
  owner: ProcessIdentity;
  /** Set once the run ended and its files are to stay. */
  kept?: KeptScratch;
  /** The folder it was made in, so that the same is known from another that lies at its place. */
  parent?: Place;
  /** The folder itself, once it was made. */
  own?: Place;
  /** Why it could not be removed when that was last tried. */
  left?: string;
}

/** What is known of a kept scratch space, to check what is read from it later. */
export interface KeptScratch {
  driveLabel: string;
  bytes: number;
  keptAt: string;
}

/** Something that was to be made in a scratch folder. Paths are within it, with slashes. */
export type Made =
  | { kind: 'file'; path: string }
  /** A folder, with files of the numbers from and to which workers make in it; null for none. */
  | { kind: 'folder'; path: string; numbers: readonly [from: number, to: number] | null };

export const scratchName = ({ runId, part }: Pick<JournalEntry, 'runId' | 'part'>): string =>
  part === undefined ? runId : `${runId}-${part}`;

export const noteFile = (journalFolder: string, entry: Pick<JournalEntry, 'runId' | 'part'>): string =>
  join(journalFolder, `${scratchName(entry)}.json`);

/** Writes a file that must not exist, through to the disk. */
export function writeWhole(file: string, text: string): void {
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

/** Notes a scratch folder that is to be made. */
export function openNote(journalFolder: string, entry: JournalEntry): string {
  mkdirSync(journalFolder, { recursive: true, mode: 0o700 });
  const note = noteFile(journalFolder, entry);
  writeWhole(note, JSON.stringify(entry));
  return note;
}

const draftFile = (note: string): string => `${note}.part`;

/** Replaces a note; a crash leaves the old or the new one, and with the old one perhaps a draft of the new. */
export async function changeNote(note: string, entry: JournalEntry): Promise<void> {
  await writeFile(draftFile(note), JSON.stringify(entry), { mode: 0o600 });
  await rename(draftFile(note), note);
}

const isPlace = (value: unknown): boolean =>
  typeof value === 'object' && value !== null && typeof (value as Place).inode === 'number';

/** A note; `none` for one that was cut off before its folder was made, or is none of ours. */
export async function readNote(note: string): Promise<JournalEntry | undefined> {
  try {
    const entry = JSON.parse(await readFile(note, 'utf8')) as Partial<JournalEntry>;
    const isWhole =
      typeof entry.runId === 'string' &&
      typeof entry.folder === 'string' &&
      typeof entry.pathInVolume === 'string' &&
      typeof entry.owner?.pid === 'number' &&
      typeof entry.owner.startTicks === 'string' &&
      (entry.parent === undefined || isPlace(entry.parent)) &&
      (entry.own === undefined || isPlace(entry.own)) &&
      (entry.kept === undefined || typeof entry.kept?.bytes === 'number') &&
      basename(note) === `${scratchName(entry as JournalEntry)}.json`;
    return isWhole ? (entry as JournalEntry) : undefined;
  } catch {
    return undefined;
  }
}

export interface Noted {
  note: string;
  entry: JournalEntry;
}

/** All notes that can be read; `unread` hears of the files that are none. */
export async function notesIn(
  journalFolder: string,
  unread: (file: string) => void = () => undefined,
): Promise<Noted[]> {
  if (!existsSync(journalFolder)) return [];
  const noted: Noted[] = [];
  for (const name of (await readdir(journalFolder)).filter((one) => one.endsWith('.json'))) {
    const note = join(journalFolder, name);
    const entry = await readNote(note);
    if (entry === undefined) unread(note);
    else noted.push({ note, entry });
  }
  return noted;
}

/** Folders of all scratch spaces that are noted: going on, kept or left. */
export async function notedFolders(journalFolder: string): Promise<Set<string>> {
  return new Set((await notesIn(journalFolder)).map(({ entry }) => entry.folder));
}

const madeFile = (note: string): string => note.replace(/\.json$/, '.made');

/** Notes what is to be made in a scratch folder, through to the disk. */
export function noteMade(note: string, made: readonly Made[]): void {
  const lines = made.map((one) => {
    if (one.kind === 'file') return `file ${one.path}`;
    return `folder ${one.path}${one.numbers ? ` ${one.numbers[0]} ${one.numbers[1]}` : ''}`;
  });
  const descriptor = openSync(madeFile(note), constants.O_WRONLY | constants.O_CREAT | constants.O_APPEND, 0o600);
  try {
    appendFileSync(descriptor, `${lines.join('\n')}\n`);
    fsyncSync(descriptor);
  } finally {
    closeSync(descriptor);
  }
}

/** Steps of a path of our own making: they lead nowhere else. */
const OWN_PATH = String.raw`[a-z][\w-]*(?:\.bin)?(?:/[a-z][\w-]*(?:\.bin)?)?`;
const MADE_LINE = new RegExp(String.raw`^(?:file (${OWN_PATH})|folder (${OWN_PATH})(?: (\d{1,9}) (\d{1,9}))?)$`);

/** What was noted to be made, in its order. A line that a crash cut off was of something that was not made yet. */
export async function readMade(note: string): Promise<Made[]> {
  const text = await readFile(madeFile(note), 'utf8').catch(() => '');
  return text.split('\n').flatMap((line): Made[] => {
    const [, file, folder, from, to] = MADE_LINE.exec(line) ?? [];
    if (file !== undefined) return [{ kind: 'file', path: file }];
    if (folder === undefined) return [];
    return [{ kind: 'folder', path: folder, numbers: from === undefined ? null : [Number(from), Number(to)] }];
  });
}

const treeFile = (note: string, number: number): string => note.replace(/\.json$/, `.copy-${number}.paths`);

/** Notes the paths of a tree of files of any names. */
export const noteTree = (note: string, number: number, paths: readonly string[]): void =>
  writeWhole(treeFile(note, number), paths.join('\0'));

export const forgetTree = (note: string, number: number): Promise<void> => rm(treeFile(note, number), { force: true });

/** Numbers of the trees that are noted, with their paths. */
export async function readTrees(note: string): Promise<{ number: number; paths: ReadonlySet<string> }[]> {
  const start = `${basename(note, '.json')}.copy-`;
  const trees: { number: number; paths: ReadonlySet<string> }[] = [];
  for (const name of await readdir(dirname(note))) {
    if (!name.startsWith(start) || !name.endsWith('.paths')) continue;
    const number = Number(name.slice(start.length, -'.paths'.length));
    const text = await readFile(join(dirname(note), name), 'utf8').catch(() => '');
    if (Number.isInteger(number)) trees.push({ number, paths: new Set(text.split('\0')) });
  }
  return trees;
}

/** Drops a note with all its lists, and the draft that a crash left of it. */
export async function dropNote(note: string): Promise<void> {
  for (const { number } of await readTrees(note)) await forgetTree(note, number);
  await rm(madeFile(note), { force: true });
  await rm(draftFile(note), { force: true });
  await rm(note, { force: true });
}
