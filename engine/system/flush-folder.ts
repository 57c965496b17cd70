import { closeSync, fsyncSync, openSync } from 'node:fs';

/** Brings a folder’s own entries to its drive. Node’s fsync is F_FULLFSYNC on macOS, which reaches the medium. */
export function flushFolder(folder: string): void {
  const descriptor = openSync(folder, 'r');
  try {
    fsyncSync(descriptor);
  } finally {
    closeSync(descriptor);
  }
}
