import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { root } from './app.ts';
import { storeVariables } from './store.ts';

export interface CliResult {
  code: number;
  stdout: string;
  stderr: string;
}

/** Runs the command line as a user does. `dataFolder` holds its journal and locks. */
export function tavrox(dataFolder: string, ...args: string[]): Promise<CliResult> {
  return tavroxWithLocks(dataFolder, join(dataFolder, 'locks'), ...args);
}

/** The same with the device locks elsewhere, as for two data folders of one user. */
export const tavroxWithLocks = (dataFolder: string, locksFolder: string, ...args: string[]): Promise<CliResult> =>
  tavroxIn({ TAVROX_DATA: dataFolder, TAVROX_LOCKS: locksFolder }, ...args);

/** The same with any variables of its environment. */
export async function tavroxIn(environment: NodeJS.ProcessEnv, ...args: string[]): Promise<CliResult> {
  const dataFolder = environment['TAVROX_DATA'];
  const store = dataFolder === undefined ? {} : await storeVariables(dataFolder);
  return new Promise((resolve) => {
    const child = spawn(process.execPath, ['bin/tavrox.js', ...args], {
      cwd: root,
      env: { ...process.env, ...store, ...environment },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let [stdout, stderr] = ['', ''];
    child.stdout.on('data', (text: Buffer) => (stdout += text.toString()));
    child.stderr.on('data', (text: Buffer) => (stderr += text.toString()));
    child.once('exit', (code) => resolve({ code: code ?? -1, stdout, stderr }));
  });
}
