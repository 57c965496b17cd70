import { join } from 'node:path';

/** Where the store of a data folder lies. */
export const storeFolderOf = (dataFolder: string): string => join(dataFolder, 'store');
