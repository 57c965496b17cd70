import { execFile, execFileSync } from 'node:child_process';
import { createRequire } from 'node:module';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { elsewhere } from '#engine/system/elsewhere.ts';
import { heldUntilMountsChange } from '#engine/system/macos/held-answers.ts';
import { diskBytesIn, onBatteryIn } from '#engine/system/macos/documents.ts';
import { loadFcntl, type Fcntl } from '#engine/system/fcntl.ts';
import { keepAwakeBy } from '#engine/system/keeper.ts';
import { readVolumes, type Ask } from '#engine/system/macos/volumes.ts';
import type { System } from '#engine/system/system.ts';

const run = promisify(execFile);
const MOST_ANSWER_BYTES = 32e6;
const MOST_MILLISECONDS = 20_000;

/** A program of the system that answers by itself; empty where it does not. */
const ask: Ask = async (program, ...args) => {
  try {
    const { stdout } = await run(program, args, { maxBuffer: MOST_ANSWER_BYTES, timeout: MOST_MILLISECONDS });
    return stdout;
  } catch {
    return '';
  }
};

const askHeld = heldUntilMountsChange(ask);

/** The same while it is waited for: a few hundredths of a second. */
function answerOf(program: string, ...args: string[]): string {
  try {
    return execFileSync(program, args, {
      encoding: 'utf8',
      maxBuffer: MOST_ANSWER_BYTES,
      timeout: MOST_MILLISECONDS,
      stdio: ['ignore', 'pipe', 'ignore'],
    });
  } catch {
    return '';
  }
}

/** Value of F_NOCACHE in macOS's <sys/fcntl.h>: requests of a descriptor go past the cache. */
const F_NOCACHE = 48;
/** Value of F_RDAHEAD: what comes next is not read ahead where it is 0. */
const F_RDAHEAD = 45;

let loaded: Fcntl | null | undefined;
/** Looked for once: files are opened often, and where it is not there it stays so. */
function fcntl(): Fcntl | null {
  if (loaded === undefined) loaded = loadFcntl('libSystem.B.dylib');
  return loaded;
}

/** macOS, from its own programs and by the C library. */
export const macos: System = {
  ...elsewhere,
  name: 'macOS',
  volumes: () => readVolumes(askHeld),
  bypassCache(descriptor) {
    fcntl()?.(descriptor, F_RDAHEAD, 0);
    return fcntl()?.(descriptor, F_NOCACHE, 1) === 0;
  },
  diskBytes(disk) {
    if (disk === null) return null;
    try {
      const { parse } = createRequire(import.meta.url)('plist') as typeof import('plist');
      return diskBytesIn(parse(answerOf('ioreg', '-a', '-r', '-l', '-c', 'IOBlockStorageDriver')), disk);
    } catch {
      return null;
    }
  },
  readerName: ({ diskNumber }) => diskNumber && `/dev/${diskNumber}`,
  onBattery: () => onBatteryIn(answerOf('pmset', '-g', 'batt')),
  processMark: (pid) => answerOf('ps', '-o', 'lstart=', '-p', String(pid)).trim(),
  keepAwake: () => keepAwakeBy('caffeinate', ['-i', '-s']),
  ownFolders: () => ({
    data: join(homedir(), 'Library', 'Application Support', 'Tavrox'),
    running: join(homedir(), 'Library', 'Caches', 'Tavrox'),
  }),
  whenRefused:
    'macOS lets a program into removable and network volumes once you allow it: System Settings, Privacy & Security, Files and Folders, for the terminal that runs Tavrox. Or choose another folder.',
  canCall: () => fcntl() !== null,
};
