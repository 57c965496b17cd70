import type { Connection } from '#core/2-trade/links/connection.ts';
import type { SystemDevice, Told } from '#engine/system/system.ts';
import { system } from '#engine/system/this-system.ts';
import type { VolumeInfo } from '#engine/volumes/volume.ts';

/** A real volume with what its session needs to know of the device. */
export interface RealVolumeInfo extends VolumeInfo {
  device: SystemDevice;
  isSystem: boolean;
  told: Told;
}

/** The links to a device now, when they are not what they were; null when they are, or are not told. */
export function connectionNow({
  device,
  connection,
}: Pick<RealVolumeInfo, 'device' | 'connection'>): Connection | null {
  if (connection.hops.length === 0) return null;
  const hops = system.linksNow(device);
  const same = JSON.stringify(hops) === JSON.stringify(connection.hops);
  return same || hops.length === 0 ? null : { hops };
}
