import { call } from '#cli/through-server.ts';
import { findServer } from '#server/serve.ts';
import type { Database } from '#server/store/database.ts';
import { storeFiles } from '#server/store/files.ts';
import { databaseUrlOf } from '#server/store/folder.ts';
import { openStore, type Store } from '#server/store/store.ts';

/** Does something in the store of a data folder that no server runs on, and closes it whatever becomes of it. */
export async function inStore<T>(dataFolder: string, doing: (store: Store) => Promise<T>): Promise<T> {
  const store = await openStore(dataFolder, storeFiles, false, databaseUrlOf(process.env));
  try {
    return await doing(store);
  } finally {
    await store.close();
  }
}

/** Asks the server that runs on a data folder, or does it in its store where none does. */
export async function inWorkspace<T>(
  dataFolder: string,
  method: 'GET' | 'POST' | 'DELETE',
  path: string,
  body: object | undefined,
  doing: (db: Database) => Promise<T>,
): Promise<T> {
  const server = await findServer(dataFolder);
  if (server) return (await call(server, method, path, body)) as T;
  return inStore(dataFolder, ({ db }) => doing(db));
}
