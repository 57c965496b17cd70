import { closeSync, fsyncSync, openSync } from 'node:fs';
import { emptyFiles } from '#core/4-runs/run/run-document.ts';
import { join } from 'node:path';
import type { Scratch } from '#engine/scratch/scratch.ts';
import type { Emit } from '#core/4-runs/run/run-events.ts';
import { paddedFrameBytes } from '#core/2-trade/media/frame-stream.ts';
import type { RealTools } from '#engine/volumes/real/tools.ts';
import { transferFailure } from '#engine/volumes/real/failures.ts';
import { folderName, type ScatterMessage } from '#engine/volumes/real/io-protocol.ts';
import { filesEvent, flushEvent, passEvent, sampleEvent } from '#engine/volumes/step-events.ts';
import { NOTHING_MOVED, type ScatterStep, type StepControl, type StepOutcome } from '#engine/volumes/volume.ts';

/** Folder of a session in which its scattered files lie; creating them makes it. */
function filesFolder(step: ScatterStep, scratch: Scratch): string {
  if (step.action !== 'create') return join(scratch.folder, 'files');
  const { sizes, filesPerFolder } = step;
  const folders = Array.from({ length: folderCount(step) }, (_, number) => ({
    path: `files/${folderName(number)}`,
    numbers: [number * filesPerFolder, Math.min(sizes.length, (number + 1) * filesPerFolder) - 1] as const,
  }));
  scratch.createFolders([{ path: 'files', numbers: null }, ...folders]);
  return join(scratch.folder, 'files');
}

const folderCount = ({ sizes, filesPerFolder }: ScatterStep): number => Math.ceil(sizes.length / filesPerFolder);

/** One action on all files, by as many workers as files are to be at work at a time. */
export async function scatterRealFiles(
  step: ScatterStep,
  tools: RealTools,
  emit: Emit,
  control: StepControl,
): Promise<StepOutcome> {
  const { moved, nowSeconds, startSeconds } = tools;
  const folder = filesFolder(step, tools.scratch!);
  const direction = step.action === 'read' ? 'read' : 'write';
  const movesBytes = step.action === 'create' || step.action === 'read';
  const part = { direction, pass: step.pass } as const;
  const count = step.action === 'list' ? folderCount(step) : step.sizes.length;
  const sizes = new SharedArrayBuffer(step.sizes.length * 8);
  new Float64Array(sizes).set(step.sizes);
  const shared = new SharedArrayBuffer(count * 16);
  const results = new Float64Array(shared).fill(NaN);
  const io = await tools.teamOf(step.parallel);
  const before = tools.deviceBytes();
  const base = moved[direction];

  /** Files that were taken and are not told of yet; with several workers they end in no order. */
  let waiting: number[] = [];
  let seen = 0;
  let operationsTold = 0;
  let started = false;
  const sample = () => {
    if (!started) return;
    const reading = io.read();
    if (movesBytes) {
      emit(
        sampleEvent(part, {
          atSeconds: reading.atSeconds - startSeconds,
          cumulativeBytes: base + reading.bytes,
          file: 0,
          operations: reading.operations - operationsTold,
          latencyMaxSeconds: reading.latencyMaxSeconds,
        }),
      );
      operationsTold = reading.operations;
    }
    const taken = Math.min(count, io.nextBlock());
    for (; seen < taken; seen += 1) waiting.push(seen);
    const files = emptyFiles();
    waiting = waiting.filter((index) => {
      const seconds = results[2 * index]!;
      if (Number.isNaN(seconds)) return true;
      files.atSeconds.push(results[2 * index + 1]! - startSeconds);
      files.action.push(step.action);
      files.files.push(step.action === 'list' ? namesIn(step, index) : 1);
      files.bytes.push(movesBytes ? paddedFrameBytes(step.sizes[index]!) : 0);
      files.seconds.push(seconds);
      return false;
    });
    const event = filesEvent(files);
    if (event) emit(event);
    if (control.signal.aborted) io.stop();
  };
  if (movesBytes) emit(passEvent(part, direction === 'read' ? 'reading' : 'allocating', nowSeconds()));
  tools.whileMoving(() => io.bytes());
  const timer = setInterval(sample, step.sampleSeconds * 1000);
  const onAbort = () => io.stop();
  control.signal.addEventListener('abort', onAbort);
  try {
    const message: ScatterMessage = {
      type: 'scatter',
      action: step.action,
      folder,
      filesPerFolder: step.filesPerFolder,
      flags: tools.files.openFlags,
      flushEach: step.flushEach,
      sizes,
      results: shared,
    };
    const outcome = await io.run(new Array<ScatterMessage>(step.parallel).fill(message), (start) => {
      started = true;
      // What the first look finds was moved since here, and not before.
      const nothing = { file: 0, operations: 0, latencyMaxSeconds: 0 };
      if (movesBytes) emit(sampleEvent(part, { atSeconds: start - startSeconds, cumulativeBytes: base, ...nothing }));
    });
    clearInterval(timer);
    sample();
    moved[direction] = base + outcome.bytes;
    if (outcome.failure) throw transferFailure(outcome.failure, direction, tools.info.mountPoint);
    const after = tools.deviceBytes();
    const flushSeconds = step.action === 'create' ? flushFolders(step, folder, tools, emit) : 0;
    if (movesBytes) tools.emitBypass(part, outcome.bytes, before, after, emit);
    return {
      ...NOTHING_MOVED,
      bytes: outcome.bytes,
      transferSeconds: outcome.endSeconds - outcome.startSeconds,
      flushSeconds,
    };
  } finally {
    clearInterval(timer);
    control.signal.removeEventListener('abort', onAbort);
    tools.whileMoving(null);
  }
}

function namesIn({ sizes, filesPerFolder }: ScatterStep, folder: number): number {
  return Math.min(filesPerFolder, sizes.length - folder * filesPerFolder);
}

/** New names are in the system's memory until their folders are flushed; files count when they would survive. */
function flushFolders(step: ScatterStep, folder: string, { nowSeconds, info }: RealTools, emit: Emit): number {
  const begin = nowSeconds();
  try {
    for (let number = 0; number < folderCount(step); number += 1) {
      const descriptor = openSync(`${folder}/${folderName(number)}`, 'r');
      try {
        fsyncSync(descriptor);
      } finally {
        closeSync(descriptor);
      }
    }
  } catch (error) {
    const { code = 'UNKNOWN' } = error as NodeJS.ErrnoException;
    // Some systems do not let folders be flushed: then the files' own writing is all there is to time.
    if (!['EINVAL', 'EPERM', 'EISDIR', 'EACCES'].includes(code)) {
      throw transferFailure({ code, fileOffset: 0 }, 'write', info.mountPoint);
    }
  }
  const seconds = nowSeconds() - begin;
  emit(flushEvent({ direction: 'write', pass: step.pass }, begin, seconds));
  return seconds;
}
