import { constants, fdatasync, ftruncate } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { promisify } from 'node:util';
import { Problem } from '#core/problem.ts';
import { BUCKET_COUNT } from '#core/run/histogram.ts';
import type { IoMode } from '#core/run/run-document.ts';
import { makeScratch, type Scratch } from '#engine/scratch/scratch.ts';
import { checkWritable, resolveFolder } from '#engine/volumes/real/folder.ts';
import { startIoTeam, type IoTeam, type TeamOutcome } from '#engine/volumes/real/io-team.ts';
import { monotonicSeconds, type WorkerFailure } from '#engine/volumes/real/io-protocol.ts';
import { isFatLike } from '#engine/volumes/real/mounts.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/discovery.ts';
import { PAGE_BYTES } from '#engine/volumes/real/random-data.ts';
import type { Emit } from '#core/run/run-events.ts';
import { usableBytes } from '#core/supply/room.ts';
import type { Session, StepOutcome, TransferStep, Volume } from '#engine/volumes/volume.ts';
import { flushEvent, latencyEvent, passEvent, sampleEvent } from '#engine/volumes/step-events.ts';
import { readDiskBytes, type DiskBytes } from '#engine/watch/disk-stats.ts';
import { startWatching } from '#engine/watch/watcher.ts';

const flushToDrive = promisify(fdatasync);
const setFileSize = promisify(ftruncate);

/** FAT keeps files under 4 GiB; half of that leaves room for any block size. */
const FAT_FILE_BYTES = 2 * 1024 ** 3;
/** FAT-like filesystems grow files through the system's cache: flush before it fills up. */
const FAT_FLUSH_BYTES = 256e6;

export interface RealVolumeContext {
  /** All real volumes, to tell on which one a folder lies. */
  all: readonly RealVolumeInfo[];
  /** Where scratch folders are noted until they are gone. */
  journalFolder: string;
}

/** A mounted place of this machine. */
export function realVolume(info: RealVolumeInfo, context: RealVolumeContext): Volume {
  return {
    info,
    async check({ folder }) {
      checkWritable(resolveFolder(folder, info, context.all), info);
    },
    async openSession({ runId, folder }) {
      const realFolder = resolveFolder(folder, info, context.all);
      checkWritable(realFolder, info);
      const scratch = await makeScratch(realFolder, runId, context.journalFolder);
      try {
        return openRealSession(info, scratch, runId);
      } catch (error) {
        await scratch.remove();
        throw error;
      }
    },
  };
}

/** 32-bit number of a run for its stamps (FNV-1a). */
function seedOf(runId: string): number {
  let hash = 0x811c9dc5;
  for (const character of runId) hash = Math.imul(hash ^ character.charCodeAt(0), 0x01000193);
  return hash >>> 0;
}

