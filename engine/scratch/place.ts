import { lstatSync } from 'node:fs';

/** What tells a folder from another of its name: its filesystem, its number there, and when it was made. */
export interface Place {
  device: number;
  inode: number;
  madeAt: number;
}

/** Where a folder is now; null when there is none. */
export function placeOf(folder: string): Place | null {
  try {
    const stats = lstatSync(folder);
    if (!stats.isDirectory()) return null;
    return { device: stats.dev, inode: stats.ino, madeAt: Math.round(stats.birthtimeMs) };
  } catch {
    return null;
  }
}

/** Whether two looks saw one folder: a filesystem that was away comes back under another number of its device. */
export const isSamePlace = (before: Place, now: Place): boolean =>
  now.inode === before.inode && (now.device === before.device || now.madeAt === before.madeAt);
