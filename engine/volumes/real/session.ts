import { Problem } from '#core/1-ground/problem.ts';
import { ftruncateSync } from 'node:fs';
import { setTimeout as wait } from 'node:timers/promises';
import { BUCKET_COUNT } from '#core/4-runs/run/histogram.ts';
import type { Emit } from '#core/4-runs/run/run-events.ts';
import { bytesText, count, formatDuration } from '#core/1-ground/units/format.ts';
import type { Scratch } from '#engine/scratch/scratch.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';
import { connectionNow } from '#engine/volumes/real/real-volume-info.ts';
import { findExisting } from '#engine/volumes/real/existing.ts';
import { transferFailure } from '#engine/volumes/real/failures.ts';
import { createSessionFiles } from '#engine/volumes/real/files.ts';
import { checkWhereabouts, tellLeft } from '#engine/volumes/real/own-scratch.ts';
import { freeBytesAt } from '#engine/volumes/real/free-bytes.ts';
import { playRealFrames } from '#engine/volumes/real/frames.ts';
import { startIoTeam, type IoTeam, type TeamOutcome } from '#engine/volumes/real/io-team.ts';
import { blocksOf, monotonicSeconds, seedOf } from '#engine/volumes/real/io-protocol.ts';
import { isFatLike } from '#engine/system/filesystems.ts';
import { PAGE_BYTES } from '#core/1-ground/units/page.ts';
import type { RealTools } from '#engine/volumes/real/tools.ts';
import { scatterRealFiles } from '#engine/volumes/real/scatter.ts';
import { watchRoom, within } from '#engine/volumes/real/room-watch.ts';
import { executor } from '#engine/volumes/step-hands.ts';
import {
  flushEvent,
  latencyEvent,
  momentEvent,
  passEvent,
  sampleEvent,
  type StepPart,
} from '#engine/volumes/step-events.ts';
import {
  NOTHING_MOVED,
  untilResumed,
  type AwaitQuietStep,
  type RestStep,
  type Session,
  type StepControl,
  type StepOutcome,
  type TransferStep,
  type UseExistingStep,
} from '#engine/volumes/volume.ts';
import type { DiskBytes } from '#engine/system/system.ts';
import { system } from '#engine/system/this-system.ts';
import { untilQuiet } from '#engine/watch/quiet-processor.ts';
import { startWatching } from '#engine/watch/watcher.ts';

/** FAT-like filesystems grow files through the system's cache: flush before it fills up. */
const FAT_FLUSH_BYTES = 256e6;

