import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { system } from '#engine/system/this-system.ts';

/**
 * Real block devices of known truth: a loop device on an image in memory, with a filesystem, and
 * the block-I/O controller of the kernel to hold it to an exact rate. Needs root on Linux.
 */
export interface BlockDevice {
  mountPoint: string;
  /** `MAJ:MIN` of the loop device. */
  deviceNumber: string;
  remove(): void;
}

/** Bytes that are free at a place. */
export function freeBytesAt(path: string): number {
  const { bavail, bsize } = statfsSync(path);
  return bavail * bsize;
}

const MAKERS: Record<string, { program: string; args: string[] }> = {
  ext4: { program: 'mkfs.ext4', args: ['-q', '-F'] },
  xfs: { program: 'mkfs.xfs', args: ['-q', '-f'] },
  btrfs: { program: 'mkfs.btrfs', args: ['-q', '-f'] },
  vfat: { program: 'mkfs.vfat', args: [] },
  exfat: { program: 'mkfs.exfat', args: [] },
};
export const FILESYSTEMS = Object.keys(MAKERS);

function run(program: string, ...args: string[]): string {
  return execFileSync(program, args, { stdio: ['ignore', 'pipe', 'ignore'], encoding: 'utf8' }).trim();
}

function isInstalled(program: string): boolean {
  return ['/usr/sbin', '/sbin', '/usr/bin'].some((folder) => existsSync(join(folder, program)));
}

/** Why a filesystem cannot be tried on this machine; undefined when it can. */
export function whyNot(filesystem: string): string | undefined {
  if (system.name !== 'Linux' || process.getuid?.() !== 0) return 'needs root on Linux';
  if (!isInstalled(MAKERS[filesystem]!.program)) return `${MAKERS[filesystem]!.program} is not installed`;
  try {
    run('modprobe', filesystem);
  } catch {
    // Built in, or not to be had: the list tells.
  }
  const known = readFileSync('/proc/filesystems', 'utf8')
    .split('\n')
    .map((line) => line.trim().split('\t').at(-1));
  return known.includes(filesystem) ? undefined : `this kernel has no ${filesystem}`;
}

/** Makes and mounts a device of `megabytes` in a folder that must be on a memory disk or a disk with room. */
export function makeBlockDevice(filesystem: string, folder: string, megabytes = 3600): BlockDevice {
  const image = join(folder, `${filesystem}.img`);
  const mountPoint = join(folder, `${filesystem}-mount`);
  mkdirSync(mountPoint, { recursive: true });
  run('truncate', '-s', `${megabytes}M`, image);
  const { program, args } = MAKERS[filesystem]!;
  run(program, ...args, image);
  const device = run('losetup', '--find', '--show', image);
  try {
    run('mount', '-t', filesystem, device, mountPoint);
  } catch (error) {
    run('losetup', '-d', device);
    throw error;
  }
  const deviceNumber = readFileSync(`/sys/block/${device.split('/').at(-1)}/dev`, 'utf8').trim();
  return {
    mountPoint,
    deviceNumber,
    remove() {
      run('umount', mountPoint);
      run('losetup', '-d', device);
      rmSync(image);
    },
  };
}

const THROTTLE_FOLDER = '/sys/fs/cgroup/blkio';

/** Whether the block-I/O controller (version 1) can hold a device to a rate here. */
export function canThrottle(): boolean {
  return process.getuid?.() === 0 && existsSync(join(THROTTLE_FOLDER, 'blkio.throttle.write_bps_device'));
}

export interface Throttle {
  /** Puts a process and its later children under the limits. */
  add(pid: number): void;
  setLimit(deviceNumber: string, bytesPerSecond: number): void;
  remove(): void;
}

export function makeThrottle(name: string): Throttle {
  const folder = join(THROTTLE_FOLDER, name);
  mkdirSync(folder, { recursive: true });
  return {
    add: (pid) => writeFileSync(join(folder, 'cgroup.procs'), String(pid)),
    setLimit(deviceNumber, bytesPerSecond) {
      for (const direction of ['read', 'write']) {
        writeFileSync(join(folder, `blkio.throttle.${direction}_bps_device`), `${deviceNumber} ${bytesPerSecond}`);
      }
    },
    remove() {
      // Whoever is still in it goes on without limits: it cannot go before they do.
      for (const pid of readFileSync(join(folder, 'cgroup.procs'), 'utf8').split('\n').filter(Boolean)) {
        writeFileSync(join(THROTTLE_FOLDER, 'cgroup.procs'), pid);
      }
      try {
        rmSync(folder, { recursive: false, force: true });
      } catch {
        // A control group goes with rmdir; its files cannot be removed one by one.
        execFileSync('rmdir', [folder]);
      }
    },
  };
}
