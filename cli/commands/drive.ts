import type { Command } from 'commander';
import { inStore } from '#cli/in-store.ts';
import { print, printJson, tableLines } from '#cli/output.ts';
import { call } from '#cli/through-server.ts';
import { bytesText, orDash, rateText } from '#core/1-ground/units/format.ts';
import { parseDriveLine } from '#core/2-trade/drives/drive-line.ts';
import { newDriveText } from '#core/2-trade/drives/new-drive.ts';
import type { DriveCard } from '#core/6-exchange/api/wire.ts';
import { defaultDataFolder, findServer } from '#server/serve.ts';
import { addDrive, listDrives } from '#server/store/drives.ts';

/** Drives with a card: those that were measured, and those that are known from their boxes. */
export function addDriveCommands(program: Command): void {
  const drive = program.command('drive').description('cards of drives: what is known without measuring, and what was');
  drive
    .command('add')
    .description('a drive that is not here, as it stands on its box')
    .argument(
      '<line>',
      'such as “20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR”; a name and a colon may stand before it',
    )
    .option('--json', 'print its card as JSON')
    .action(async (line: string, { json }: { json?: boolean }) => {
      const typed = parseDriveLine(line);
      const dataFolder = defaultDataFolder();
      const server = await findServer(dataFolder);
      const card = server
        ? ((await call(server, 'POST', '/api/drives', typed)) as DriveCard)
        : await inStore(dataFolder, ({ db }) => addDrive(db, typed));
      if (json) printJson(card);
      else print(newDriveText(typed));
    });
  drive
    .command('list')
    .description('all drives that have a card')
    .option('--json', 'print JSON')
    .action(async ({ json }: { json?: boolean }) => {
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
    });
}
