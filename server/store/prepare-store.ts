import { mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import { drizzle } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';
import { storeFiles } from '#server/store/files.ts';
import * as schema from '#server/store/schema.ts';
import { seedExamples } from '#server/store/seed-examples.ts';

/**
 * Run by the build: initialises a database, which takes seconds, and packs it, empty and with the
 * examples, so that a first start only has to unpack one of the two.
 */
const client = await PGlite.create();
const db = drizzle(client, { schema });

async function pack(file: string): Promise<void> {
  const archive = await client.dumpDataDir('none');
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(`${file}.new`, Buffer.from(await archive.arrayBuffer()));
  renameSync(`${file}.new`, file);
}

await migrate(db, { migrationsFolder: storeFiles.migrationsFolder });
await pack(storeFiles.emptyArchive);
await seedExamples(db);
await client.exec('CHECKPOINT');
await pack(storeFiles.examplesArchive);
await client.close();
