import { closeSync, openSync, readSync, readdirSync, realpathSync } from 'node:fs';
import { join } from 'node:path';

/** Where filesystems keep their own number, by their published layouts. Offsets in bytes. */
interface Superblock {
  magicAt: number;
  magic: string;
  idAt: number;
  write: (id: Buffer) => string;
}

const uuid = (id: Buffer): string => id.toString('hex').replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5');
/** FAT and its kin write theirs as two groups, the high half first. */
const serial = (id: Buffer): string =>
  Buffer.from(id.subarray(0, 4))
    .reverse()
    .toString('hex')
    .toUpperCase()
    .replace(/^(.{4})/, '$1-');

const SUPERBLOCKS: readonly Superblock[] = [
  { magicAt: 1024 + 56, magic: '\x53\xef', idAt: 1024 + 104, write: uuid }, // ext2, ext3, ext4
  { magicAt: 0, magic: 'XFSB', idAt: 32, write: uuid },
  { magicAt: 65536 + 64, magic: '_BHRfS_M', idAt: 65536 + 32, write: uuid }, // btrfs
  { magicAt: 3, magic: 'EXFAT   ', idAt: 100, write: serial },
  {
    magicAt: 3,
    magic: 'NTFS    ',
    idAt: 72,
    write: (id) => Buffer.from(id.subarray(0, 8)).reverse().toString('hex').toUpperCase(),
  },
  { magicAt: 82, magic: 'FAT32   ', idAt: 67, write: serial },
];

/**
 * What a filesystem calls itself wherever its device turns up: from the system's list, else from its own first blocks
 * where they may be read; empty where neither tells.
 */
export function filesystemIdOf(source: string): string {
  try {
    const target = realpathSync(source);
    for (const id of readdirSync('/dev/disk/by-uuid')) {
      if (realpathSync(join('/dev/disk/by-uuid', id)) === target) return id;
    }
  } catch {
    // Systems without udev keep no such list.
  }
  return idInSuperblock(source);
}

function idInSuperblock(source: string): string {
  let descriptor: number;
  try {
    descriptor = openSync(source, 'r');
  } catch {
    return ''; // Most people may not read devices.
  }
  try {
    const read = (at: number, bytes: number): Buffer => {
      const buffer = Buffer.alloc(bytes);
      return buffer.subarray(0, readSync(descriptor, buffer, 0, bytes, at));
    };
    const found = SUPERBLOCKS.find(({ magicAt, magic }) => read(magicAt, magic.length).toString('latin1') === magic);
    return found ? found.write(read(found.idAt, 16)) : '';
  } catch {
    return '';
  } finally {
    closeSync(descriptor);
  }
}
