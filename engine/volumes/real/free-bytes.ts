import { statfs } from 'node:fs/promises';

/** Bytes that may still be written on a volume. @throws the system's error where it cannot be asked */
export async function freeBytesAt(mountPoint: string): Promise<number> {
  const { bavail, bsize } = await statfs(mountPoint);
  return bavail * bsize;
}
