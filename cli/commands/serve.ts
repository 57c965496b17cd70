import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Command } from 'commander';
import { print, printJson } from '#cli/output.ts';
import { onEnding } from '#cli/signals.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { bytesOf } from '#cli/files.ts';
import { inStore } from '#cli/in-store.ts';
import { call } from '#cli/through-server.ts';
import { carryOutImport } from '#server/archive/import.ts';
import { readIncoming } from '#server/archive/read-archive.ts';
import { restoreStore } from '#server/store/store.ts';
import { databaseUrlOf } from '#server/store/folder.ts';
import { defaultDataFolder, findServer, serve, type ServeOptions } from '#server/serve.ts';

const DEFAULT_PORT = 4780;

interface ServeFlags {
  port?: string;
  data?: string;
  empty?: boolean;
  restore?: string;
  house?: boolean;
  listen?: string;
  cert?: string;
  key?: string;
  behind?: string;
  json?: boolean;
}

export function addServeCommands(program: Command): void {
  program
    .command('serve')
    .description('serves the application on this machine')
    .option('--port <n>', 'port on the loopback address (default PORT or 4780)')
    .option('--data <folder>', 'data folder (default TAVROX_DATA or your own)')
    .option('--empty', 'without the examples on first use')
    .option('--restore <file>', 'begin an empty data folder with a backup or an archive')
    .option('--house', 'also lets other machines in, over TLS and with tokens; see “tavrox token”')
    .option('--listen <address>', 'where the house listens', '0.0.0.0:4781')
    .option('--cert <file>', 'certificate of the house, as PEM')
    .option('--key <file>', 'key of that certificate, as PEM')
    .option('--behind <origin>', 'https address of a proxy that has the certificate in place of --cert and --key')
    .option('--json', 'print the address as JSON')
    .action(async (flags: ServeFlags) => {
      const dataFolder = flags.data ?? defaultDataFolder();
      if (flags.restore !== undefined) await beginWith(dataFolder, flags.restore);
      await untilSignal(flags, { dataFolder, empty: flags.empty ?? false, ...houseOf(flags) });
    });

  program
    .command('demo')
    .description('serves the application on a throw-away store with the examples')
    .option('--port <n>', 'port on the loopback address (default PORT or 4780)')
    .option('--json', 'print the address as JSON')
    .action(async (flags: ServeFlags) => {
      const dataFolder = mkdtempSync(join(tmpdir(), 'tavrox-demo-'));
      try {
        await untilSignal(flags, { dataFolder, empty: false, isThrownAway: true });
      } finally {
        rmSync(dataFolder, { recursive: true, force: true });
      }
    });
}

export function addAddressCommand(program: Command): void {
  program
    .command('address')
    .description('an address of the running server that lets one browser in, once')
    .option('--data <folder>', 'data folder of the server (default TAVROX_DATA or your own)')
    .option('--json', 'print it as JSON')
    .action(async ({ data, json }: ServeFlags) => {
      const folder = data ?? defaultDataFolder();
      const server = await findServer(folder);
      if (!server) throw badInput('data', `No Tavrox runs on the data folder ${folder}. Start it first.`);
      const { address } = (await call(server, 'POST', '/api/addresses', {})) as { address: string };
      if (json) printJson({ address });
      else print(address);
    });
}

/** Fills a data folder that has no store yet. @throws Problem where there is one: nothing is ever put over it */
async function beginWith(dataFolder: string, file: string): Promise<void> {
  if (databaseUrlOf(process.env) !== null) {
    throw badInput(
      'restore',
      '--restore: the store is in the database of DATABASE_URL, and not in the data folder. Start Tavrox without it, and take an archive in with “tavrox import”.',
    );
  }
  if (existsSync(join(dataFolder, 'store'))) {
    throw badInput(
      'restore',
      `--restore: there is a store in ${dataFolder} already, and nothing is put over it. Use “tavrox restore” or “tavrox import” for that, or another --data.`,
    );
  }
  const bytes = await bytesOf(file, 'restore');
  if (bytes.subarray(0, 2).toString('latin1') !== 'PK') {
    await restoreStore(dataFolder, file);
    return;
  }
  const incoming = readIncoming(bytes, file);
  try {
    await inStore(dataFolder, ({ db }) => carryOutImport(db, incoming, 'theirs', () => false));
  } catch (error) {
    // An empty store would stand in the way of the next try.
    rmSync(join(dataFolder, 'store'), { recursive: true, force: true });
    throw error;
  }
}

/** @throws Problem `bad-input` */
export function portOf({ port = process.env['PORT'] ?? String(DEFAULT_PORT) }: Pick<ServeFlags, 'port'>): number {
  const value = Number(port);
  if (!Number.isInteger(value) || value < 0 || value > 65_535) {
    throw badInput(
      'port',
      `port: “${port}” is not a port. Type a whole number from 0 to 65535; 0 takes any that is free.`,
    );
  }
  return value;
}

/** Simulated seconds per real second; raised by tests and the bench, not by people. */
function paceFromEnvironment(): ServeOptions['pace'] {
  return { speed: Number(process.env['TAVROX_STAND_IN_SPEED'] ?? 1) || 1, seed: 1 };
}

/** @throws Problem `bad-input` where parts of a house are named without it */
function houseOf({ house, listen = '', cert, key, behind }: ServeFlags): Pick<ServeOptions, 'house'> {
  if (!house) {
    if ((cert ?? key ?? behind) !== undefined)
      throw badInput('house', 'house: a certificate or a proxy is for a house. Add --house.');
    return {};
  }
  if ((cert === undefined) !== (key === undefined))
    throw badInput('cert', 'cert: a certificate and its key go together. Name --cert and --key.');
  const certificate = cert !== undefined && key !== undefined ? { cert, key } : null;
  return { house: { listen, certificate, behind: behind ?? null } };
}

async function untilSignal(
  flags: ServeFlags,
  options: Pick<ServeOptions, 'dataFolder' | 'empty' | 'house' | 'isThrownAway'>,
): Promise<void> {
  const signalled = new Promise<void>((resolve) => {
    onEnding(resolve);
  });
  const server = await serve({ ...options, port: portOf(flags), pace: paceFromEnvironment() });
  if (flags.json) printJson({ address: server.address, port: server.port, origins: server.origins });
  else {
    print(`Tavrox is at ${server.address}`);
    if (server.origins.length > 0) print(`The house is at ${server.origins.join(', ')}`);
  }
  await signalled;
  await server.close();
}
