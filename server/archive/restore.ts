import { openAsBlob } from 'node:fs';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { EVERYTHING, collected, selectedIds } from '#server/archive/collect.ts';
import { keepAll } from '#server/archive/import.ts';
import { drives, projects, reports, runs, settings, workloads } from '#server/store/schema.ts';
import { openBackup } from '#server/store/store.ts';
import { storeFiles } from '#server/store/files.ts';
import type { Store } from '#server/store/store.ts';

/** What a workspace holds after it was restored. */
export interface Restored {
  documents: number;
  /** The backup of what was there before. */
  before: string | null;
}

/**
 * Puts what a backup of the store holds in the place of the whole workspace, while a server runs on it: all of it, or
 * nothing. What was there is backed up first.
 * @param isBusy whether anything is measured: what goes on belongs to what would be gone
 * @throws Problem when the file is no backup, or something is measured
 */
export async function restoreWorkspace(
  { db, backUp }: Pick<Store, 'db' | 'backUp'>,
  file: string,
  isBusy: () => boolean,
): Promise<Restored> {
  if (isBusy()) {
    throw new Problem('run-going-on', 'Something is measured or waits to be. Let it end first, then restore.', {
      status: 409,
    });
  }
  const blob = await openAsBlob(file).catch(() => {
    throw badInput('file', `${file} cannot be read. Choose another backup.`);
  });
  const backup = await openBackup(blob, storeFiles, file);
  try {
    const before = await backUp();
    const ids = await selectedIds(backup.db, EVERYTHING);
    let documents = 0;
    await db.transaction(async (tx) => {
      for (const table of [reports, runs, drives, workloads, projects, settings]) await tx.delete(table);
      documents = await keepAll(tx, collected(backup.db, ids));
    });
    return { documents, before: before?.file ?? null };
  } finally {
    await backup.close();
  }
}
