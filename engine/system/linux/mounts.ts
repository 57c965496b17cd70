import { isMemoryFilesystem, isNetworkFilesystem } from '#engine/system/filesystems.ts';

/** One line of /proc/self/mountinfo that may be a place to measure. */
export interface Mount {
  mountPoint: string;
  filesystem: string;
  /** Device file, host:/path, or the filesystem's own word. */
  source: string;
  readOnly: boolean;
  /** `MAJ:MIN` as mountinfo gives it; of no device for network and some other filesystems. */
  deviceNumber: string;
}

const OTHER_FILESYSTEMS = new Set(['overlay', 'zfs', 'fuseblk', 'ecryptfs']);
/** Memory that the system keeps for itself: nobody stores footage there. */
const SYSTEM_PLACES = /^\/(proc|sys|run|dev(?!\/shm(\/|$))|snap|boot|var\/lib\/(docker|containers|snapd))(\/|$)/;

/** mountinfo writes spaces, tabs, newlines and backslashes as octal (proc(5)). */
function unescapeOctal(text: string): string {
  return text.replace(/\\([0-7]{3})/g, (_, digits: string) => String.fromCharCode(parseInt(digits, 8)));
}

/**
 * Mounts on which something can be measured, from the text of /proc/self/mountinfo. Of several
 * mounts of one device the one with the shortest path stands for all; of several on one path the last,
 * which hides the others.
 */
export function parseMounts(mountinfo: string): Mount[] {
  const byPath = new Map<string, Mount>();
  for (const line of mountinfo.split('\n')) {
    const [before, after] = line.split(' - ');
    if (before === undefined || after === undefined) continue;
    const [, , deviceNumber, , path, options] = before.split(' ');
    const [filesystem, source, superOptions] = after.split(' ');
    const mount: Mount = {
      mountPoint: unescapeOctal(path!),
      filesystem: filesystem!,
      source: unescapeOctal(source!),
      readOnly: options!.split(',').includes('ro') || superOptions!.split(',').includes('ro'),
      deviceNumber: deviceNumber!,
    };
    byPath.delete(mount.mountPoint);
    if (isPlace(mount)) byPath.set(mount.mountPoint, mount);
  }
  const byDevice = new Map<string, Mount>();
  for (const mount of byPath.values()) {
    // Each memory disk is a place of its own although all of them name the same source.
    const device = isMemoryFilesystem(mount.filesystem) ? mount.mountPoint : `${mount.source} ${mount.deviceNumber}`;
    const known = byDevice.get(device);
    if (!known || mount.mountPoint.length < known.mountPoint.length) byDevice.set(device, mount);
  }
  return [...byDevice.values()].sort((a, b) => a.mountPoint.localeCompare(b.mountPoint));
}

function isPlace({ filesystem, source, mountPoint }: Mount): boolean {
  if (SYSTEM_PLACES.test(mountPoint)) return false;
  return (
    source.startsWith('/dev/') ||
    isNetworkFilesystem(filesystem) ||
    isMemoryFilesystem(filesystem) ||
    OTHER_FILESYSTEMS.has(filesystem) ||
    filesystem.startsWith('fuse.')
  );
}
