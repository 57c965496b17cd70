import { resolve } from 'node:path';
import type { Command } from 'commander';
import { note, print, printJson, tableLines } from '#cli/output.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { defaultDataFolder, findServer } from '#server/serve.ts';
import { storeFiles } from '#server/store/files.ts';
import { databaseUrlOf } from '#server/store/folder.ts';
import { moveStore } from '#server/store/move.ts';
import { databaseName, openPostgres } from '#server/store/postgres.ts';
import { openStore, type Store } from '#server/store/store.ts';

interface MoveFlags {
  to: string;
  data?: string;
  json?: boolean;
}

export function addMoveCommand(program: Command): void {
  program
    .command('move')
    .description(
      'takes the whole workspace into another store that is empty: from the data folder to a PostgreSQL server, or back; what was there stays',
    )
    .requiredOption('--to <store>', 'postgres://user@server/name, or a data folder')
    .option(
      '--data <folder>',
      'data folder (default TAVROX_DATA or your own); with DATABASE_URL set its store is there',
    )
    .option('--json', 'print what was moved as JSON')
    .action(move);
}

const isAddress = (text: string): boolean => /^postgres(?:ql)?:\/\//.test(text);

async function move({ to, data = defaultDataFolder(), json }: MoveFlags): Promise<void> {
  const own = databaseUrlOf(process.env);
  if (!isAddress(to) && own === null && resolve(to) === resolve(data))
    throw badInput('to', 'to: is the data folder that is moved. Name another.');
  // A store that changes while it is read would arrive torn.
  if (await findServer(data)) {
    throw badInput('data', 'A Tavrox runs on this data folder. End it first, so that nothing changes on the way.');
  }
  const from = await openStore(data, storeFiles, false, own);
  try {
    const target = await openTarget(to);
    try {
      const moved = await moveStore(from.db, target.db, (table) => note(`Moving ${table} …`));
      if (json) printJson({ to: isAddress(to) ? databaseName(to) : resolve(to), tables: moved });
      else {
        const rows = moved.map(({ table, rows: count, checksum }) => [
          table,
          formatNumber(count, 'full'),
          checksum.slice(0, 16),
        ]);
        tableLines([['moved and compared', 'rows', 'checksum'], ...rows]).forEach(print);
      }
    } finally {
      await target.close();
    }
  } finally {
    await from.close();
  }
  if (!json)
    print(
      `The old store stays as it was. ${isAddress(to) ? 'Set DATABASE_URL to the new one.' : 'Leave DATABASE_URL out.'}`,
    );
}

/** Of a server only the store is opened: the data folder, which keeps what is of this machine, stays the same. */
const openTarget = (to: string): Promise<Pick<Store, 'db' | 'close'>> =>
  isAddress(to) ? openPostgres(to, storeFiles.migrationsFolder) : openStore(to, storeFiles);
