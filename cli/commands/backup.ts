import { copyFileSync } from 'node:fs';
import type { Command } from 'commander';
import { print, printJson } from '#cli/output.ts';
import { bytesOf } from '#cli/files.ts';
import { inStore } from '#cli/in-store.ts';
import { call, openServer } from '#cli/through-server.ts';
import type { Restored } from '#server/archive/restore.ts';
import type { BackupEntry } from '#core/6-exchange/api/wire.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { databaseUrlOf } from '#server/store/folder.ts';
import { defaultDataFolder, findServer } from '#server/serve.ts';
import { keptByServer, listBackups } from '#server/store/backups.ts';
import { restoreStore } from '#server/store/store.ts';

interface BackupFlags {
  data?: string;
  json?: boolean;
}

export function addBackupCommands(program: Command): void {
  program
    .command('backup')
    .description('keeps a backup of the store: all runs, drives, workloads and projects')
    .argument('[file]', 'where a copy of it goes; without, it only joins the last seven in the data folder')
    .option('--data <folder>', 'data folder (default TAVROX_DATA or your own)')
    .option('--json', 'print it as JSON')
    .action(async (file: string | undefined, { data = defaultDataFolder(), json }: BackupFlags) => {
      const made = await backUp(data);
      if (file !== undefined) copyFileSync(made.file, file);
      const backup = { ...made, file: file ?? made.file };
      if (json) printJson(backup);
      else print(`${backup.file}, ${bytesText(backup.bytes)}`);
    });

  program
    .command('restore')
    .description('puts a backup in the place of the store, which stays beside it')
    .argument('[file]', 'a backup; without, the newest in the data folder')
    .option('--data <folder>', 'data folder (default TAVROX_DATA or your own)')
    .option('--json', 'print what was done as JSON')
    .action(async (file: string | undefined, { data = defaultDataFolder(), json }: BackupFlags) => {
      const chosen = file ?? listBackups(data)[0]?.file;
      if (chosen === undefined) throw badInput('file', `There is no backup in ${data}. Name a file.`);
      const before = await restored(data, chosen);
      if (json) printJson({ restored: chosen, before });
      else print(`Restored from ${chosen}.${before === null ? '' : ` What was there before is ${before}.`}`);
    });
}

/** By the server that runs on the data folder, which alone may open its store; else here. */
async function backUp(dataFolder: string): Promise<BackupEntry> {
  const server = await findServer(dataFolder);
  if (server) return (await call(server, 'POST', '/api/backups', {})) as BackupEntry;
  if (databaseUrlOf(process.env) !== null) throw keptByServer();
  return (await inStore(dataFolder, (store) => store.backUp()))!;
}

/** In the store of a server that runs, while it runs; else the store itself is put aside. @returns where what was there is */
async function restored(data: string, file: string): Promise<string | null> {
  const server = await openServer(data);
  if (!server && databaseUrlOf(process.env) !== null) throw keptByServer();
  if (!server) return await restoreStore(data, file);
  const response = await server.fetch('POST', '/api/archive/restore', await bytesOf(file, 'file'));
  return ((await response.json()) as Restored).before;
}