function openRealSession(info: RealVolumeInfo, scratch: Scratch, runId: string): Session {
  const start = monotonicSeconds();
  const nowSeconds = () => monotonicSeconds() - start;
  const fat = isFatLike(info.filesystem);
  const fileBytes = fat ? FAT_FILE_BYTES : Number.MAX_SAFE_INTEGER;
  const descriptors: number[] = [];
  /** Direct until the filesystem refuses it; a memory disk accepts it and means nothing by it. */
  let ioMode: IoMode = info.medium === 'memory' ? 'memory' : 'direct';
  let team: { depth: number; blockBytes: number; io: IoTeam } | undefined;
  let allotted = 0;
  const movedBytes = { write: 0, read: 0 };
  let movingBytes: () => number = () => 0;
  /** Pass that last wrote each stretch of the scratch space, oldest first. */
  const written: { toByte: number; pass: number; blockBytes: number }[] = [];
  let stopWatching: (() => void) | undefined;

  function addFile(): void {
    const direct = constants.O_DIRECT ?? 0;
    try {
      if (ioMode === 'buffered' || direct === 0) throw Object.assign(new Error(), { code: 'EINVAL' });
      descriptors.push(scratch.createFile(descriptors.length, direct));
    } catch (error) {
      if (!['EINVAL', 'EOPNOTSUPP'].includes((error as NodeJS.ErrnoException).code ?? ''))
        throw openFailure(error, info);
      ioMode = 'buffered';
      descriptors.push(scratch.createFile(descriptors.length, 0));
    }
  }

  async function allot(bytes: number): Promise<void> {
    const files = Math.max(1, Math.ceil(bytes / fileBytes));
    while (descriptors.length < files) addFile();
    // Setting the size of a FAT file writes zeros over all of it, so there files grow by writing.
    if (!fat) await setFileSize(descriptors[0]!, bytes);
    allotted = bytes;
  }

  async function teamFor(depth: number, blockBytes: number): Promise<IoTeam> {
    if (team?.depth === depth && team.blockBytes === blockBytes) return team.io;
    await team?.io.close();
    team = { depth, blockBytes, io: await startIoTeam(depth, blockBytes, seedOf(runId)) };
    return team.io;
  }

  async function transfer(step: TransferStep, emit: Emit, signal: AbortSignal): Promise<StepOutcome> {
    const io = await teamFor(step.depth, step.blockBytes);
    const total: StepOutcome = { bytes: 0, transferSeconds: 0, flushSeconds: 0, firstSeconds: 0 };
    const deviceBefore = readDiskBytes(info.device.deviceNumber);
    emit(passEvent(step, nowSeconds()));
    const flushEvery = fat && step.phase === 'allocating' ? FAT_FLUSH_BYTES : Infinity;
    const chunkBytes = Math.max(
      step.blockBytes,
      Math.floor(Math.min(step.bytes, flushEvery) / step.blockBytes) * step.blockBytes,
    );
    let deviceAfter = deviceBefore;
    for (let from = step.fromByte; from < step.fromByte + step.bytes; from += chunkBytes) {
      const bytes = Math.min(chunkBytes, step.fromByte + step.bytes - from);
      const outcome = await transferChunk(io, { ...step, fromByte: from, bytes }, emit, signal);
      deviceAfter = readDiskBytes(info.device.deviceNumber);
      if (total.bytes === 0) total.firstSeconds = outcome.firstSeconds - outcome.startSeconds;
      total.bytes += outcome.bytes;
      total.transferSeconds += outcome.endSeconds - outcome.startSeconds;
      if (step.direction === 'write') noteWritten(from + outcome.bytes, step);
      if (outcome.failure) throw transferFailure(outcome.failure, step, info);
      if (step.flush) total.flushSeconds += await flush(step, emit);
      if (outcome.bytes < bytes) break;
    }
    emitBypass(step, total.bytes, deviceBefore, deviceAfter, emit);
    return total;
  }

  function noteWritten(toByte: number, { pass, blockBytes }: TransferStep): void {
    while (written.length > 0 && written.at(-1)!.toByte <= toByte) written.pop();
    written.push({ toByte, pass, blockBytes });
  }

  async function flush(step: TransferStep, emit: Emit): Promise<number> {
    const begin = nowSeconds();
    try {
      await Promise.all(descriptors.map((descriptor) => flushToDrive(descriptor)));
    } catch (error) {
      const { code = 'UNKNOWN', message } = error as NodeJS.ErrnoException;
      throw transferFailure({ code, message, fileOffset: step.fromByte }, step, info);
    }
    const seconds = nowSeconds() - begin;
    emit(flushEvent(step, begin, seconds));
    return seconds;
  }

  function emitBypass(
    step: TransferStep,
    ownBytes: number,
    before: DiskBytes | null,
    after: DiskBytes | null,
    emit: Emit,
  ): void {
    const flushed = readDiskBytes(info.device.deviceNumber);
    const key = step.direction === 'write' ? 'writeBytes' : 'readBytes';
    const moved = (now: DiskBytes | null) => (now === null || before === null ? null : now[key] - before[key]);
    emit({
      type: 'bypass',
      row: {
        pass: step.pass,
        direction: step.direction,
        ownBytes,
        deviceBytes: moved(after),
        deviceBytesAfterFlush: moved(flushed),
      },
    });
  }

  async function transferChunk(io: IoTeam, step: TransferStep, emit: Emit, signal: AbortSignal): Promise<TeamOutcome> {
    const baseBytes = movedBytes[step.direction];
    let operations = 0;
    let rowSeconds = 0;
    let longest = 0;
    let secondsCounted = 0;
    let histogramBefore = new Array<number>(BUCKET_COUNT).fill(0);

    const emitRow = (atSeconds: number, bytes: number, doneOperations: number, latencyMaxSeconds: number) => {
      const file = Math.min(descriptors.length - 1, Math.floor((step.fromByte + bytes) / fileBytes));
      emit(
        sampleEvent(step, {
          atSeconds,
          cumulativeBytes: baseBytes + bytes,
          file,
          operations: doneOperations - operations,
          latencyMaxSeconds,
        }),
      );
      operations = doneOperations;
      rowSeconds = atSeconds;
      longest = Math.max(longest, latencyMaxSeconds);
    };
    const emitHistogram = (atSeconds: number) => {
      const now = io.histogram();
      const event = latencyEvent(
        step,
        atSeconds,
        now.map((count, bucket) => count - histogramBefore[bucket]!),
      );
      if (event) emit(event);
      histogramBefore = now;
    };
    const sample = () => {
      const reading = io.read();
      const atSeconds = reading.atSeconds - start;
      if (atSeconds > rowSeconds) emitRow(atSeconds, reading.bytes, reading.operations, reading.latencyMaxSeconds);
      if (Math.floor(atSeconds) > secondsCounted) {
        secondsCounted = Math.floor(atSeconds);
        emitHistogram(atSeconds);
      }
      if (step.untilSeconds !== null && io.secondsSinceFirst() >= step.untilSeconds) io.stop();
      if (signal.aborted) io.stop();
    };

    movingBytes = () => io.bytes();
    const timer = setInterval(sample, step.sampleSeconds * 1000);
    const onAbort = () => io.stop();
    signal.addEventListener('abort', onAbort);
    try {
      const blocks = step.bytes / step.blockBytes;
      const outcome = await io.run(
        {
          descriptors,
          fileBytes,
          direction: step.direction,
          fromByte: step.fromByte,
          blocks,
          blockBytes: step.blockBytes,
          pass: step.pass,
          expectedPass: step.verify ? expectedPass(step) : null,
        },
        (startSeconds) => {
          secondsCounted = Math.floor(startSeconds - start);
          emitRow(startSeconds - start, 0, 0, 0);
          if (signal.aborted) io.stop();
        },
      );
      clearInterval(timer);
      const end = io.read();
      const endSeconds = outcome.endSeconds - start;
      const latencyMax = outcome.latencyMaxSeconds > longest ? outcome.latencyMaxSeconds : end.latencyMaxSeconds;
      emitRow(Math.max(endSeconds, rowSeconds), outcome.bytes, end.operations, latencyMax);
      emitHistogram(Math.max(endSeconds, rowSeconds));
      movedBytes[step.direction] += outcome.bytes;
      if (step.verify) {
        const mismatches = outcome.mismatches.map((mismatch) => ({ ...mismatch, pass: step.pass }));
        emit({ type: 'verified', checkedBytes: outcome.checkedBytes, mismatches });
      }
      return outcome;
    } finally {
      clearInterval(timer);
      signal.removeEventListener('abort', onAbort);
      movingBytes = () => 0;
    }
  }

  /** The pass whose data lies in the whole range of a step; null when it is not of one pass and block size. */
  function expectedPass(step: TransferStep): number | null {
    const last = written.at(-1);
    const whole =
      last !== undefined && last.toByte >= step.fromByte + step.bytes && last.blockBytes === step.blockBytes;
    return whole ? last.pass : null;
  }

  return {
    get ioMode() {
      return ioMode;
    },
    get roomBytes() {
      return Math.floor(usableBytes(info.freeBytes) / PAGE_BYTES) * PAGE_BYTES;
    },
    async execute(step, emit, signal) {
      stopWatching ??= startWatching(
        {
          deviceNumber: info.device.diskNumber,
          deviceFolder: info.device.diskFolder,
          ownBytes: () => movedBytes.write + movedBytes.read + movingBytes(),
          nowSeconds,
        },
        (row) => emit({ type: 'watch', row }),
      );
      if (step.kind === 'allot') {
        await allot(step.bytes);
        return { bytes: 0, transferSeconds: 0, flushSeconds: 0, firstSeconds: 0 };
      }
      if (step.fromByte + step.bytes > allotted) throw new RangeError('A step reaches past the allotted space.');
      return transfer(step, emit, signal);
    },
    async freeBytes() {
      const space = await statfs(info.mountPoint);
      return space.bavail * space.bsize;
    },
    async close() {
      stopWatching?.();
      await team?.io.close();
      await scratch.remove();
    },
  };
}

