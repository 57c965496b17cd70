import { join } from 'node:path';

/** Where the store of a data folder lies. */
export const storeFolderOf = (dataFolder: string): string => join(dataFolder, 'store');

/** Address of the PostgreSQL server that holds the store in place of the data folder; null where none was set. */
export const databaseUrlOf = (environment: NodeJS.ProcessEnv): string | null =>
  environment['DATABASE_URL']?.trim() || null;
