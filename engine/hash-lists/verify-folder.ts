import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { lstat, readFile, readdir, realpath } from 'node:fs/promises';
import { join, sep } from 'node:path';
import { createXXHash128, createXXHash3, createXXHash64 } from 'hash-wasm';
import { CHAIN_FILE, HASH_LIST_FOLDER, c4Id } from '#core/5-answers/copies/hash-list.ts';
import {
  LARGEST_LIST_BYTES,
  parseHashList,
  type HashKind,
  type ListedFile,
} from '#engine/hash-lists/read-hash-list.ts';
import type { VerifiedFolder, VerifyProgress } from '#core/5-answers/copies/verified-folder.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { walkFolder, type WalkControl } from '#engine/folders/walk.ts';

/** A hash that is fed piece by piece. */
interface Hasher {
  update(data: Uint8Array): unknown;
  /** As lists write it. */
  digest(): string;
}

async function hasherOf(kind: HashKind): Promise<Hasher> {
  switch (kind) {
    case 'xxh64':
      return createXXHash64();
    case 'xxh3':
      return createXXHash3();
    case 'xxh128':
      return createXXHash128();
    case 'c4': {
      const hash = createHash('sha512');
      return { update: (data) => hash.update(data), digest: () => c4Id(hash.digest()) };
    }
    case 'sha1':
    case 'md5': {
      const hash = createHash(kind);
      return { update: (data) => hash.update(data), digest: () => hash.digest('hex') };
    }
  }
}

const PIECE_BYTES = 4 * 1024 * 1024;
/** Lists of what is wrong are no longer than this; what differs or is missing is counted by them, so no further. */
const MOST_NAMED = 100_000;

interface HashList {
  name: string;
  text: string;
}

/**
 * Reads every file that the hash lists in a folder name, and compares. Nothing is written, no link is followed, and
 * nothing outside the folder is looked at.
 * @param own scratch folders of Tavrox’s own, which nobody lists
 * @throws Problem `bad-input` when there is no list, or one cannot be read
 */
export async function verifyFolder(
  folder: string,
  onProgress: (progress: VerifyProgress) => void,
  signal: AbortSignal,
  own: ReadonlySet<string>,
): Promise<VerifiedFolder> {
  const began = performance.now();
  const root = await realpath(folder).catch(() => {
    throw new Problem('folder-missing', `There is no folder ${folder} that can be opened. Choose another.`, {
      where: 'folder',
    });
  });
  const lists = await listsIn(root);
  if (lists.length === 0) {
    throw new Problem(
      'no-hash-list',
      `There is no media hash list in ${folder}: neither a folder “${HASH_LIST_FOLDER}” nor a file that ends in .mhl. Choose the folder that a copy made, or the one a list lies in.`,
      { where: 'folder' },
    );
  }
  // The first list that names a file is the one that was made when it came.
  const files = new Map<string, ListedFile>();
  for (const { name, text } of lists) {
    for (const file of parseHashList(text, name)) if (!files.has(file.path)) files.set(file.path, file);
  }
  const found: VerifiedFolder = {
    lists: lists.map(({ name }) => name),
    files: files.size,
    alike: 0,
    differing: [],
    missing: [],
    unreadable: [],
    unlisted: await unlistedIn(root, files, { signal, own }),
    changedLists: await changedLists(root, lists),
    bytes: 0,
    seconds: 0,
    stopped: false,
  };
  const ofBytes = [...files.values()].reduce((sum, { bytes }) => sum + (bytes ?? 0), 0);
  let done = 0;
  const tell = (): void => onProgress({ files: done, ofFiles: files.size, bytes: found.bytes, ofBytes });
  for (const file of files.values()) {
    if (signal.aborted) break;
    try {
      const result = await compare(root, file, signal, (bytes) => {
        found.bytes += bytes;
        tell();
      });
      if (result === 'alike') found.alike += 1;
      else if (found[result].length < MOST_NAMED) found[result].push(file.path);
    } catch (error) {
      if (signal.aborted) break;
      const { code = '' } = error as NodeJS.ErrnoException;
      found.unreadable.push({ path: file.path, why: WHY[code] ?? `it could not be read (${code})` });
    }
    done += 1;
    tell();
  }
  found.stopped = signal.aborted;
  found.seconds = (performance.now() - began) / 1000;
  return found;
}

const WHY: Record<string, string> = {
  EACCES: 'it may not be opened',
  EPERM: 'it may not be opened',
  EIO: 'the drive reported a read error',
  ELOOP: 'it is a link',
};

async function compare(
  root: string,
  { path, bytes, kind, hash }: ListedFile,
  signal: AbortSignal,
  onBytes: (bytes: number) => void,
): Promise<'alike' | 'differing' | 'missing'> {
  const full = join(root, path);
  const stats = await lstat(full).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT' || error.code === 'ENOTDIR') return null;
    throw error;
  });
  if (!stats) return 'missing';
  // A link in its place, or a folder of links on the way, is not the file that was listed.
  const real = await realpath(full);
  if (!stats.isFile() || !real.startsWith(root.endsWith(sep) ? root : root + sep)) return 'differing';
  if (bytes !== null && stats.size !== bytes) return 'differing';
  const hasher = await hasherOf(kind);
  for await (const piece of createReadStream(full, { highWaterMark: PIECE_BYTES, signal })) {
    hasher.update(piece as Uint8Array);
    onBytes((piece as Uint8Array).length);
  }
  return hasher.digest() === hash ? 'alike' : 'differing';
}

/** Lists in the folder's own place for them, by the order of their numbers, else those that lie beside the files. */
async function listsIn(root: string): Promise<HashList[]> {
  for (const place of [join(root, HASH_LIST_FOLDER), root]) {
    const names = (await readdir(place).catch(() => [])).filter((name) => /\.mhl$/i.test(name)).sort();
    if (names.length === 0) continue;
    return Promise.all(
      names.map(async (name) => {
        const { size } = await lstat(join(place, name));
        if (size > LARGEST_LIST_BYTES)
          throw new Problem('bad-input', `${name} is larger than 200 MB.`, { where: 'folder' });
        return { name, text: await readFile(join(place, name), 'utf8') };
      }),
    );
  }
  return [];
}

/** Lists whose bytes are not those that the chain file names; lists that it does not name are as old as it. */
async function changedLists(root: string, lists: readonly HashList[]): Promise<string[]> {
  const chain = await readFile(join(root, HASH_LIST_FOLDER, CHAIN_FILE), 'utf8').catch(() => null);
  if (chain === null) return [];
  return lists.flatMap(({ name, text }) => {
    const named = new RegExp(`<path>${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}</path>\\s*<c4>(c4\\w+)</c4>`).exec(
      chain,
    );
    const own = c4Id(createHash('sha512').update(text).digest());
    return named && named[1] !== own ? [name] : [];
  });
}

/** Plain files of a folder that no list names, without the lists themselves; what was seen until it was stopped. */
async function unlistedIn(root: string, listed: ReadonlyMap<string, unknown>, control: WalkControl): Promise<string[]> {
  const found: string[] = [];
  try {
    for await (const { kind, path } of walkFolder(root, control)) {
      const isList = path.startsWith(`${HASH_LIST_FOLDER}/`) || /^[^/]*\.mhl$/i.test(path);
      if (kind === 'file' && !isList && !listed.has(path)) found.push(path);
    }
  } catch (error) {
    if (control.signal?.aborted !== true) throw error;
  }
  return found;
}
