import { existsSync, mkdirSync, openAsBlob, readFileSync, readdirSync, renameSync, rmSync, rmdirSync } from 'node:fs';
import { join } from 'node:path';
import { PGlite, type PGliteOptions } from '@electric-sql/pglite';
import { drizzle } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';
import type { BackupEntry } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { isHeld, takeLock, type LockHolder, type ProcessLock } from '#engine/locks/process-lock.ts';
import { makeBackup, noBackup, restoreBackup } from '#server/store/backups.ts';
import { storeFolderOf } from '#server/store/folder.ts';
import type { Database } from '#server/store/database.ts';
import { openPostgres, type Postgres } from '#server/store/postgres.ts';
import * as schema from '#server/store/schema.ts';

/** What a store needs from the installation: the SQL migrations and an empty prepared database. */
export interface StoreFiles {
  migrationsFolder: string;
  /** Archives of a migrated database, empty and with the examples; absent ones are done without, at the cost of seconds. */
  emptyArchive: string;
  examplesArchive: string;
}

export interface Store {
  db: Database;
  /** Whether examples were asked for, the database was made by this opening, and they are not in it yet. */
  lacksExamples: boolean;
  /** The server that it is on, which others may share; null for the embedded one. */
  postgres: Postgres | null;
  /** Keeps an archive of it as it is now; null for one in memory, and for one whose server keeps its own. */
  backUp(): Promise<BackupEntry | null>;
  close(): Promise<void>;
}

/** Bytes of memory matter on a laptop; durable commits matter more than their cost here. */
const START_PARAMS = [
  ...PGlite.defaultStartParams,
  ...['shared_buffers=16MB', 'max_connections=5', 'fsync=on'].flatMap((setting) => ['-c', setting]),
];

/**
 * Opens the store in a data folder, making it on first use, and brings it to the newest schema.
 * Only one process at a time: two on one folder would lose data without a word.
 * @param databaseUrl address of a PostgreSQL server that holds the store in place of the folder; the folder keeps what
 * belongs to this machine
 * @throws Problem `store-in-use`, `store-unreadable` or what {@link openPostgres} throws
 */
export async function openStore(
  dataFolder: string,
  files: StoreFiles,
  withExamples = false,
  databaseUrl: string | null = null,
): Promise<Store> {
  const lock = lockFolder(dataFolder);
  try {
    if (databaseUrl !== null) return await openShared(databaseUrl, files, lock, withExamples);
    return await openLocked(dataFolder, files, lock, withExamples);
  } catch (error) {
    lock.release();
    if (error instanceof Problem) throw error;
    throw new Problem(
      'store-unreadable',
      `The store in ${dataFolder} could not be opened: ${openingText(error)}. It was left as it was. ${PUT_RIGHT}`,
      { status: 500, cause: error },
    );
  }
}

const PUT_RIGHT = '“tavrox restore” puts a backup in its place; or set TAVROX_DATA to another folder.';

/** What the database says of itself when it cannot be opened, for people. */
function openingText(error: unknown): string {
  const { message, code } = error as NodeJS.ErrnoException;
  if (code !== undefined) return folderFaultText(code);
  return /abort|unreachable|RuntimeError|memory access|failed to initialize/i.test(message)
    ? 'its files are damaged'
    : message;
}

const FOLDER_FAULTS: Record<string, string> = {
  EROFS: 'its disk is mounted read-only',
  EACCES: 'this user may not write in it',
  EPERM: 'this user may not write in it',
  ENOSPC: 'its disk is full',
  EDQUOT: 'this user’s quota is used up',
  ENOTDIR: 'a part of its path is a file',
  EEXIST: 'there is a file of that name',
  EIO: 'its disk reported an error',
};
const folderFaultText = (code: string): string => FOLDER_FAULTS[code] ?? `the system says ${code}`;

/** Puts a backup in the place of the store in a data folder that no Tavrox runs on; see restoreBackup. */
export async function restoreStore(dataFolder: string, file: string): Promise<string | null> {
  const lock = lockFolder(dataFolder);
  try {
    return await restoreBackup(dataFolder, file);
  } finally {
    lock.release();
  }
}

/** Makes the data folder where there is none, and takes it for this process. @throws Problem where it cannot be used */
function lockFolder(dataFolder: string): ProcessLock {
  const lock = tryLock(dataFolder);
  if (!isHeld(lock)) return lock;
  throw new Problem(
    'store-in-use',
    `The data folder ${dataFolder} is in use by another Tavrox (process ${lock.pid}). Stop that one, or set TAVROX_DATA to another folder.`,
    { status: 409 },
  );
}

function tryLock(dataFolder: string): ProcessLock | LockHolder {
  try {
    mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
    return takeLock(join(dataFolder, 'store.lock'), 'server');
  } catch (error) {
    const { code = 'nothing more' } = error as NodeJS.ErrnoException;
    throw new Problem(
      'data-folder-unusable',
      `The data folder ${dataFolder} cannot be used: ${folderFaultText(code)}. Put that right, or set TAVROX_DATA to another folder.`,
      { status: 500, cause: error },
    );
  }
}

