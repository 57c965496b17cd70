import { describe, expect, it } from 'vitest';
import { mountOf } from '#engine/system/filesystems.ts';
import { parseMounts } from '#engine/system/linux/mounts.ts';
import { parseDiskStats } from '#engine/system/linux/disk-stats.ts';

const MOUNTINFO = `
22 27 0:21 / /proc rw,relatime - proc proc rw
27 1 259:2 / / rw,relatime shared:1 - ext4 /dev/nvme0n1p2 rw
28 27 259:2 /home /srv/home rw,relatime - ext4 /dev/nvme0n1p2 rw
30 25 0:27 / /dev/shm rw,relatime - tmpfs tmpfs rw,size=24684096k
31 25 0:28 / /run rw,nosuid - tmpfs tmpfs rw
32 27 8:17 / /media/ada/Card\\040one ro,nosuid - exfat /dev/sdb1 ro
33 27 0:44 / /mnt/jetty rw,relatime - nfs4 jetty.local:/film rw
34 27 7:3 / /snap/core/1 ro - squashfs /dev/loop3 ro
35 27 8:33 / /mnt/over rw - ext4 /dev/sdc1 rw
36 35 8:49 / /mnt/over rw - xfs /dev/sdd1 rw
`;

describe('mounts', () => {
  const mounts = parseMounts(MOUNTINFO);

  it('keeps the places one can measure, one for each device', () => {
    expect(mounts.map((mount) => mount.mountPoint)).toEqual([
      '/',
      '/dev/shm',
      '/media/ada/Card one',
      '/mnt/jetty',
      '/mnt/over',
    ]);
    expect(mounts.find((mount) => mount.mountPoint === '/mnt/over')?.filesystem).toBe('xfs');
    expect(mounts.find((mount) => mount.filesystem === 'exfat')?.readOnly).toBe(true);
  });

  it('finds the mount that holds a path', () => {
    const holder = (path: string) => mountOf(path, mounts)?.mountPoint;
    expect(holder('/media/ada/Card one/day 1')).toBe('/media/ada/Card one');
    expect(holder('/media/ada/Card one more')).toBe('/');
    expect(holder('/mnt/jetty')).toBe('/mnt/jetty');
  });
});

it('counts device bytes in sectors of 512', () => {
  const text =
    '   8       0 sda 10 0 16 5 3 0 24 9 0 0 0 0\n 254 0 vda 5091 3065 359282 6893 407 1382 202184 677 0 1 2';
  expect(parseDiskStats(text, '254:0')).toEqual({ readBytes: 359282 * 512, writeBytes: 202184 * 512 });
  expect(parseDiskStats(text, '254:1')).toBeNull();
});
