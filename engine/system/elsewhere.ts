import { mkdir, rename, rmdir } from 'node:fs/promises';
import { homedir, uptime } from 'node:os';
import { join } from 'node:path';
import { flushFolder } from '#engine/system/flush-folder.ts';
import { timesByNode } from '#engine/system/processors.ts';
import type { System } from '#engine/system/system.ts';

const codeOf = (error: unknown): string => (error as NodeJS.ErrnoException).code ?? '';

/** What every system that Node runs on can do. Others build on it. */
export const elsewhere: System = {
  name: 'another system',
  volumes: () => Promise.resolve([]),
  linksNow: () => [],
  directFlag: 0,
  bypassCache: () => false,
  flushVolume: (folder) => Promise.resolve(flushFolder(folder)),
  // An empty folder is made there first, which the move replaces: nothing else would be.
  async moveToFree(folder, place) {
    try {
      await mkdir(place);
    } catch (error) {
      if (codeOf(error) === 'EEXIST') return false;
      throw error;
    }
    try {
      await rename(folder, place);
      return true;
    } catch (error) {
      // Somebody put something into it in between: that stays theirs.
      if (['ENOTEMPTY', 'EEXIST'].includes(codeOf(error))) return false;
      await rmdir(place).catch(() => undefined);
      throw error;
    }
  },
  diskBytes: () => null,
  processorTimes: timesByNode,
  secondsSinceBoot: uptime,
  readerName: () => null,
  temperatureOf: () => null,
  onBattery: () => null,
  keepAwake: () => () => undefined,
  processMark: () => '',
  // By the XDG base directory specification.
  ownFolders: () => ({
    data: join(process.env['XDG_DATA_HOME'] ?? join(homedir(), '.local', 'share'), 'tavrox'),
    running: join(process.env['XDG_RUNTIME_DIR'] ?? join(homedir(), '.cache'), 'tavrox'),
  }),
  whenRefused: 'Choose another folder.',
  whenNowhere: 'Choose one on a drive that `tavrox volumes` lists.',
  hasFileModes: true,
  canCall: () => false,
  programs: null,
  fileMemory: null,
};