function openFailure(error: unknown, info: RealVolumeInfo): Problem {
  const code = (error as NodeJS.ErrnoException).code ?? 'UNKNOWN';
  return new Problem(
    'scratch-failed',
    `No scratch file could be made on ${info.mountPoint} (${code}). Check the volume and try again.`,
    {
      status: 500,
      cause: error,
    },
  );
}

const FAILURE_SENTENCES: Record<string, string> = {
  ENOSPC: 'The volume is full',
  EDQUOT: 'This user’s quota is used up',
  EIO: 'The drive reported a read or write error',
  ENODEV: 'The drive is gone',
  ENXIO: 'The drive is gone',
  EROFS: 'The volume became read-only',
  ESTALE: 'The share is gone',
  EOF: 'The scratch file ended early',
};

function transferFailure(failure: WorkerFailure, step: TransferStep, info: RealVolumeInfo): Problem {
  const what = FAILURE_SENTENCES[failure.code] ?? `A request failed (${failure.code})`;
  const verb = step.direction === 'write' ? 'writing' : 'reading';
  return new Problem(
    'drive-failed',
    `${what} while ${verb} at byte ${failure.fileOffset} of the scratch file on ${info.mountPoint}. What was measured before is kept; check the drive and its cable before the next run.`,
    { status: 500 },
  );
}
