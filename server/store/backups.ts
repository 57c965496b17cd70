import {
  closeSync,
  existsSync,
  fsyncSync,
  mkdirSync,
  openAsBlob,
  openSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs';
import { join } from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import type { BackupEntry } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { storeFolderOf } from '#server/store/folder.ts';

/** Backups of the store: archives of the whole database beside it, the last of them kept. */
const FOLDER = 'backups';
const NAME = /^store-(\d{4}-\d\d-\d\d)T(\d\d)-(\d\d)-(\d\d)Z\.tar\.gz$/;
const MOST_KEPT = 7;
const EVERY_MILLISECONDS = 24 * 3_600_000;

/** A moment as it may stand in a name. */
const stampOf = (now: Date): string => `${now.toISOString().slice(0, 19).replaceAll(':', '-')}Z`;

/** Backups in a data folder, the newest first. */
export function listBackups(dataFolder: string): BackupEntry[] {
  const folder = join(dataFolder, FOLDER);
  const names = existsSync(folder) ? readdirSync(folder) : [];
  return names
    .flatMap((name): BackupEntry[] => {
      const [, day, hour, minute, second] = NAME.exec(name) ?? [];
      if (day === undefined) return [];
      const file = join(folder, name);
      return [{ file, madeAt: `${day}T${hour}:${minute}:${second}.000Z`, bytes: statSync(file).size }];
    })
    .sort((a, b) => b.madeAt.localeCompare(a.madeAt));
}

/** Whether the newest backup, or a store that has none, is a day old. */
export function isBackupDue(dataFolder: string, now: Date): boolean {
  const [newest] = listBackups(dataFolder);
  const store = statSync(storeFolderOf(dataFolder), { throwIfNoEntry: false });
  const since = newest ? Date.parse(newest.madeAt) : (store?.birthtimeMs ?? 0);
  return now.getTime() - since >= EVERY_MILLISECONDS;
}

/**
 * Keeps an archive of the whole database and lets the oldest go; a crash leaves no half of one under its name.
 * @throws the system's error when it cannot be written
 */
export async function makeBackup(dataFolder: string, client: PGlite, now = new Date()): Promise<BackupEntry> {
  const folder = join(dataFolder, FOLDER);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  await client.exec('CHECKPOINT');
  const archive = Buffer.from(await (await client.dumpDataDir('gzip')).arrayBuffer());
  const file = join(folder, `store-${stampOf(now)}.tar.gz`);
  const draft = `${file}.part`;
  try {
    const descriptor = openSync(draft, 'w', 0o600);
    try {
      writeSync(descriptor, archive);
      fsyncSync(descriptor);
    } finally {
      closeSync(descriptor);
    }
    renameSync(draft, file);
  } finally {
    rmSync(draft, { force: true });
  }
  for (const { file: old } of listBackups(dataFolder).slice(MOST_KEPT)) rmSync(old, { force: true });
  return { file, madeAt: now.toISOString(), bytes: archive.length };
}

/** What is said where a store is on a server of its own. */
export const keptByServer = (): Problem =>
  new Problem(
    'shared-store',
    'This store is on a database server that others may use too: whoever looks after it backs it up and puts it back. An archive of everything can be exported here.',
    { status: 409 },
  );

/** What is said of a file that is no backup. */
export const noBackup = (file: string, cause: unknown): Problem =>
  new Problem('bad-input', `${file} is no backup of a store that can be opened. Choose another.`, {
    where: 'file',
    cause,
  });

/**
 * Puts a backup in the place of the store; whoever calls has the data folder to himself. The store that was there stays
 * beside it.
 * @returns where that lies now; null where there was none
 * @throws Problem when the file is no backup; nothing is changed then
 */
export async function restoreBackup(dataFolder: string, file: string, now = new Date()): Promise<string | null> {
  const store = storeFolderOf(dataFolder);
  const draft = `${store}.restored`;
  rmSync(draft, { recursive: true, force: true });
  try {
    const client = await PGlite.create({ dataDir: draft, loadDataDir: await openAsBlob(file) });
    try {
      await client.query('select count(*) from runs');
    } finally {
      await client.close();
    }
  } catch (error) {
    rmSync(draft, { recursive: true, force: true });
    throw noBackup(file, error);
  }
  const aside = existsSync(store) ? `${store}.before-${stampOf(now)}` : null;
  if (aside) renameSync(store, aside);
  renameSync(draft, store);
  return aside;
}