/**
 * Whether there is no database yet.
 * @throws Problem `store-damaged` where there is something that is no whole database: nothing is ever made over it
 */
function isUnmade(folder: string): boolean {
  if (!existsSync(folder)) return true;
  const names = readdirSync(folder);
  if (names.length === 0) {
    rmdirSync(folder);
    return true;
  }
  if (names.includes('PG_VERSION')) return false;
  const some = names.slice(0, 4).join(', ');
  throw new Problem(
    'store-damaged',
    `The store in ${folder} is not whole: its file PG_VERSION is missing, beside ${some}${names.length > 4 ? ' and more' : ''}. It was left as it was. ${PUT_RIGHT}`,
    { status: 500 },
  );
}

async function openLocked(
  dataFolder: string,
  files: StoreFiles,
  lock: ProcessLock,
  withExamples: boolean,
): Promise<Store> {
  const folder = storeFolderOf(dataFolder);
  const isNew = isUnmade(folder);
  const hasArchive = withExamples && existsSync(files.examplesArchive);
  if (isNew) await makeDatabase(folder, hasArchive ? files.examplesArchive : files.emptyArchive);
  const client = await PGlite.create({ dataDir: folder, startParams: START_PARAMS });
  try {
    const db = drizzle(client, { schema });
    if (!isNew && (await lacksMigrations(client, files.migrationsFolder))) await makeBackup(dataFolder, client);
    await migrate(db, { migrationsFolder: files.migrationsFolder });
    return {
      db: db as unknown as Database,
      postgres: null,
      backUp: () => makeBackup(dataFolder, client),
      lacksExamples: isNew && withExamples && !hasArchive,
      async close() {
        await client.exec('CHECKPOINT');
        await client.close();
        lock.release();
      },
    };
  } catch (error) {
    await client.close();
    throw error;
  }
}

async function openShared(url: string, files: StoreFiles, lock: ProcessLock, withExamples: boolean): Promise<Store> {
  const postgres = await openPostgres(url, files.migrationsFolder);
  return {
    db: postgres.db,
    postgres,
    lacksExamples: postgres.wasEmpty && withExamples,
    backUp: () => Promise.resolve(null),
    async close() {
      await postgres.close();
      lock.release();
    },
  };
}

/** Whether the schema will be changed by opening it. */
async function lacksMigrations(client: PGlite, folder: string): Promise<boolean> {
  const journal = JSON.parse(readFileSync(join(folder, 'meta', '_journal.json'), 'utf8')) as { entries: unknown[] };
  const { rows } = await client.query<{ count: number }>(
    'select count(*)::integer as count from drizzle.__drizzle_migrations',
  );
  return rows[0]!.count < journal.entries.length;
}

/** Makes the database under another name first: a crash on the way leaves nothing half-made behind. */
async function makeDatabase(folder: string, archive: string): Promise<void> {
  const draft = `${folder}.new`;
  rmSync(draft, { recursive: true, force: true });
  const options: PGliteOptions = { dataDir: draft, startParams: START_PARAMS };
  if (existsSync(archive)) options.loadDataDir = await openAsBlob(archive);
  const client = await PGlite.create(options);
  await client.close();
  renameSync(draft, folder);
}

/**
 * The store in a backup, opened in memory and brought to the newest schema; the backup stays as it is.
 * @param name of the file, for the sentence when it is none
 * @throws Problem `bad-input` when it is no backup
 */
export async function openBackup(
  backup: Blob,
  files: StoreFiles,
  name: string,
): Promise<{ db: Database; close: () => Promise<void> }> {
  let client: PGlite | undefined;
  try {
    client = await PGlite.create({ startParams: START_PARAMS, loadDataDir: backup });
    const db = drizzle(client, { schema });
    await client.query('select count(*) from runs');
    await migrate(db, { migrationsFolder: files.migrationsFolder });
    const opened = client;
    return { db: db as unknown as Database, close: () => opened.close() };
  } catch (error) {
    await client?.close().catch(() => undefined);
    throw noBackup(name, error);
  }
}

/** A store in memory, for tests and throw-away demos. */
export async function openMemoryStore(files: StoreFiles): Promise<Store> {
  const options: PGliteOptions = { startParams: START_PARAMS };
  if (existsSync(files.emptyArchive)) options.loadDataDir = await openAsBlob(files.emptyArchive);
  const client = await PGlite.create(options);
  const db = drizzle(client, { schema });
  await migrate(db, { migrationsFolder: files.migrationsFolder });
  return {
    db: db as unknown as Database,
    postgres: null,
    lacksExamples: true,
    backUp: () => Promise.resolve(null),
    close: () => client.close(),
  };
}
