import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { basename } from 'node:path';
import type { Identity } from '#core/4-runs/run/drive-and-volume.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import { deviceFactsOf, networkHops, type DeviceFacts } from '#engine/volumes/real/device-facts.ts';
import { isMemoryFilesystem, isNetworkFilesystem, parseMounts, type Mount } from '#engine/volumes/real/mounts.ts';
import { readSystemLists, volumesFromLists } from '#engine/volumes/real/other-systems.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';

/** Smaller places are the system's own and hold no footage. */
const SMALLEST_VOLUME_BYTES = 16e6;

/** Volumes attached to this machine. */
export async function discoverVolumes(): Promise<RealVolumeInfo[]> {
  if (process.platform !== 'linux') return volumesFromLists(await readSystemLists());
  const mountinfo = readFileSync('/proc/self/mountinfo', 'utf8');
  const found = await Promise.all(parseMounts(mountinfo).map(describeMount));
  return found.filter((volume) => volume !== undefined);
}

/** Where volumes are mounted now. */
export const mountPointsNow = async (): Promise<string[]> =>
  (await discoverVolumes()).map(({ mountPoint }) => mountPoint);

async function describeMount(mount: Mount): Promise<RealVolumeInfo | undefined> {
  let space: { bsize: number; blocks: number; bavail: number };
  try {
    space = await statfs(mount.mountPoint);
  } catch {
    return undefined; // A share that does not answer, or a place we may not see.
  }
  if (space.blocks * space.bsize < SMALLEST_VOLUME_BYTES) return undefined;
  const device = deviceFactsOf(mount.source);
  const medium = mediumOf(mount, device);
  const label = mount.mountPoint === '/' ? 'System disk' : basename(mount.mountPoint);
  return {
    id: `m-${createHash('sha256').update(`${mount.source} ${mount.mountPoint}`).digest('hex').slice(0, 12)}`,
    kind: 'real',
    label,
    mountPoint: mount.mountPoint,
    filesystem: mount.filesystem,
    totalBytes: space.blocks * space.bsize,
    freeBytes: space.bavail * space.bsize,
    usesAll: false,
    readOnly: mount.readOnly,
    medium,
    connection: { hops: medium === 'network' ? networkHops() : device.hops },
    identity: identityOf(mount, device),
    driveLabel: device.model || (medium === 'network' ? mount.source : label),
    deviceKey: medium === 'network' ? mount.source : device.diskName || mount.mountPoint,
    spaceKey: mount.deviceNumber,
    description: '',
    knownCacheBytes: null,
    discardSupported: device.discardSupported,
    faults: [],
    device,
  };
}

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
