import { closeSync, constants, fdatasync, ftruncate, openSync } from 'node:fs';
import { promisify } from 'node:util';
import type { IoMode } from '#core/4-runs/run/run-document.ts';
import type { Scratch } from '#engine/scratch/scratch.ts';
import { system } from '#engine/system/this-system.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';
import { openFailure } from '#engine/volumes/real/failures.ts';
import { blocksOf, type Extent } from '#engine/volumes/real/io-protocol.ts';
import { isFatLike } from '#engine/system/filesystems.ts';
import type { FoundFile } from '#engine/volumes/real/existing.ts';

const flushToDrive = promisify(fdatasync);
const setFileSize = promisify(ftruncate);

/** FAT keeps files under 4 GiB; half of that leaves room for any block size. */
const FAT_FILE_BYTES = 2 * 1024 ** 3;

/** The open files of a session: scratch files of its own, or files that were there. */
export interface SessionFiles {
  readonly ioMode: IoMode;
  /** Flag with which further files are opened. */
  readonly openFlags: number;
  readonly allottedBytes: number;
  readonly count: number;
  /** Files that were there are open, and no scratch file is meant. */
  readonly readsExisting: boolean;
  /** Makes the scratch files for so many bytes and sets their size where that costs nothing. */
  allot(bytes: number): Promise<void>;
  /** One scratch file more; returns its descriptor. @throws Problem */
  addFile(): number;
  /** Opens existing files for reading. @throws Problem */
  openExisting(found: readonly FoundFile[]): void;
  /** All files as stretches of blocks. */
  extents(blockBytes: number): Extent[];
  /** Number of the file that holds a byte of the scratch space. */
  fileOf(byte: number): number;
  /** @throws the system's error */
  flush(): Promise<void>;
  close(): void;
}

export function createSessionFiles(info: RealVolumeInfo, scratch: Scratch | null): SessionFiles {
  const fat = isFatLike(info.filesystem);
  const fileBytes = fat ? FAT_FILE_BYTES : Number.MAX_SAFE_INTEGER;
  /** Direct until the filesystem refuses it; a memory disk accepts it and means nothing by it. */
  let ioMode: IoMode = info.medium === 'memory' ? 'memory' : 'direct';
  const scratchFiles: number[] = [];
  const existing: { descriptor: number; bytes: number }[] = [];
  let allottedBytes = 0;

  function open(make: (flags: number) => number): number {
    if (ioMode !== 'buffered') {
      try {
        const descriptor = make(system.directFlag);
        if (system.bypassCache(descriptor)) return descriptor;
        ioMode = 'buffered';
        return descriptor;
      } catch (error) {
        const { code = '' } = error as NodeJS.ErrnoException;
        if (!['EINVAL', 'EOPNOTSUPP'].includes(code)) throw openFailure(error, info.mountPoint);
        ioMode = 'buffered';
      }
    }
    return make(0);
  }

  function addFile(): number {
    // A filesystem that refuses direct I/O may have made the file before it said so.
    const descriptor = open((flags) => scratch!.createFile(flags));
    scratchFiles.push(descriptor);
    return descriptor;
  }

  return {
    get ioMode() {
      return ioMode;
    },
    get openFlags() {
      return ioMode === 'buffered' ? 0 : system.directFlag;
    },
    get allottedBytes() {
      return allottedBytes;
    },
    get count() {
      return scratchFiles.length + existing.length;
    },
    get readsExisting() {
      return existing.length > 0;
    },
    addFile,
    async allot(bytes) {
      const files = Math.max(1, Math.ceil(bytes / fileBytes));
      while (scratchFiles.length < files) addFile();
      // Setting the size of a FAT file writes zeros over all of it, so there files grow by writing.
      if (!fat) await setFileSize(scratchFiles[0]!, bytes);
      allottedBytes = bytes;
    },
    openExisting(found) {
      for (const { path, bytes } of found) {
        existing.push({
          descriptor: open((flags) => openSync(path, constants.O_RDONLY | constants.O_NOFOLLOW | flags)),
          bytes,
        });
      }
      allottedBytes = existing.reduce((sum, file) => sum + file.bytes, 0);
    },
    extents(blockBytes) {
      const files =
        existing.length > 0
          ? existing
          : scratchFiles.map((descriptor, index) => ({
              descriptor,
              bytes: Math.min(fileBytes, allottedBytes - index * fileBytes),
            }));
      let firstBlock = 0;
      return files.map(({ descriptor, bytes }) => {
        const extent = { descriptor, firstBlock, bytes };
        firstBlock += blocksOf(bytes, blockBytes);
        return extent;
      });
    },
    fileOf(byte) {
      if (existing.length === 0) return Math.min(scratchFiles.length - 1, Math.floor(byte / fileBytes));
      let end = 0;
      const at = existing.findIndex((file) => byte < (end += file.bytes));
      return at < 0 ? existing.length - 1 : at;
    },
    async flush() {
      await Promise.all(scratchFiles.map((descriptor) => flushToDrive(descriptor)));
    },
    close() {
      for (const { descriptor } of existing.splice(0)) closeSync(descriptor);
    },
  };
}
