import { join } from 'node:path';
import { walkFolder, type WalkControl } from '#engine/folders/walk.ts';
import { PAGE_BYTES } from '#core/1-ground/units/page.ts';

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
  /** Smaller files beyond those that are read at most. */
  leftFiles: number;
}

/** Descriptors are limited; the largest files hold most of the bytes. */
const MOST_FILES = 512;
/** `blocks` of stat counts 512 bytes whatever the filesystem's own. */
const STAT_BLOCK_BYTES = 512;
/** A file whose blocks hold less than this share of its size has holes in it, or is compressed. */
const WHOLE_SHARE = 0.98;

/**
 * The files of a folder that can be read, largest first, until `mostBytes` are found.
 * @throws the system's error when the folder itself cannot be looked at
 */
export async function findExisting(
  folder: string,
  mostBytes: number | null,
  control: WalkControl = {},
): Promise<Findings> {
  const found: FoundFile[] = [];
  let [skippedFiles, skippedBytes] = [0, 0];
  for await (const one of walkFolder(folder, control)) {
    if (one.kind !== 'file') continue;
    const { size, blocks } = one.stats;
    const bytes = Math.floor(size / PAGE_BYTES) * PAGE_BYTES;
    if (bytes === 0) continue;
    if (blocks * STAT_BLOCK_BYTES < WHOLE_SHARE * size) {
      skippedFiles += 1;
      skippedBytes += size;
    } else found.push({ path: join(folder, one.path), bytes });
  }
  found.sort((a, b) => b.bytes - a.bytes);
  const files: FoundFile[] = [];
  let total = 0;
  for (const file of found.slice(0, MOST_FILES)) {
    if (mostBytes !== null && total >= mostBytes) break;
    const bytes = mostBytes === null ? file.bytes : Math.min(file.bytes, pages(mostBytes - total));
    files.push({ path: file.path, bytes });
    total += bytes;
  }
  return { files, skippedFiles, skippedBytes, leftFiles: Math.max(0, found.length - MOST_FILES) };
}

const pages = (bytes: number): number => Math.ceil(bytes / PAGE_BYTES) * PAGE_BYTES;

/** How far a look at a folder is. */
export interface FolderCount {
  files: number;
  bytes: number;
}

/** Sizes of all files of a folder, ascending; `onCount` hears of it on the way. */
export async function fileSizesIn(
  folder: string,
  control: WalkControl = {},
  onCount: (count: FolderCount) => void = () => undefined,
): Promise<number[]> {
  const sizes: number[] = [];
  let bytes = 0;
  for await (const one of walkFolder(folder, control)) {
    if (one.kind !== 'file') continue;
    sizes.push(one.stats.size);
    bytes += one.stats.size;
    onCount({ files: sizes.length, bytes });
  }
  return sizes.sort((a, b) => a - b);
}
