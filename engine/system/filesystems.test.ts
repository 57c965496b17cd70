import { posix, win32 } from 'node:path';
import { describe, expect, it } from 'vitest';
import { isIn, mountOf } from '#engine/system/filesystems.ts';

describe('the mount that holds a path', () => {
  const holding = (path: string, mountPoints: string[], way: typeof posix) =>
    mountOf(
      path,
      mountPoints.map((mountPoint) => ({ mountPoint })),
      way,
    )?.mountPoint;

  it('is the nearest above it', () => {
    const mounts = ['/', '/media/reel', '/media/reel one'];
    expect(holding('/media/reel one/day 1', mounts, posix)).toBe('/media/reel one');
    expect(holding('/media/reel', mounts, posix)).toBe('/media/reel');
    expect(holding('/media/reels', mounts, posix)).toBe('/');
    expect(holding('/media/..reel', ['/media'], posix)).toBe('/media');
    expect(holding('/media', ['/media/reel'], posix)).toBeUndefined();
  });

  it('has letters, folders and shares on Windows, in whatever case', () => {
    const mounts = ['C:\\', 'D:\\', 'D:\\Mounted\\Reel\\', '\\\\jetty\\reels\\'];
    expect(holding('c:\\Users\\anna', mounts, win32)).toBe('C:\\');
    expect(holding('d:\\mounted\\REEL\\day 1', mounts, win32)).toBe('D:\\Mounted\\Reel\\');
    expect(holding('D:\\Mounted\\Reels', mounts, win32)).toBe('D:\\');
    expect(holding('\\\\jetty\\reels\\day 1', mounts, win32)).toBe('\\\\jetty\\reels\\');
    expect(holding('E:\\x', mounts, win32)).toBeUndefined();
    expect(isIn('C:\\..x', 'C:\\', win32)).toBe(true);
  });
});
