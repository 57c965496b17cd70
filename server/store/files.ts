import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import type { StoreFiles } from '#server/store/store.ts';

/** Root of the installation, found through its package file: code is bundled and moves about. */
export const installationRoot = dirname(createRequire(import.meta.url).resolve('#built/io-worker.js')).replace(
  /[/\\]dist[/\\]node$/,
  '',
);

export const storeFiles: StoreFiles = {
  migrationsFolder: join(installationRoot, 'dist', 'migrations'),
  emptyArchive: join(installationRoot, 'dist', 'store', 'empty.tar'),
  examplesArchive: join(installationRoot, 'dist', 'store', 'examples.tar'),
};

export const webFolder = join(installationRoot, 'dist', 'web');
