import { accessSync, constants, writeFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';

const SWITCH = '/proc/sys/vm/drop_caches';

/** Whether this process may empty the system's memory of files. */
export function canDropCaches(): boolean {
  try {
    accessSync(SWITCH, constants.W_OK);
    return true;
  } catch {
    return false;
  }
}

/** Empties it, so that what is read next comes from the drives. What was not written yet is written first. */
export function dropCaches(): void {
  execFileSync('sync');
  writeFileSync(SWITCH, '3\n');
}
