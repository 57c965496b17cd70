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
import { addDrive, joinDrives, listDrives } from '#server/store/drives.ts';
import type { Database } from '#server/store/store.ts';

/** Cards of drives: those that were measured, and those that are known from their boxes. */
export function addDriveCommand(program: Command): void {
  program
    .command('drive')
    .description(
      'cards of drives: adds one that is not here as it stands on its box, lists them all, or joins one that was typed with the one that was measured since',
    )
    .argument('<add|list|join>', 'what to do')
    .argument(
      '[line]',
      'of a drive to add: “20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR”, a name and a colon before it; to join, the name that was typed',
    )
    .argument('[measured]', 'to join: the name of the drive that was measured')
    .option('--json', 'print JSON')
    .action(
      async (
        what: string,
        line: string | undefined,
        measured: string | undefined,
        { json = false }: { json?: boolean },
      ) => {
        if (what === 'add') await add(line, json);
        else if (what === 'list') await list(json);
        else if (what === 'join') await join(line, measured, json);
        else throw badInput('drive', `drive: “${what}” is not known. Type add, list or join.`);
      },
    );
}

/** Asks the server that runs on the data folder, or does it in its store where none does. */
async function inWorkspace<T>(
  method: 'GET' | 'POST',
  body: object | undefined,
  doing: (db: Database) => Promise<T>,
  path = '/api/drives',
) {
  const dataFolder = defaultDataFolder();
  const server = await findServer(dataFolder);
  if (server) return (await call(server, method, path, body)) as T;
  return inStore(dataFolder, ({ db }) => doing(db));
}

async function add(line: string | undefined, json: boolean): Promise<void> {
  const typed = parseDriveLine(line ?? '');
  const card = await inWorkspace('POST', typed, (db) => addDrive(db, typed));
  if (json) printJson(card);
  else print(newDriveText(typed));
}

async function join(typed: string | undefined, measured: string | undefined, json: boolean): Promise<void> {
  const cards = await inWorkspace('GET', undefined, listDrives);
  const idOf = (label: string | undefined, isTyped: boolean, where: string): string => {
    const those = cards.filter(({ identityKind }) => (identityKind === 'typed') === isTyped);
    const found = those.find((card) => card.label.toLowerCase() === label?.trim().toLowerCase());
    if (found) return found.id;
    const names = those.length === 0 ? 'There is none.' : `There is: ${those.map((card) => card.label).join(', ')}.`;
    throw badInput(
      where,
      `${where}: no drive that was ${isTyped ? 'typed' : 'measured'} is called “${label ?? ''}”. ${names}`,
    );
  };
  const [typedId, measuredId] = [idOf(typed, true, 'line'), idOf(measured, false, 'measured')];
  const doing = (db: Database) => joinDrives(db, typedId, measuredId);
  const card = await inWorkspace('POST', { with: measuredId }, doing, `/api/drives/${typedId}/join`);
  if (json) printJson(card);
  else print(`${card.label}: its runs count from now on, beside what its box promises.`);
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
