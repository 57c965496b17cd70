import type { Command } from 'commander';
import { inStore } from '#cli/in-store.ts';
import { print, printJson, tableLines } from '#cli/output.ts';
import { call } from '#cli/through-server.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { bytesText, orDash, rateText } from '#core/1-ground/units/format.ts';
import { parseDriveLine } from '#core/2-trade/drives/drive-line.ts';
import { newDriveText } from '#core/2-trade/drives/new-drive.ts';
import type { DriveCard } from '#core/6-exchange/api/wire.ts';
import { defaultDataFolder, findServer } from '#server/serve.ts';
import { addDrive, listDrives } from '#server/store/drives.ts';

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

async function add(line: string | undefined, json: boolean): Promise<void> {
  const typed = parseDriveLine(line ?? '');
  const dataFolder = defaultDataFolder();
  const server = await findServer(dataFolder);
  const card = server
    ? ((await call(server, 'POST', '/api/drives', typed)) as DriveCard)
    : await inStore(dataFolder, ({ db }) => addDrive(db, typed));
  if (json) printJson(card);
  else print(newDriveText(typed));
}

async function list(json: boolean): Promise<void> {
  const dataFolder = defaultDataFolder();
  const server = await findServer(dataFolder);
  const cards = server
    ? ((await call(server, 'GET', '/api/drives')) as DriveCard[])
    : await inStore(dataFolder, ({ db }) => listDrives(db));
  if (json) return printJson(cards);
  const rows = cards.map(({ label, medium, capacityBytes, identityKind, details }) => [
    label,
    medium,
    bytesText(capacityBytes),
    `writes ${orDash(details.ratedWriteBytesPerSecond, rateText)}`,
    `reads ${orDash(details.ratedReadBytesPerSecond, rateText)}`,
    identityKind === 'typed' ? 'from its box' : 'measured here',
  ]);
  if (rows.length > 0) tableLines(rows).forEach(print);
}
