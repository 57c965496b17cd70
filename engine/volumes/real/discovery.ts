import { createHash } from 'node:crypto';
import type { SystemVolume } from '#engine/system/system.ts';
import { system } from '#engine/system/this-system.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';

/** Volumes attached to this machine. */
export const discoverVolumes = async (): Promise<RealVolumeInfo[]> => (await system.volumes()).map(describe);

/** Where volumes are mounted now. */
export const mountPointsNow = async (): Promise<string[]> =>
  (await system.volumes()).map(({ mountPoint }) => mountPoint);

const describe = ({ source, hops, ...told }: SystemVolume): RealVolumeInfo => ({
  ...told,
  id: `m-${createHash('sha256').update(`${source} ${told.mountPoint}`).digest('hex').slice(0, 12)}`,
  kind: 'real',
  usesAll: false,
  connection: { hops },
  description: '',
  knownCacheBytes: null,
  faults: [],
});
