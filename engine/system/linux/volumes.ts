import { readFileSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { basename } from 'node:path';
import type { Identity } from '#core/4-runs/run/drive-and-volume.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import { SMALLEST_VOLUME_BYTES, isMemoryFilesystem, isNetworkFilesystem } from '#engine/system/filesystems.ts';
import { deviceFactsOf, networkHops, type DeviceFacts } from '#engine/system/linux/devices.ts';
import { parseMounts, type Mount } from '#engine/system/linux/mounts.ts';
import type { SystemVolume } from '#engine/system/system.ts';

export async function volumes(): Promise<SystemVolume[]> {
  const found = await Promise.all(parseMounts(readFileSync('/proc/self/mountinfo', 'utf8')).map(describeMount));
  return found.filter((volume) => volume !== undefined);
}

async function describeMount(mount: Mount): Promise<SystemVolume | undefined> {
  let space: { bsize: number; blocks: number; bavail: number };
  try {
    space = await statfs(mount.mountPoint);
  } catch {
    return undefined; // A share that does not answer, or a place we may not see.
  }
  if (space.blocks * space.bsize < SMALLEST_VOLUME_BYTES) return undefined;
  const device = deviceFactsOf(mount.source);
  const medium = mediumOf(mount, device);
  const hops = medium === 'network' ? networkHops() : device.hops;
  const identity = identityOf(mount, device);
  const label = mount.mountPoint === '/' ? 'System disk' : basename(mount.mountPoint);
  const { deviceNumber, diskNumber, diskFolder } = device;
  return {
    source: mount.source,
    mountPoint: mount.mountPoint,
    label,
    filesystem: mount.filesystem,
    totalBytes: space.blocks * space.bsize,
    freeBytes: space.bavail * space.bsize,
    readOnly: mount.readOnly,
    isSystem: mount.mountPoint === '/',
    medium,
    hops,
    identity,
    driveLabel: device.model || (medium === 'network' ? mount.source : label),
    deviceKey: medium === 'network' ? mount.source : device.diskName || mount.mountPoint,
    spaceKey: mount.deviceNumber,
    discardSupported: device.discardSupported,
    device: { deviceNumber, diskNumber, diskFolder },
    told: {
      identity: IDENTITY_TOLD[identity.kind] ?? null,
      medium: medium === 'unknown' ? null : medium === device.medium ? 'queue/rotational in /sys' : 'the filesystem',
      link: hops.length === 0 ? null : medium === 'network' ? '/sys/class/net' : 'the device’s way in /sys/devices',
      counters: diskNumber === null ? null : '/proc/diskstats',
    },
  };
}

const IDENTITY_TOLD: Partial<Record<Identity['kind'], string>> = {
  serial: 'its serial number in /sys',
  wwn: 'its worldwide name in /sys',
  filesystem: 'the filesystem’s own number',
  share: 'the name of the share',
};

function mediumOf(mount: Mount, device: DeviceFacts): Medium {
  if (isMemoryFilesystem(mount.filesystem)) return 'memory';
  if (isNetworkFilesystem(mount.filesystem)) return 'network';
  return device.medium;
}

/** Best known identity of the drive behind a mount: serial, WWN, filesystem id, share, and last its place. */
function identityOf(mount: Mount, device: DeviceFacts): Identity {
  if (device.serial) return { kind: 'serial', value: device.serial };
  if (device.wwn) return { kind: 'wwn', value: device.wwn };
  if (device.filesystemId) return { kind: 'filesystem', value: device.filesystemId };
  if (isNetworkFilesystem(mount.filesystem)) return { kind: 'share', value: mount.source };
  return { kind: 'mount', value: `${mount.source} ${mount.mountPoint}` };
}
