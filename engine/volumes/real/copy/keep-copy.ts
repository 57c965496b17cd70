import { createHash } from 'node:crypto';
import { mkdir, writeFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { basename, join } from 'node:path';
import {
  CHAIN_FILE,
  HASH_LIST_FOLDER,
  c4Id,
  chainXml,
  hashListName,
  hashListXml,
  type HashedFile,
} from '#core/5-answers/copies/hash-list.ts';
import { SOFTWARE_VERSION } from '#engine/software.ts';
import type { PayloadFile } from '#engine/volumes/real/copy/payload-files.ts';

/** Paths that were read back alike, and otherwise than they were written. */
export interface ReadBackPaths {
  alike: Set<string>;
  differing: Set<string>;
}

/** What a hash list says of files that were copied whole; those that differ are not in it. */
export function hashedFiles(
  whole: readonly PayloadFile[],
  hashes: ReadonlyMap<string, string>,
  readBack: ReadBackPaths | undefined,
): HashedFile[] {
  return whole
    .filter(({ path }) => readBack?.differing.has(path) !== true)
    .map(({ path, bytes, modifiedSeconds }) => ({
      path,
      bytes,
      modifiedAt: `${new Date(modifiedSeconds * 1000).toISOString().slice(0, 19)}+00:00`,
      xxh64: hashes.get(path)!,
    }));
}

/**
 * Writes the hash list of a copy and its chain file beside the files. Where the source brought a list
 * along that is left as it is, and none is written.
 * @returns whether a list was written
 */
export async function writeHashList(folder: string, files: readonly HashedFile[]): Promise<boolean> {
  const place = join(folder, HASH_LIST_FOLDER);
  try {
    await mkdir(place);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') return false;
    throw error;
  }
  const createdAt = `${new Date().toISOString().slice(0, 19)}+00:00`;
  const name = hashListName(basename(folder), createdAt);
  const list = hashListXml({ createdAt, host: hostname(), toolVersion: SOFTWARE_VERSION }, files);
  await writeFile(join(place, name), list, { flag: 'wx' });
  const chain = chainXml(name, c4Id(createHash('sha512').update(list).digest()));
  await writeFile(join(place, CHAIN_FILE), chain, { flag: 'wx' });
  return true;
}
