import { spawn } from 'node:child_process';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

const SUPPLIES = '/sys/class/power_supply';

/** Whether the machine runs on its battery; null where it has none or does not tell. */
export function onBattery(folder = SUPPLIES): boolean | null {
  try {
    const supplies = readdirSync(folder).map((name) => ({
      type: read(folder, name, 'type'),
      online: read(folder, name, 'online'),
    }));
    if (!supplies.some((supply) => supply.type === 'Battery')) return null;
    return !supplies.some((supply) => supply.type !== 'Battery' && supply.online === '1');
  } catch {
    return null;
  }
}

function read(...parts: string[]): string {
  try {
    return readFileSync(join(...parts), 'utf8').trim();
  } catch {
    return '';
  }
}

/** Programs of the system that keep it awake for as long as they run. */
const KEEPERS: Partial<Record<NodeJS.Platform, [string, string[]]>> = {
  darwin: ['caffeinate', ['-i', '-s']],
  linux: ['systemd-inhibit', ['--what=sleep', '--who=Tavrox', '--why=A drive is being measured', 'sleep', 'infinity']],
};

/** Keeps the machine from sleeping while a run goes on, where the system has a program for it. */
export function keepAwake(): () => void {
  const keeper = KEEPERS[process.platform];
  if (!keeper) return () => undefined;
  const child = spawn(keeper[0], keeper[1], { stdio: 'ignore' });
  // Without such a program the machine may sleep; the run then shows the gap.
  child.on('error', () => undefined);
  child.unref();
  return () => child.kill();
}
