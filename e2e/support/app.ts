import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { storeVariables } from './store.ts';

export const root = fileURLToPath(new URL('../..', import.meta.url));

/** The real program, started as a user starts it, on a data folder of its own. */
export interface App {
  /** Lets one browser in, once. */
  address: string;
  origin: string;
  /** The key of this start, as the command line reads it. */
  key: string;
  dataFolder: string;
  process: ChildProcess;
  /** Ends the process; the data folder stays for the next start. */
  stop(signal?: NodeJS.Signals): Promise<void>;
}

export interface AppOptions {
  dataFolder?: string;
  empty?: boolean;
  standInSpeed?: number;
  /** Address of the PostgreSQL database that its store is on; null for the data folder, and where all tests have theirs if left out. */
  databaseUrl?: string | null;
  /** Further arguments of `serve`. */
  args?: readonly string[];
}

export function temporaryFolder(name: string): string {
  return mkdtempSync(join(process.env['TAVROX_TEST_FOLDER'] ?? tmpdir(), `tavrox-${name}-`));
}

export function removeFolder(folder: string): void {
  rmSync(folder, { recursive: true, force: true });
}

export async function startApp({
  dataFolder = temporaryFolder('data'),
  empty = false,
  standInSpeed = 1,
  databaseUrl,
  args: further = [],
}: AppOptions = {}): Promise<App> {
  const args = [
    'bin/tavrox.js',
    'serve',
    '--json',
    '--port',
    '0',
    '--data',
    dataFolder,
    ...(empty ? ['--empty'] : []),
    ...further,
  ];
  const store = databaseUrl === undefined ? await storeVariables(dataFolder) : { DATABASE_URL: databaseUrl ?? '' };
  const child = spawn(process.execPath, args, {
    cwd: root,
    env: {
      ...process.env,
      ...store,
      TAVROX_STAND_IN_SPEED: String(standInSpeed),
      TAVROX_LOCKS: join(dataFolder, 'locks'),
    },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let output = '';
  let errors = '';
  child.stderr.on('data', (text: Buffer) => (errors += text.toString()));
  const address = await new Promise<string>((resolve, reject) => {
    child.stdout.on('data', (text: Buffer) => {
      output += text.toString();
      const found = /"address": "([^"]+)"/.exec(output);
      if (found) resolve(found[1]!);
    });
    child.once('exit', (code) => reject(new Error(`The server ended with ${code}: ${errors}`)));
  });
  const url = new URL(address);
  return {
    address,
    origin: url.origin,
    key: (JSON.parse(readFileSync(join(dataFolder, 'server.json'), 'utf8')) as { secret: string }).secret,
    dataFolder,
    process: child,
    async stop(signal = 'SIGTERM') {
      if (child.exitCode !== null || child.signalCode !== null) return;
      const exited = once(child, 'exit');
      child.kill(signal);
      await exited;
    },
  };
}

/** Calls the API with the key of the start, as the command line does. */
export async function callApi(
  app: App,
  method: string,
  path: string,
  body?: unknown,
): Promise<{ status: number; document: unknown }> {
  const response = await fetch(`${app.origin}/api${path}`, {
    method,
    headers: {
      Authorization: `Bearer ${app.key}`,
      Origin: app.origin,
      'X-Tavrox': '1',
      'Content-Type': 'application/json',
    },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await response.text();
  return { status: response.status, document: text === '' ? undefined : JSON.parse(text) };
}

/** An address that lets one browser in more. */
export async function newAddress(app: App): Promise<string> {
  return ((await callApi(app, 'POST', '/addresses', {})).document as { address: string }).address;
}

/** The real volume that holds a folder. */
export async function volumeOfFolder(app: App, folder: string): Promise<VolumeEntry> {
  const volumes = (await callApi(app, 'GET', '/volumes')).document as VolumeEntry[];
  const holders = volumes.filter((volume) => volume.kind === 'real' && folder.startsWith(volume.mountPoint));
  return holders.sort((a, b) => b.mountPoint.length - a.mountPoint.length)[0]!;
}
