import { execFile } from 'node:child_process';
import { healthIn, type DriveHealth } from '#core/2-trade/drives/health.ts';
import type { HealthEntry } from '#core/6-exchange/api/wire.ts';
import type { SystemDevice } from '#engine/system/system.ts';
import { system } from '#engine/system/this-system.ts';

/** Behind some adapters a drive takes its time; a run waits less for what it can do without. */
const PATIENT_MILLISECONDS = 15_000;
const RUN_MILLISECONDS = 3_000;
const MOST_BYTES = 4e6;

/** Runs the reader; null where it is not installed. Given by tests. */
export type Reader = (args: readonly string[], mostMilliseconds: number) => Promise<string | null>;

/** The common S.M.A.R.T. reader, which prints JSON from version 7 on. Its exit code says what it found, and no failure. */
const installed: Reader = (args, timeout) =>
  new Promise((resolve) => {
    execFile('smartctl', [...args], { timeout, maxBuffer: MOST_BYTES }, (error, stdout) => {
      resolve((error as NodeJS.ErrnoException | null)?.code === 'ENOENT' ? null : stdout);
    });
  });

const no = (why: string): HealthEntry => ({ health: null, why });

/** Asks a drive, which is not woken for it. */
export async function healthOf(
  device: SystemDevice,
  read: Reader = installed,
  mostMilliseconds = PATIENT_MILLISECONDS,
): Promise<HealthEntry> {
  const name = system.readerName(device);
  if (name === null) return no('The system does not say which drive this is.');
  const text = await read(['--json', '--all', '--nocheck=standby', name], mostMilliseconds);
  if (text === null) {
    return no(
      'Install smartmontools, version 7 or later: with it Tavrox shows wear, hours and errors as the drive counts them.',
    );
  }
  let document: unknown;
  try {
    document = JSON.parse(text);
  } catch {
    return no('The S.M.A.R.T. reader that is installed prints no JSON: version 7 or later does.');
  }
  const health = healthIn(document);
  if (health) return { health, why: null };
  const said = text.toLowerCase();
  if (/permission denied|operation not permitted|access is denied/.test(said)) {
    return no('Asking it takes the administrator’s rights here: start Tavrox once as administrator to see it.');
  }
  return /standby|sleep/.test(said)
    ? no('It is asleep, and is not woken for this: ask again once it runs.')
    : no('It says nothing of itself: adapters, enclosures and virtual disks often pass nothing on.');
}

/** The same for a run, which goes on without it; null where nothing is said in time. */
export const healthForRun = async (device: SystemDevice): Promise<DriveHealth | null> =>
  (await healthOf(device, installed, RUN_MILLISECONDS)).health;
