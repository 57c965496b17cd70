import { mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import { drizzle } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';
import { storeFiles } from '#server/store/files.ts';

/**
 * Run by the build: initialises a database, which takes seconds, and packs it, so that a first start
 * only has to unpack it.
 */
const client = await PGlite.create();
await migrate(drizzle(client), { migrationsFolder: storeFiles.migrationsFolder });
const archive = await client.dumpDataDir('none');
await client.close();
mkdirSync(dirname(storeFiles.preparedArchive), { recursive: true });
writeFileSync(`${storeFiles.preparedArchive}.new`, Buffer.from(await archive.arrayBuffer()));
renameSync(`${storeFiles.preparedArchive}.new`, storeFiles.preparedArchive);
