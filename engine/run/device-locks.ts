import { createHash } from 'node:crypto';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { Problem } from '#core/1-ground/problem.ts';
import { system } from '#engine/system/this-system.ts';
import { isHeld, takeLock, type ProcessLock } from '#engine/locks/process-lock.ts';

/** Locks lie outside any data folder: two servers of one user must not meet on a device either. */
export function locksFolder(): string {
  return process.env['TAVROX_LOCKS'] ?? join(system.ownFolders().running, 'locks');
}

/** Takes the right to measure on a device. @throws Problem `device-busy` when another process has it. */
export function lockDevice(deviceKey: string, runId: string): ProcessLock {
  const name = createHash('sha256').update(`${hostname()} ${deviceKey}`).digest('hex').slice(0, 24);
  const result = takeLock(join(locksFolder(), `${name}.lock`), runId);
  if (isHeld(result)) {
    throw new Problem(
      'device-busy',
      `Another Tavrox (process ${result.pid}) is measuring on this device. Two runs would spoil each other; wait for it or stop it.`,
      { status: 409 },
    );
  }
  return result;
}
