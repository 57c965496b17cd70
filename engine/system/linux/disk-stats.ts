import { readFileSync } from 'node:fs';
import type { DiskBytes } from '#engine/system/system.ts';

/** The kernel counts sectors of 512 bytes whatever the device's own (Documentation/admin-guide/iostats). */
const SECTOR_BYTES = 512;

/** Counters of the device `MAJ:MIN` from the text of /proc/diskstats; null when it is not listed. */
export function parseDiskStats(text: string, majorMinor: string): DiskBytes | null {
  const [major, minor] = majorMinor.split(':');
  for (const line of text.split('\n')) {
    const fields = line.trim().split(/\s+/);
    if (fields[0] !== major || fields[1] !== minor) continue;
    return { readBytes: Number(fields[5]) * SECTOR_BYTES, writeBytes: Number(fields[9]) * SECTOR_BYTES };
  }
  return null;
}

/** Counters of a device now; null where the system does not keep them. */
export function readDiskBytes(majorMinor: string | null): DiskBytes | null {
  if (majorMinor === null) return null;
  try {
    return parseDiskStats(readFileSync('/proc/diskstats', 'utf8'), majorMinor);
  } catch {
    return null;
  }
}
