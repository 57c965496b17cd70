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
