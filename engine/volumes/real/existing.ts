import { opendir, lstat } from 'node:fs/promises';
import { join } from 'node:path';
import { PAGE_BYTES } from '#core/units/page.ts';

/** A file that can be read for *Existing material*: whole pages of it. */
export interface FoundFile {
  path: string;
  bytes: number;
}

export interface Findings {
  files: FoundFile[];
  /** Sparse or compressed files: their blocks are not all there, and holes are read from nowhere. */
  skippedFiles: number;
  skippedBytes: number;
  /** Folders that may not be listed. */
  closedFolders: number;
}

/** More names than this are not looked at: the largest of them say enough. */
const MOST_NAMES = 200_000;
const MOST_DEPTH = 12;
/** Descriptors are limited; the largest files hold most of the bytes. */
const MOST_FILES = 512;
/** `blocks` of stat counts 512 bytes whatever the filesystem's own. */
const STAT_BLOCK_BYTES = 512;
/** A file whose blocks hold less than this share of its size has holes in it, or is compressed. */
const WHOLE_SHARE = 0.98;

/** Walks a folder without following links or leaving its device. `visit` ends it with false. */
async function walk(
  folder: string,
  device: number,
  visit: (path: string, size: number, blocks: number) => boolean,
): Promise<number> {
  let closed = 0;
  let names = 0;
  const open: { path: string; depth: number }[] = [{ path: folder, depth: 0 }];
  while (open.length > 0) {
    const { path, depth } = open.pop()!;
    try {
      for await (const entry of await opendir(path)) {
        if ((names += 1) > MOST_NAMES) return closed;
        const child = join(path, entry.name);
        if (entry.isDirectory() && depth < MOST_DEPTH) open.push({ path: child, depth: depth + 1 });
        if (!entry.isFile()) continue;
        const { dev, size, blocks } = await lstat(child);
        if (dev === device && !visit(child, size, blocks)) return closed;
      }
    } catch {
      closed += 1;
    }
  }
  return closed;
}

/**
 * The files of a folder that can be read, largest first, until `mostBytes` are found.
 * @throws the system's error when the folder itself cannot be looked at
 */
export async function findExisting(folder: string, mostBytes: number | null): Promise<Findings> {
  const found: FoundFile[] = [];
  let [skippedFiles, skippedBytes] = [0, 0];
  const { dev } = await lstat(folder);
  const closedFolders = await walk(folder, dev, (path, size, blocks) => {
    const bytes = Math.floor(size / PAGE_BYTES) * PAGE_BYTES;
    if (bytes === 0) return true;
    if (blocks * STAT_BLOCK_BYTES < WHOLE_SHARE * size) {
      skippedFiles += 1;
      skippedBytes += size;
    } else found.push({ path, bytes });
    return true;
  });
  found.sort((a, b) => b.bytes - a.bytes);
  const files: FoundFile[] = [];
  let total = 0;
  for (const file of found.slice(0, MOST_FILES)) {
    if (mostBytes !== null && total >= mostBytes) break;
    const bytes = mostBytes === null ? file.bytes : Math.min(file.bytes, pages(mostBytes - total));
    files.push({ path: file.path, bytes });
    total += bytes;
  }
  return { files, skippedFiles, skippedBytes, closedFolders };
}

const pages = (bytes: number): number => Math.ceil(bytes / PAGE_BYTES) * PAGE_BYTES;

/** Sizes of all files of a folder, ascending. */
export async function fileSizesIn(folder: string): Promise<number[]> {
  const sizes: number[] = [];
  const { dev } = await lstat(folder);
  await walk(folder, dev, (_path, size) => {
    sizes.push(size);
    return true;
  });
  return sizes.sort((a, b) => a - b);
}
