import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { closeSync, existsSync, mkdtempSync, openSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from './app.ts';
import type { DiskFault } from './failing-disk-server.ts';
import { system } from '#engine/system/this-system.ts';

/** Whether filesystems of one's own can be mounted here: root on Linux with FUSE. */
export const canFail = system.name === 'Linux' && process.getuid?.() === 0 && existsSync('/dev/fuse');

/** A disk that fails when it is told to; see failing-disk-server.ts. */
export interface FailingDisk {
  mountPoint: string;
  /** From the next request on; null for a sound disk again. */
  fail(fault: DiskFault | null): void;
  remove(): void;
}

export async function makeFailingDisk(): Promise<FailingDisk> {
  const mountPoint = mkdtempSync(join(tmpdir(), 'tavrox-failing-'));
  const fuse = openSync('/dev/fuse', 'r+');
  const options = 'fd=3,rootmode=40000,user_id=0,group_id=0,allow_other,subtype=failing';
  const mounted = spawnSync('mount', ['-i', '-t', 'fuse', '-o', options, 'failing', mountPoint], {
    stdio: ['ignore', 'pipe', 'pipe', fuse],
    encoding: 'utf8',
  });
  if (mounted.status !== 0) throw new Error(mounted.stderr);
  const server = spawn(process.execPath, ['--import', 'tsx', 'e2e/support/failing-disk-server.ts'], {
    cwd: root,
    stdio: ['pipe', 'inherit', 'inherit', fuse],
  });
  closeSync(fuse);
  return {
    mountPoint,
    fail: (fault) => void server.stdin!.write(`${JSON.stringify(fault)}\n`),
    remove() {
      server.kill('SIGKILL');
      execFileSync('umount', ['--lazy', mountPoint]);
      rmSync(mountPoint, { recursive: true, force: true });
    },
  };
}
