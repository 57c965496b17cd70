import type { Command } from 'commander';
import { inStore } from '#cli/in-store.ts';
import { print, printJson, tableLines } from '#cli/output.ts';
import { call } from '#cli/through-server.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { bytesText, orDash, rateText } from '#core/1-ground/units/format.ts';
import { parseDriveLine } from '#core/2-trade/drives/drive-line.ts';
import { mediumText } from '#core/2-trade/drives/medium.ts';
import { newDriveText } from '#core/2-trade/drives/new-drive.ts';
import { defaultDataFolder, findServer } from '#server/serve.ts';
import { addDrive, listDrives } from '#server/store/drives.ts';
import type { Database } from '#server/store/store.ts';

/** Cards of drives: those that were measured, and those that are known from their boxes. */
export function addDriveCommand(program: Command): void {
  program
    .command('drive')
    .description('cards of drives: adds one that is not here as it stands on its box, or lists them all')
    .argument('<add|list>', 'what to do')
    .argument(
      '[line]',
      'of a drive to add: “20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR”, a name and a colon before it',
    )
    .option('--json', 'print JSON')
    .action(async (what: string, line: string | undefined, { json = false }: { json?: boolean }) => {
      if (what === 'add') await add(line, json);
      else if (what === 'list') await list(json);
      else throw badInput('drive', `drive: “${what}” is not known. Type add or list.`);
    });
}

/** Asks the server that runs on the data folder, or does it in its store where none does. */
async function inWorkspace<T>(method: 'GET' | 'POST', body: object | undefined, doing: (db: Database) => Promise<T>) {
  const dataFolder = defaultDataFolder();
  const server = await findServer(dataFolder);
  if (server) return (await call(server, method, '/api/drives', body)) as T;
  return inStore(dataFolder, ({ db }) => doing(db));
}

async function add(line: string | undefined, json: boolean): Promise<void> {
  const typed = parseDriveLine(line ?? '');
  const card = await inWorkspace('POST', typed, (db) => addDrive(db, typed));
  if (json) printJson(card);
  else print(newDriveText(typed));
}

async function list(json: boolean): Promise<void> {
  const cards = await inWorkspace('GET', undefined, listDrives);
  if (json) return printJson(cards);
  const rows = cards.map(({ label, medium, capacityBytes, identityKind, details }) => [
    label,
    mediumText(medium),
    bytesText(capacityBytes),
    `writes ${orDash(details.ratedWriteBytesPerSecond, rateText)}`,
    `reads ${orDash(details.ratedReadBytesPerSecond, rateText)}`,
    identityKind === 'typed' ? 'from its box' : 'measured here',
  ]);
  if (rows.length > 0) tableLines(rows).forEach(print);
}
