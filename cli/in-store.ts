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
