import { execFile } from 'node:child_process';
import { closeSync, fsyncSync, openSync } from 'node:fs';
import { promisify } from 'node:util';

const run = promisify(execFile);

/**
 * Flushes the filesystem that holds a folder to its drive: names and sizes of many files as well as
 * their data. Where the system has no command for that, the folder alone.
 */
export async function flushVolume(folder: string): Promise<void> {
  try {
    // syncfs(2), which Node does not have; the command is part of every Linux.
    if (process.platform === 'linux') return void (await run('sync', ['-f', '--', folder]));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
  }
  const descriptor = openSync(folder, 'r');
  try {
    fsyncSync(descriptor);
  } finally {
    closeSync(descriptor);
  }
}
