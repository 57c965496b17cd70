import { statfs } from 'node:fs/promises';
import { basename } from 'node:path';
import type { Identity } from '#core/4-runs/run/drive-and-volume.ts';
import { hopOf, type Hop } from '#core/2-trade/links/connection.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import { SMALLEST_VOLUME_BYTES, isMemoryFilesystem, isNetworkFilesystem } from '#engine/system/filesystems.ts';
import {
  diskInfoIn,
  mountsIn,
  profiledIn,
  wholeOf,
  type DiskInfo,
  type MountLine,
  type ProfiledDisk,
} from '#engine/system/macos/documents.ts';
import { PCIE_GENERATION_BY_SPEED } from '#engine/system/link-speeds.ts';
import type { SystemVolume } from '#engine/system/system.ts';

/** Asks one of the system’s programs; empty where it does not answer. */
export type Ask = (program: string, ...args: string[]) => Promise<string>;
export type Space = (mountPoint: string) => Promise<{ bsize: number; blocks: number; bavail: number }>;

/** Lists of system_profiler that name disks. */
const LISTS = ['SPNVMeDataType', 'SPUSBDataType', 'SPUSBHostDataType', 'SPSerialATADataType'];
/** Places of the system's own that hold no footage. */
const HIDDEN = /^\/(dev|private\/var\/vm|System\/Volumes\/(?!Data$).*)(\/|$)/;

export async function readVolumes(ask: Ask, space: Space = statfs): Promise<SystemVolume[]> {
  const mounts = await ask('mount');
  const [{ parse }, profiled] = await Promise.all([
    import('plist'),
    ask('system_profiler', '-json', ...LISTS).then(jsonOf),
  ]);
  const info = async (identifier: string): Promise<DiskInfo | null> => {
    const text = await ask('diskutil', 'info', '-plist', identifier);
    // What is no property list at all is not tried: its reader complains aloud.
    if (!text.includes('<plist')) return null;
    try {
      return diskInfoIn(parse(text));
    } catch {
      return null;
    }
  };
  const found = await Promise.all(
    mountsIn(mounts)
      .filter(({ mountPoint, filesystem }) => !HIDDEN.test(mountPoint) && !['devfs', 'autofs'].includes(filesystem))
      .map((mount) => describeMount(mount, { info, profiled, space })),
  );
  return asOneSystem(found.filter((volume) => volume !== null));
}

/** A sealed system and the data that it is laid over are one disk to a person, and its folders begin at the root. */
function asOneSystem(found: readonly SystemVolume[]): SystemVolume[] {
  const data = found.find(({ mountPoint }) => mountPoint === DATA);
  const root = found.find(({ mountPoint }) => mountPoint === '/');
  if (!data || !root) return [...found];
  const whole = { ...data, mountPoint: '/', label: root.label };
  return [whole, ...found.filter((one) => one !== data && one !== root)];
}

const DATA = '/System/Volumes/Data';

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return {};
  }
}

interface Asking {
  info: (identifier: string) => Promise<DiskInfo | null>;
  profiled: unknown;
  space: Space;
}

async function describeMount(mount: MountLine, { info, profiled, space }: Asking): Promise<SystemVolume | null> {
  const { source, mountPoint, filesystem, options } = mount;
  // A share that does not answer, or a place that this program was not let into.
  const room = await space(mountPoint).catch(() => null);
  if (room === null || room.blocks * room.bsize < SMALLEST_VOLUME_BYTES) return null;
  const isShare = isNetworkFilesystem(filesystem) || source.startsWith('//');
  const identifier = source.startsWith('/dev/') ? basename(source) : '';
  const volume = isShare || identifier === '' ? null : await info(identifier);
  // A volume of a container lies on the container’s own store; of several stores none is the disk.
  const disk =
    volume === null
      ? ''
      : volume.stores.length === 1
        ? wholeOf(volume.stores[0]!)
        : volume.stores.length > 1
          ? ''
          : volume.wholeDisk;
  const device = disk === '' ? null : profiledIn(profiled, disk);
  const whole = disk === '' || disk === volume?.wholeDisk ? null : await info(disk);
  const medium = mediumOf(filesystem, isShare, whole?.solid ?? volume?.solid ?? null);
  const hops = hopsOf(device);
  const identity = identityOf(mount, isShare, volume, device);
  const isSystem = mountPoint === '/' || mountPoint === DATA;
  const label = volume?.label || (isSystem ? 'System disk' : basename(mountPoint));
  const container = volume?.container || volume?.stores[0] || source;
  return {
    source,
    mountPoint,
    label,
    filesystem,
    totalBytes: room.blocks * room.bsize,
    // What could be purged is not in it: the system would first have to make that room.
    freeBytes: room.bavail * room.bsize,
    readOnly: options.includes('read-only') || volume?.writable === false,
    isSystem,
    medium,
    hops,
    identity,
    driveLabel: device?.model || whole?.name || volume?.name || (isShare ? source : label),
    deviceKey: isShare ? source : disk || source,
    spaceKey: isShare ? source : container,
    discardSupported: device?.discard ?? null,
    device: { deviceNumber: disk || null, diskNumber: disk || null, diskFolder: null },
    told: {
      identity: { serial: 'system_profiler', filesystem: 'diskutil', share: 'mount' }[identity.kind as string] ?? null,
      medium: medium === 'unknown' ? null : medium === 'flash' || medium === 'spinning' ? 'diskutil' : 'mount',
      link: hops.length === 0 ? null : 'system_profiler',
      counters: disk === '' ? null : 'ioreg',
    },
  };
}

function mediumOf(filesystem: string, isShare: boolean, solid: boolean | null): Medium {
  if (isMemoryFilesystem(filesystem)) return 'memory';
  if (isShare) return 'network';
  return solid === null ? 'unknown' : solid ? 'flash' : 'spinning';
}

function identityOf(
  { source, mountPoint }: MountLine,
  isShare: boolean,
  volume: DiskInfo | null,
  device: ProfiledDisk | null,
): Identity {
  // Whoever mounted it is no part of a share’s name.
  if (isShare) return { kind: 'share', value: source.replace(/^\/\/[^@/]*@/, '//') };
  if (device?.serial) return { kind: 'serial', value: device.serial };
  if (volume?.volumeId) return { kind: 'filesystem', value: volume.volumeId };
  return { kind: 'mount', value: `${source} ${mountPoint}` };
}

const USB_LINKS: Record<string, string> = {
  high_speed: 'usb-480',
  super_speed: 'usb-5',
  super_speed_plus: 'usb-10',
  super_speed_plus_by2: 'usb-20',
};

/** Only what is told as negotiated: what a socket could do is no link. */
function hopsOf(device: ProfiledDisk | null): Hop[] {
  if (device === null) return [];
  const { nvme, usb, sata } = device;
  if (nvme) {
    const speed = /^([\d.]+) ?GT/.exec(nvme.speed)?.[1] ?? '';
    const lanes = Number(/^x(\d+)$/i.exec(nvme.width)?.[1] ?? 0);
    return lanes > 0 ? kept(hopOf(`pcie-${PCIE_GENERATION_BY_SPEED[speed]}`, lanes)) : [];
  }
  if (usb) return kept(hopOf(USB_LINKS[usb] ?? ''));
  return kept(hopOf(/^6 Giga/.test(sata ?? '') ? 'sata-6' : /^3 Giga/.test(sata ?? '') ? 'sata-3' : ''));
}

const kept = (hop: Hop | undefined): Hop[] => (hop ? [hop] : []);
