import type { Stats } from 'node:fs';
import { lstat, opendir, readlink } from 'node:fs/promises';
import { join } from 'node:path';

/** Something in a folder. Paths are within the folder that is walked, with slashes. */
export type Found =
  | { kind: 'file'; path: string; stats: Stats }
  | { kind: 'folder'; path: string; stats: Stats }
  /** A link, with where it leads; it is not followed. */
  | { kind: 'link'; path: string; to: string }
  /** What is not looked into or cannot be told, and why, for people. */
  | { kind: 'passed-over'; path: string; why: string };

export interface WalkControl {
  /** Ends the walk. */
  signal?: AbortSignal | undefined;
  /** Folders of Tavrox’s own, by their full paths, that are passed over. */
  own?: ReadonlySet<string> | undefined;
}

/** Names of one folder that are asked about at the same time. */
const AT_A_TIME = 64;

/**
 * Everything in a folder, in the order of names, folders before what is in them. Nothing bounds its depth or number.
 * Other volumes mounted inside, what may not be looked at and names that are no text are passed over, and told.
 * @throws the system's error when the folder itself cannot be looked at, and AbortError once the signal aborts
 */
export async function* walkFolder(root: string, { signal, own }: WalkControl = {}): AsyncGenerator<Found> {
  const { dev } = await lstat(root);
  const inside = (folder: string, name: string) => (folder === '' ? name : `${folder}/${name}`);

  async function look(path: string, name: Buffer): Promise<Found> {
    const passedOver = (why: string): Found => ({ kind: 'passed-over', path, why });
    if (!Buffer.from(name.toString('utf8'), 'utf8').equals(name)) {
      return passedOver('Its name is no UTF-8 text, and could not be written again as it is.');
    }
    const full = join(root, path);
    const stats = await lstat(full).catch(() => null);
    if (stats === null) return passedOver('It was gone, or may not be looked at.');
    if (stats.isFile()) return { kind: 'file', path, stats };
    if (stats.isSymbolicLink()) {
      const to = await readlink(full).catch(() => null);
      return to === null ? passedOver('It was gone, or may not be looked at.') : { kind: 'link', path, to };
    }
    if (!stats.isDirectory()) return passedOver('It is a device, a pipe or a socket, and holds no data.');
    if (stats.dev !== dev) return passedOver('Another volume is mounted here.');
    if (own?.has(full)) return passedOver('It is scratch space of Tavrox’s own.');
    return { kind: 'folder', path, stats };
  }

  async function namesIn(folder: string): Promise<Buffer[] | string> {
    const names: Buffer[] = [];
    try {
      // As bytes: a name that is no UTF-8 would else be read as another one.
      const entries = await opendir(join(root, folder), { encoding: 'buffer' as BufferEncoding });
      for await (const entry of entries) names.push(entry.name as unknown as Buffer);
    } catch (error) {
      return `The folder may not be listed (${(error as NodeJS.ErrnoException).code}).`;
    }
    return names.sort((a, b) => Buffer.compare(a, b));
  }

  /** Folders on the way down, each with the names that are still to come and those that were looked at. */
  const open: { folder: string; names: Buffer[]; next: number; looked: Found[] }[] = [];
  const enter = async (folder: string): Promise<Found | null> => {
    const names = await namesIn(folder);
    if (typeof names === 'string') return { kind: 'passed-over', path: folder, why: names };
    open.push({ folder, names, next: 0, looked: [] });
    return null;
  };

  const closed = await enter('');
  if (closed) yield closed;
  for (let level = open.at(-1); level; level = open.at(-1)) {
    signal?.throwIfAborted();
    if (level.looked.length === 0) {
      const names = level.names.slice(level.next, level.next + AT_A_TIME);
      level.next += names.length;
      if (names.length === 0) {
        open.pop();
        continue;
      }
      const { folder } = level;
      level.looked = await Promise.all(names.map((name) => look(inside(folder, name.toString('utf8')), name)));
      level.looked.reverse();
    }
    const found = level.looked.pop()!;
    yield found;
    if (found.kind !== 'folder') continue;
    const shut = await enter(found.path);
    if (shut) yield shut;
  }
}
