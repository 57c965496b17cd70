import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client } from 'pg';
import { storeFiles } from '#server/store/files.ts';
import { openMemoryStore, openStore, type Store } from '#server/store/store.ts';

/** Address of the PostgreSQL server that tests run on; undefined where they run on the embedded store. */
export const TEST_POSTGRES = process.env['TAVROX_TEST_POSTGRES'];

/** An empty database on the tests' server, by its address. */
export async function newTestDatabase(server: string): Promise<string> {
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const client = new Client({ connectionString: server });
  await client.connect();
  try {
    await client.query(`create database ${name}`);
  } finally {
    await client.end();
  }
  const url = new URL(server);
  url.pathname = `/${name}`;
  return url.href;
}

/** An empty store for a test: in memory, or on the tests' PostgreSQL server where they run on one. */
export async function openTestStore(): Promise<Store> {
  if (TEST_POSTGRES === undefined) return openMemoryStore(storeFiles);
  const folder = mkdtempSync(join(tmpdir(), 'tavrox-store-'));
  const store = await openStore(folder, storeFiles, true, await newTestDatabase(TEST_POSTGRES));
  return {
    ...store,
    async close() {
      await store.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
