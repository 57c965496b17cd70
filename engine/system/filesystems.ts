import own, { type PlatformPath } from 'node:path';

/** What the names of filesystems mean, whichever system uses them. */

const NETWORK_FILESYSTEMS = new Set([
  'nfs',
  'nfs4',
  'cifs',
  'smb3',
  'smbfs',
  'afpfs',
  'webdav',
  'afs',
  'ceph',
  'glusterfs',
  'fuse.sshfs',
  '9p',
  'virtiofs',
]);
const MEMORY_FILESYSTEMS = new Set(['tmpfs', 'ramfs']);
const FAT_LIKE = new Set(['vfat', 'msdos', 'exfat', 'fuse.exfat', 'fat', 'fat32']);

export const isNetworkFilesystem = (filesystem: string): boolean => NETWORK_FILESYSTEMS.has(filesystem);
export const isMemoryFilesystem = (filesystem: string): boolean => MEMORY_FILESYSTEMS.has(filesystem);

/** Filesystems whose files grow through the system's cache whatever one asks, and stay under 4 GiB. */
export const isFatLike = (filesystem: string): boolean => FAT_LIKE.has(filesystem);

/** Smaller places are the system's own and hold no footage. */
export const SMALLEST_VOLUME_BYTES = 16e6;

/** Whether a path is a folder or lies in it, as a system compares paths: this one, where none is said. */
export function isIn(path: string, folder: string, system: PlatformPath = own): boolean {
  const way = system.relative(folder, path);
  return way === '' || !(way === '..' || way.startsWith(`..${system.sep}`) || system.isAbsolute(way));
}

/** The mount that holds a path: the one with the longest mount point above it. */
export function mountOf<T extends { mountPoint: string }>(
  path: string,
  mounts: readonly T[],
  system: PlatformPath = own,
): T | undefined {
  return mounts
    .filter(({ mountPoint }) => isIn(path, mountPoint, system))
    .reduce<T | undefined>(
      (best, mount) => (best === undefined || mount.mountPoint.length > best.mountPoint.length ? mount : best),
      undefined,
    );
}