/** @param scratch null for recipes that only read what is there */
export function openRealSession(info: RealVolumeInfo, folder: string, scratch: Scratch | null, runId: string): Session {
  const start = monotonicSeconds();
  const nowSeconds = () => monotonicSeconds() - start;
  const fat = isFatLike(info.filesystem);
  const files = createSessionFiles(info, scratch);
  let team: IoTeam | undefined;
  const moved = { write: 0, read: 0 };
  let movingBytes: () => number = () => 0;
  /** Pass that last wrote each stretch of the scratch space, oldest first. */
  const written: { toByte: number; pass: number; blockBytes: number }[] = [];
  let stopWatching: (() => void) | undefined;
  const room = scratch && watchRoom([info]);

  async function teamOf(size: number): Promise<IoTeam> {
    if (team && team.size >= size) return team;
    await team?.close();
    team = undefined;
    team = await startIoTeam(size, seedOf(runId));
    return team;
  }

  const tools: RealTools = {
    info,
    scratch,
    files,
    moved,
    startSeconds: start,
    nowSeconds,
    teamOf,
    deviceBytes: () => system.diskBytes(info.device.deviceNumber),
    emitBypass,
    whileMoving(bytes) {
      movingBytes = bytes ?? (() => 0);
    },
  };

  async function transfer(step: TransferStep, emit: Emit, control: StepControl): Promise<StepOutcome> {
    const io = await teamOf(step.depth);
    const total: StepOutcome = { ...NOTHING_MOVED };
    const deviceBefore = tools.deviceBytes();
    emit(passEvent(step, step.phase, nowSeconds()));
    const flushBytes = fat && step.direction === 'write' && step.phase === 'allocating' ? FAT_FLUSH_BYTES : Infinity;
    const chunkBytes = Math.max(1, Math.floor(flushBytes / step.blockBytes)) * step.blockBytes;
    let deviceAfter: DiskBytes | null;
    let heldSeconds = 0;
    const begun = nowSeconds();
    let from = step.fromByte;
    const end = step.fromByte + step.bytes;
    for (;;) {
      const bytes = Math.min(chunkBytes, end - from);
      const span = { startedSeconds: begun + heldSeconds, movedBytes: total.bytes, usedSeconds: total.transferSeconds };
      const { outcome, reason } = await transferChunk(io, { ...step, fromByte: from, bytes }, span, emit, control);
      deviceAfter = tools.deviceBytes();
      if (total.bytes === 0) total.firstSeconds = outcome.firstSeconds - outcome.startSeconds;
      total.bytes += outcome.bytes;
      total.transferSeconds += outcome.endSeconds - outcome.startSeconds;
      if (!step.repeat) from += outcome.bytes;
      if (step.direction === 'write') noteWritten(Math.min(end, step.fromByte + total.bytes), step);
      if (outcome.failure) throw transferFailure(outcome.failure, step.direction, info.mountPoint);
      const over = reason === 'stopped' || (step.repeat ? reason === 'done' : from >= end);
      if (step.direction === 'write' && (over ? step.flush : reason !== 'paused')) {
        total.flushSeconds += await flush(step, emit);
      }
      if (over) break;
      if (control.pause.paused) {
        const at = nowSeconds();
        await untilResumed(control);
        heldSeconds += nowSeconds() - at;
        emit(momentEvent('pause', at, nowSeconds() - at, ''));
      }
      if (control.signal.aborted) break;
    }
    emitBypass(step, total.bytes, deviceBefore, deviceAfter, emit);
    return total;
  }

  function noteWritten(toByte: number, { pass, blockBytes, order, data }: TransferStep): void {
    // What lies there after random writes, or is no data of ours, cannot be said block by block.
    const known = order === 'sequential' && data !== 'zeros';
    while (written.length > 0 && written.at(-1)!.toByte <= toByte) written.pop();
    written.push({ toByte, pass: known ? pass : -1, blockBytes });
  }

  async function flush(part: StepPart, emit: Emit): Promise<number> {
    const begin = nowSeconds();
    try {
      await files.flush();
    } catch (error) {
      const { code = 'UNKNOWN' } = error as NodeJS.ErrnoException;
      throw transferFailure({ code, fileOffset: 0 }, part.direction, info.mountPoint);
    }
    const seconds = nowSeconds() - begin;
    emit(flushEvent(part, begin, seconds));
    return seconds;
  }

  function emitBypass(
    { direction, pass }: StepPart,
    ownBytes: number,
    before: DiskBytes | null,
    after: DiskBytes | null,
    emit: Emit,
  ): void {
    const key = direction === 'write' ? 'writeBytes' : 'readBytes';
    const between = (now: DiskBytes | null) => (now === null || before === null ? null : now[key] - before[key]);
    emit({
      type: 'bypass',
      row: {
        pass,
        direction,
        ownBytes,
        deviceBytes: between(after),
        deviceBytesAfterFlush: between(tools.deviceBytes()),
      },
    });
  }

  /** Why a chunk ended: all done, stopped for good, held, or to flush in between. */
  type EndReason = 'done' | 'stopped' | 'paused' | 'flush';

  async function transferChunk(
    io: IoTeam,
    step: TransferStep,
    span: { startedSeconds: number; movedBytes: number; usedSeconds: number },
    emit: Emit,
    control: StepControl,
  ): Promise<{ outcome: TeamOutcome; reason: EndReason }> {
    const baseBytes = moved[step.direction];
    let operations = 0;
    let rowSeconds = 0;
    let longest = 0;
    let secondsCounted = 0;
    let chunkStart = 0;
    let reason: EndReason = 'done';
    let histogramBefore = new Array<number>(BUCKET_COUNT).fill(0);
    const stopFor = (why: EndReason) => {
      if (reason === 'done' || why === 'stopped') reason = why;
      io.stop();
    };

    const emitRow = (atSeconds: number, bytes: number, doneOperations: number, latencyMaxSeconds: number) => {
      const file = files.fileOf(step.fromByte + (bytes % Math.max(1, step.bytes)));
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
      const used = span.usedSeconds + io.secondsSinceFirst();
      if (step.untilSeconds !== null && used >= step.untilSeconds) stopFor('stopped');
      if (step.stopWhen?.(atSeconds - span.startedSeconds, span.movedBytes + reading.bytes)) stopFor('stopped');
      if (step.flushEverySeconds !== null && atSeconds - chunkStart >= step.flushEverySeconds) stopFor('flush');
      if (control.pause.paused) stopFor('paused');
      if (control.signal.aborted) stopFor('stopped');
    };

    movingBytes = () => io.bytes();
    const timer = setInterval(sample, step.sampleSeconds * 1000);
    const onAbort = () => stopFor('stopped');
    const leavePause = control.pause.onChange((paused) => paused && stopFor('paused'));
    control.signal.addEventListener('abort', onAbort);
    try {
      const message = {
        type: 'transfer',
        extents: files.extents(step.blockBytes),
        direction: step.direction,
        fromBlock: step.fromByte / step.blockBytes,
        blocks: blocksInRange(step),
        blockBytes: step.blockBytes,
        order: step.order,
        data: step.data,
        repeat: step.repeat,
        pacedBytesPerSecond: step.pacedBytesPerSecond,
        pass: step.pass,
        expectedPass: step.verify ? expectedPass(step) : null,
      } as const;
      const outcome = await io.run(new Array<typeof message>(step.depth).fill(message), (startSeconds) => {
        chunkStart = startSeconds - start;
        secondsCounted = Math.floor(chunkStart);
        emitRow(chunkStart, 0, 0, 0);
        if (control.signal.aborted) stopFor('stopped');
        else if (control.pause.paused) stopFor('paused');
      });
      clearInterval(timer);
      const end = io.read();
      const endSeconds = outcome.endSeconds - start;
      const latencyMax = outcome.latencyMaxSeconds > longest ? outcome.latencyMaxSeconds : end.latencyMaxSeconds;
      emitRow(Math.max(endSeconds, rowSeconds), outcome.bytes, end.operations, latencyMax);
      emitHistogram(Math.max(endSeconds, rowSeconds));
      moved[step.direction] += outcome.bytes;
      if (step.verify && message.expectedPass !== null) {
        const mismatches = outcome.mismatches.map((mismatch) => ({ ...mismatch, pass: step.pass }));
        emit({ type: 'verified', checkedBytes: outcome.checkedBytes, mismatches });
      }
      return { outcome, reason };
    } finally {
      clearInterval(timer);
      leavePause();
      control.signal.removeEventListener('abort', onAbort);
      movingBytes = () => 0;
    }
  }

  /** Existing files end in part blocks: their number counts, not their bytes. */
  function blocksInRange({ fromByte, bytes, blockBytes }: TransferStep): number {
    if (!files.readsExisting) return bytes / blockBytes;
    const extents = files.extents(blockBytes);
    const last = extents.at(-1)!;
    return last.firstBlock + blocksOf(last.bytes, blockBytes) - Math.floor(fromByte / blockBytes);
  }

  /** The pass whose data lies in the whole range of a step; null when it is not of one pass and block size. */
  function expectedPass(step: TransferStep): number | null {
    const last = written.at(-1);
    const whole =
      last !== undefined && last.toByte >= step.fromByte + step.bytes && last.blockBytes === step.blockBytes;
    return whole && last.pass >= 0 ? last.pass : null;
  }

  async function useExisting(
    { mostBytes, leastBytes }: UseExistingStep,
    emit: Emit,
    { signal }: StepControl,
  ): Promise<StepOutcome> {
    const found = await findExisting(folder, mostBytes, { signal });
    const isLittle = found.files.reduce((sum, { bytes }) => sum + bytes, 0) < leastBytes;
    if (isLittle && scratch !== null) return NOTHING_MOVED;
    const skipped = (note: string) => emit(momentEvent('skipped', nowSeconds(), 0, note));
    if (found.skippedFiles > 0) {
      skipped(
        `${count(found.skippedFiles, 'file', 'files')} with holes or compressed, ${bytesText(found.skippedBytes)}, passed over: what is not on the drive cannot be read from it.`,
      );
    }
    if (found.leftFiles > 0 && mostBytes === null) {
      skipped(
        `The largest ${found.files.length} files are read, and ${count(found.leftFiles, 'smaller one', 'smaller ones')} left out.`,
      );
    }
    files.openExisting(found.files);
    return { ...NOTHING_MOVED, bytes: files.allottedBytes };
  }

  async function rest({ seconds, note }: RestStep, emit: Emit, { signal }: StepControl): Promise<void> {
    const at = nowSeconds();
    await wait(seconds * 1000, undefined, { signal }).catch(() => undefined);
    emit(momentEvent('rest', at, nowSeconds() - at, note));
  }

  async function awaitQuiet({ mostSeconds }: AwaitQuietStep, emit: Emit, { signal }: StepControl): Promise<void> {
    const at = nowSeconds();
    const pause = (seconds: number) => wait(seconds * 1000, undefined, { signal }).catch(() => undefined);
    const { waitedSeconds, isQuiet } = await untilQuiet({ signal, mostSeconds, wait: pause });
    if (waitedSeconds === 0) return;
    const note = isQuiet
      ? 'Other programs kept the processor busy; it was waited for.'
      : `Other programs kept the processor busy for ${formatDuration(mostSeconds)}; it was measured beside them.`;
    emit(momentEvent('rest', at, nowSeconds() - at, note));
  }

  const carryOut = executor({
    'await-quiet': awaitQuiet,
    allot({ bytes }) {
      if (scratch !== null) return files.allot(bytes);
      throw new Problem(
        'nothing-to-read',
        `No material lies in ${folder} that could be read, and nothing can be written there. Choose a folder with material, or one that can be written.`,
        { where: 'folder' },
      );
    },
    rest,
    'use-existing': useExisting,
    transfer(step, emit, control) {
      if (scratch !== null && step.fromByte + step.bytes > files.allottedBytes) {
        throw new RangeError('A step reaches past the allotted space.');
      }
      return transfer(step, emit, control);
    },
    frames: (step, emit, control) => playRealFrames(step, tools, emit, control),
    scatter: (step, emit, control) => scatterRealFiles(step, tools, emit, control),
  });

  return {
    get ioMode() {
      return files.ioMode;
    },
    async execute(step, emit, control) {
      stopWatching ??= startWatching(
        {
          device: info.device,
          ownBytes: () => moved.write + moved.read + movingBytes(),
          nowSeconds,
        },
        emit,
      );
      const outcome = await carryOut(step, emit, within(room, control));
      if (scratch) checkWhereabouts(scratch, info.mountPoint);
      room?.check();
      return outcome;
    },
    freeBytes: () => freeBytesAt(info.mountPoint),
    changedConnection: () => Promise.resolve(connectionNow(info)),
    async close(keepScratch, emit) {
      stopWatching?.();
      room?.end();
      await team?.close();
      files.close();
      const bytes = written.at(-1)?.toByte ?? 0;
      if (scratch === null) return;
      if (!keepScratch || bytes === 0) {
        tellLeft(scratch.folder, await scratch.remove(), nowSeconds(), emit);
        return;
      }
      // Without its unwritten end the file has no holes and can be read as it is.
      if (!fat) ftruncateSync(files.extents(PAGE_BYTES)[0]!.descriptor, bytes);
      await scratch.keep({ driveLabel: info.driveLabel, bytes, keptAt: new Date().toISOString() });
    },
  };
}
