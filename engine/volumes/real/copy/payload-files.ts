import { lstat, opendir, readlink } from 'node:fs/promises';
import { join } from 'node:path';
import type { CopyNote } from '#core/run/copy-record.ts';
import { isScratchName } from '#engine/scratch/scratch.ts';
import { bytesText } from '#core/units/format.ts';

/** A plain file of what is copied. */
export interface PayloadFile {
  /** Within the source folder, with slashes. */
  path: string;
  bytes: number;
  modifiedSeconds: number;
  mode: number;
}

/** What there is to be copied. */
export interface PayloadFiles {
  files: PayloadFile[];
  /** Folders before what is in them. */
  folders: { path: string; mode: number }[];
  /** Links, which are made anew and not followed. */
  links: { path: string; to: string }[];
  /** What is not copied or not copied as it is, for people. */
  notes: Omit<CopyNote, 'leg'>[];
}

/** More files than this are not copied in one run. */
export const MOST_PAYLOAD_FILES = 1_000_000;
/** `blocks` of stat counts 512 bytes whatever the filesystem's own. */
const STAT_BLOCK_BYTES = 512;
/** A file whose blocks hold less than this share of its size has holes in it, or is compressed. */
const WHOLE_SHARE = 0.98;
/** Holes of less are the end of a last block. */
const LEAST_HOLE_BYTES = 65_536;

const skipped = (path: string, detail: string): Omit<CopyNote, 'leg'> => ({ kind: 'skipped', end: null, path, detail });

/**
 * Everything in a folder, in the order of names. Links are listed and not followed; other devices mounted
 * inside, what may not be looked at, what is neither file, folder nor link, and names that are no text are
 * passed over and told.
 */
export async function listPayload(root: string): Promise<PayloadFiles> {
  const found: PayloadFiles = { files: [], folders: [], links: [], notes: [] };
  const { dev } = await lstat(root);
  let [holedFiles, holeBytes, hardLinks] = [0, 0, 0];

  async function look(inside: string): Promise<void> {
    const names: Buffer[] = [];
    try {
      // As bytes: a name that is no UTF-8 would else be read as another one.
      const folder = await opendir(join(root, inside), { encoding: 'buffer' as BufferEncoding });
      for await (const entry of folder) names.push(entry.name as unknown as Buffer);
    } catch (error) {
      found.notes.push(skipped(inside, `The folder may not be listed (${(error as NodeJS.ErrnoException).code}).`));
      return;
    }
    names.sort((a, b) => Buffer.compare(a, b));
    const own = inside === '' ? names.filter((name) => isScratchName(name.toString('utf8'))) : [];
    for (const bytes of names.filter((name) => !own.includes(name))) {
      const name = bytes.toString('utf8');
      const path = inside === '' ? name : `${inside}/${name}`;
      if (!Buffer.from(name, 'utf8').equals(bytes)) {
        found.notes.push(skipped(path, 'Its name is no UTF-8 text, and could not be written again as it is.'));
        continue;
      }
      if (found.files.length >= MOST_PAYLOAD_FILES) return;
      const stats = await lstat(join(root, path)).catch(() => null);
      if (stats === null) {
        found.notes.push(skipped(path, 'It was gone, or may not be looked at.'));
      } else if (stats.isSymbolicLink()) {
        const to = await readlink(join(root, path)).catch(() => null);
        if (to !== null) found.links.push({ path, to });
      } else if (stats.isDirectory()) {
        if (stats.dev !== dev) {
          found.notes.push(skipped(path, 'Another volume is mounted here. Copy it on its own.'));
          continue;
        }
        found.folders.push({ path, mode: stats.mode });
        await look(path);
      } else if (stats.isFile()) {
        const { size, blocks, mtimeMs, mode, nlink } = stats;
        found.files.push({ path, bytes: size, modifiedSeconds: mtimeMs / 1000, mode });
        if (nlink > 1) hardLinks += 1;
        const missing = size - blocks * STAT_BLOCK_BYTES;
        if (blocks * STAT_BLOCK_BYTES < WHOLE_SHARE * size && missing > LEAST_HOLE_BYTES) {
          holedFiles += 1;
          holeBytes += missing;
        }
      } else {
        found.notes.push(skipped(path, 'It is a device, a pipe or a socket, and holds no data.'));
      }
    }
  }

  await look('');
  const tell = (kind: 'holes' | 'link', detail: string) => found.notes.push({ kind, end: null, path: '', detail });
  const files = (count: number) => (count === 1 ? '1 file' : `${count.toLocaleString('en-US')} files`);
  if (holedFiles > 0) {
    tell(
      'holes',
      `${files(holedFiles)} with holes or compressed are copied whole: ${bytesText(holeBytes)} more are written than the source takes.`,
    );
  }
  if (hardLinks > 0) tell('link', `${files(hardLinks)} with several names (hard links) are copied once for each name.`);
  return found;
}
