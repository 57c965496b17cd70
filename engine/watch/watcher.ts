import { readFileSync, readdirSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import type { WatchRow } from '#core/run/run-events.ts';
import { readDiskBytes } from '#engine/watch/disk-stats.ts';

/** What to watch beside the transfers of a run; null where the system does not tell. */
export interface WatchTargets {
  /** `MAJ:MIN` of the whole device. */
  deviceNumber: string | null;
  /** Folder in /sys of the whole device, for its temperature sensor. */
  deviceFolder: string | null;
  /** Bytes this run has moved so far, both directions. */
  ownBytes: () => number;
  nowSeconds: () => number;
}

/** Reads the conditions once a second until stopped. */
export function startWatching(targets: WatchTargets, onRow: (row: WatchRow) => void): () => void {
  const sensor = targets.deviceFolder === null ? null : temperatureSensor(targets.deviceFolder);
  let before = reading(targets);
  const timer = setInterval(() => {
    const now = reading(targets);
    const seconds = now.seconds - before.seconds;
    const moved = now.deviceBytes === null || before.deviceBytes === null ? null : now.deviceBytes - before.deviceBytes;
    onRow({
      atSeconds: now.seconds,
      temperatureCelsius: sensor === null ? null : readTemperature(sensor),
      foreignBytesPerSecond: moved === null ? null : Math.max(0, moved - (now.ownBytes - before.ownBytes)) / seconds,
      processorShare: busyShare(before.processor, now.processor),
    });
    before = now;
  }, 1000);
  return () => clearInterval(timer);
}

function reading({ deviceNumber, ownBytes, nowSeconds }: WatchTargets) {
  const device = readDiskBytes(deviceNumber);
  return {
    seconds: nowSeconds(),
    ownBytes: ownBytes(),
    deviceBytes: device === null ? null : device.readBytes + device.writeBytes,
    processor: processorTimes(),
  };
}

interface ProcessorTimes {
  busy: number;
  total: number;
}

export function processorTimes(): ProcessorTimes {
  return cpus().reduce(
    ({ busy, total }, { times }) => {
      const all = times.user + times.nice + times.sys + times.irq + times.idle;
      return { busy: busy + all - times.idle, total: total + all };
    },
    { busy: 0, total: 0 },
  );
}

/** Busy share of all processors between two readings, 0 to 1; null when no time passed. */
export function busyShare(before: ProcessorTimes, now: ProcessorTimes): number | null {
  const total = now.total - before.total;
  return total > 0 ? Math.min(1, Math.max(0, (now.busy - before.busy) / total)) : null;
}

/** First hwmon temperature of a device or its controller: NVMe and SATA drives both keep it there. */
function temperatureSensor(deviceFolder: string): string | null {
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

function readTemperature(sensor: string): number | null {
  try {
    const millidegrees = Number(readFileSync(sensor, 'utf8'));
    return Number.isFinite(millidegrees) ? millidegrees / 1000 : null;
  } catch {
    return null;
  }
}
