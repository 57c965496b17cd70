import { constants, readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { elsewhere } from '#engine/system/elsewhere.ts';
import { loadFcntl } from '#engine/system/fcntl.ts';
import { keepAwakeBy } from '#engine/system/keeper.ts';
import { linksNow } from '#engine/system/linux/devices.ts';
import { readDiskBytes } from '#engine/system/linux/disk-stats.ts';
import { canDropCaches, dropCaches } from '#engine/system/linux/drop-caches.ts';
import { flushVolume } from '#engine/system/linux/flush-volume.ts';
import { onBattery } from '#engine/system/linux/power.ts';
import { processMark, programs } from '#engine/system/linux/processes.ts';
import { processorTimes } from '#engine/system/linux/processor.ts';
import { readTemperature, temperatureSensor } from '#engine/system/linux/temperature.ts';
import { volumes } from '#engine/system/linux/volumes.ts';
import type { System } from '#engine/system/system.ts';

const INHIBIT = ['--what=sleep', '--who=Tavrox', '--why=A drive is being measured', 'sleep', 'infinity'];

/** Linux, from /proc, /sys and the calls that Node has. */
export const linux: System = {
  ...elsewhere,
  name: 'Linux',
  volumes,
  linksNow,
  directFlag: constants.O_DIRECT ?? 0,
  // Opening with the flag is all.
  bypassCache: () => true,
  flushVolume,
  diskBytes: readDiskBytes,
  processorTimes,
  secondsSinceBoot,
  readerName: ({ diskFolder }) => diskFolder && `/dev/${basename(diskFolder)}`,
  temperatureOf({ diskFolder }) {
    const sensor = diskFolder === null ? null : temperatureSensor(diskFolder);
    return sensor === null ? null : () => readTemperature(sensor);
  },
  onBattery,
  keepAwake: () => keepAwakeBy('systemd-inhibit', INHIBIT),
  processMark,
  canCall: () => loadFcntl('libc.so.6') !== null,
  programs,
  fileMemory: { canEmpty: canDropCaches, empty: dropCaches },
};

/** Seconds since the machine was started (proc(5)), the time that it slept counted. */
function secondsSinceBoot(): number | null {
  try {
    return Number(readFileSync('/proc/uptime', 'utf8').split(' ')[0]);
  } catch {
    return null;
  }
}
