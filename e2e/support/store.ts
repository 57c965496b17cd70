import { TEST_POSTGRES, newTestDatabase } from '#server/testing/test-store.ts';

/**
 * Where the programs that tests start have their stores: in their data folders, or, with TAVROX_TEST_STORE=postgres, each
 * data folder’s in a database of its own on the tests’ PostgreSQL server. The tests are the same.
 */
export const IS_ON_SERVER = process.env['TAVROX_TEST_STORE'] === 'postgres';

const databases = new Map<string, Promise<string>>();

/** Variables that a program on a data folder is started with. */
export async function storeVariables(dataFolder: string): Promise<NodeJS.ProcessEnv> {
  if (!IS_ON_SERVER) return {};
  if (TEST_POSTGRES === undefined)
    throw new Error('TAVROX_TEST_STORE=postgres needs PostgreSQL, which is not installed.');
  const known = databases.get(dataFolder) ?? newTestDatabase(TEST_POSTGRES);
  databases.set(dataFolder, known);
  return { DATABASE_URL: await known };
}
