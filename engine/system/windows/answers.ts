import type { Medium } from '#core/2-trade/drives/medium.ts';
import type { DiskBytes, ProcessorTimes } from '#engine/system/system.ts';

/**
 * What Windows’ devices and clocks answer, by their published structures (winioctl.h, ntddstor.h, winbase.h). Offsets in
 * bytes, little-endian. Each is null where an answer is shorter than what it says it holds.
 */

/** Numbers of the disks that a volume lies on (VOLUME_DISK_EXTENTS). */
export function diskNumbersIn(answer: Buffer): number[] | null {
  if (answer.length < 8) return null;
  const count = answer.readUInt32LE(0);
  if (answer.length < 8 + 24 * count) return null;
  return [...new Set(Array.from({ length: count }, (_, at) => answer.readUInt32LE(8 + 24 * at)))];
}

/** What a device calls itself, and how it is connected (STORAGE_DEVICE_DESCRIPTOR). */
export interface DeviceDescription {
  name: string;
  serial: string;
  bus: string | null;
}

/** STORAGE_BUS_TYPE in words of the trade; others say nothing of a link. */
const BUSES: Record<number, string> = {
  3: 'ATA',
  7: 'USB',
  8: 'RAID',
  9: 'iSCSI',
  10: 'SAS',
  11: 'SATA',
  12: 'SD',
  13: 'MMC',
  14: 'virtual',
  16: 'storage pool',
  17: 'NVMe',
};

export function describedIn(answer: Buffer): DeviceDescription | null {
  if (answer.length < 36) return null;
  const text = (at: number): string => {
    const from = answer.readUInt32LE(at);
    if (from === 0 || from >= answer.length) return '';
    const end = answer.indexOf(0, from);
    return answer
      .toString('latin1', from, end < 0 ? answer.length : end)
      .replace(/\s+/g, ' ')
      .trim();
  };
  return {
    name: [text(12), text(16)].filter(Boolean).join(' '),
    serial: text(24),
    bus: BUSES[answer.readUInt32LE(28)] ?? null,
  };
}

/** DEVICE_SEEK_PENALTY_DESCRIPTOR: what has to move a head to another place. */
export const mediumIn = (answer: Buffer): Medium | null =>
  answer.length < 9 ? null : answer[8] === 0 ? 'flash' : 'spinning';

/** DEVICE_TRIM_DESCRIPTOR. */
export const discardIn = (answer: Buffer): boolean | null => (answer.length < 9 ? null : answer[8] !== 0);

/** DISK_PERFORMANCE. */
export const diskBytesIn = (answer: Buffer): DiskBytes | null =>
  answer.length < 16
    ? null
    : { readBytes: Number(answer.readBigInt64LE(0)), writeBytes: Number(answer.readBigInt64LE(8)) };

/** °C of the first sensor (STORAGE_TEMPERATURE_DATA_DESCRIPTOR). */
export function celsiusIn(answer: Buffer): number | null {
  if (answer.length < 28 || answer.readUInt16LE(12) === 0) return null;
  const celsius = answer.readInt16LE(26);
  // The smallest number stands for none.
  return celsius === -0x8000 ? null : celsius;
}

/** FILETIME of GetSystemTimes: the time of the kernel holds that of doing nothing. */
export function timesIn(idle: Buffer, kernel: Buffer, user: Buffer): ProcessorTimes {
  const [free, all] = [idle.readBigUInt64LE(0), kernel.readBigUInt64LE(0) + user.readBigUInt64LE(0)];
  return { busy: Number(all - free), total: Number(all) };
}

/** SYSTEM_POWER_STATUS: whether it runs on its battery; null where it has none, or does not know. */
export function onBatteryIn(status: Buffer): boolean | null {
  const [line, battery] = [status[0], status[1]];
  const hasNone = battery === undefined || battery === 255 || (battery & 128) !== 0;
  return hasNone || (line !== 0 && line !== 1) ? null : line === 0;
}
