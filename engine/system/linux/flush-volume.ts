import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { flushFolder } from '#engine/system/flush-folder.ts';

const run = promisify(execFile);

/** Flushes the filesystem that holds a folder to its drive: names and sizes of many files as well as their data. */
export async function flushVolume(folder: string): Promise<void> {
  try {
    // syncfs(2), which Node does not have; the command is part of every Linux.
    await run('sync', ['-f', '--', folder]);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    flushFolder(folder);
  }
}
