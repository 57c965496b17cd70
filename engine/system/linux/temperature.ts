import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

/** First hwmon temperature of a device or its controller: NVMe and SATA drives both keep it there. */
export function temperatureSensor(deviceFolder: string): string | null {
  for (const parent of ['device', 'device/device']) {
    for (const holder of [join(deviceFolder, parent), join(deviceFolder, parent, 'hwmon')]) {
      const name = list(holder).find((entry) => /^hwmon\d+$/.test(entry));
      if (name !== undefined) return join(holder, name, 'temp1_input');
    }
  }
  return null;
}

function list(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch {
    return [];
  }
}

/** °C of a sensor that counts in thousandths; null when it does not answer. */
export function readTemperature(sensor: string): number | null {
  try {
    const text = readFileSync(sensor, 'utf8').trim();
    const millidegrees = text === '' ? NaN : Number(text);
    return Number.isFinite(millidegrees) ? millidegrees / 1000 : null;
  } catch {
    return null;
  }
}
