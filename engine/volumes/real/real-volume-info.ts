import type { DeviceFacts } from '#engine/volumes/real/device-facts.ts';
import type { VolumeInfo } from '#engine/volumes/volume.ts';

/** A real volume with what its session needs to know of the device. */
export interface RealVolumeInfo extends VolumeInfo {
  device: DeviceFacts;
}
