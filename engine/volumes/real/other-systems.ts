import { createHash } from 'node:crypto';
import { basename } from 'node:path';
import type { Systeminformation } from 'systeminformation';
import { hopOf } from '#core/2-trade/links/connection.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import { UNKNOWN_DEVICE } from '#engine/volumes/real/device-facts.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';
import { isMemoryFilesystem, isNetworkFilesystem } from '#engine/volumes/real/mounts.ts';

/** What a system other than Linux tells of its volumes, through the library systeminformation. */
export interface SystemLists {
  sizes: readonly Pick<Systeminformation.FsSizeData, 'fs' | 'type' | 'size' | 'available' | 'mount' | 'rw'>[];
  devices: readonly Pick<
    Systeminformation.BlockDevicesData,
    'name' | 'identifier' | 'mount' | 'physical' | 'uuid' | 'label' | 'model' | 'serial' | 'protocol' | 'device'
  >[];
}

export async function readSystemLists(): Promise<SystemLists> {
  const { default: system } = await import('systeminformation');
  const [sizes, devices] = await Promise.all([system.fsSize(), system.blockDevices()]);
  return { sizes, devices };
}

/** Places of the system's own that hold no footage. */
const HIDDEN_MOUNT = /^\/(dev|private\/var\/vm|System\/Volumes\/(VM|Preboot|Update|xarts|iSCPreboot|Hardware))(\/|$)/;
const SMALLEST_VOLUME_BYTES = 16e6;

/** Volumes from those lists. Untried on real machines of these systems; the shapes are the library's. */
export function volumesFromLists({ sizes, devices }: SystemLists): RealVolumeInfo[] {
  return sizes
    .filter(({ mount, size }) => mount !== '' && size >= SMALLEST_VOLUME_BYTES && !HIDDEN_MOUNT.test(mount))
    .map(({ fs, type, size, available, mount, rw }) => {
      const filesystem = type.toLowerCase();
      const device = devices.find((one) => one.mount === mount);
      const network = isNetworkFilesystem(filesystem) || fs.startsWith('//');
      const medium: Medium = isMemoryFilesystem(filesystem)
        ? 'memory'
        : network
          ? 'network'
          : mediumOf(device?.physical);
      const label = device?.label || (mount === '/' ? 'System disk' : basename(mount) || mount);
      return {
        id: `m-${createHash('sha256').update(`${fs} ${mount}`).digest('hex').slice(0, 12)}`,
        kind: 'real' as const,
        label,
        mountPoint: mount,
        filesystem,
        totalBytes: size,
        freeBytes: available,
        usesAll: false,
        readOnly: rw === false,
        medium,
        connection: { hops: network ? [] : hopsOf(device?.protocol) },
        identity: network
          ? { kind: 'share' as const, value: fs }
          : device?.serial
            ? { kind: 'serial' as const, value: device.serial }
            : device?.uuid
              ? { kind: 'filesystem' as const, value: device.uuid }
              : { kind: 'mount' as const, value: `${fs} ${mount}` },
        driveLabel: device?.model || label,
        deviceKey: network ? fs : device?.device || device?.name || mount,
        spaceKey: fs || mount,
        description: '',
        knownCacheBytes: null,
        discardSupported: null,
        faults: [],
        device: UNKNOWN_DEVICE,
      };
    });
}

function mediumOf(physical: string | undefined): Medium {
  return physical === 'SSD' ? 'flash' : physical === 'HDD' ? 'spinning' : 'unknown';
}

/** Only what the name of the protocol fixes; speeds of cables and slots are not told. */
function hopsOf(protocol: string | undefined) {
  const hop = protocol === 'SATA' ? hopOf('sata-6') : undefined;
  return hop ? [hop] : [];
}
