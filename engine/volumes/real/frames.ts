import { join } from 'node:path';
import { emptyFrames } from '#core/4-runs/run/run-document.ts';
import type { Emit } from '#core/4-runs/run/run-events.ts';
import { pacedStreams, type PacedStream } from '#engine/volumes/frame-plan.ts';
import type { RealTools } from '#engine/volumes/real/tools.ts';
import { transferFailure } from '#engine/volumes/real/failures.ts';
import type { IoTeam } from '#engine/volumes/real/io-team.ts';
import { STAT, type FramesMessage } from '#engine/volumes/real/io-protocol.ts';
import { flushEvent, framesEvent, passEvent, sampleEvent } from '#engine/volumes/step-events.ts';
import { NOTHING_MOVED, type FramesStep, type StepControl, type StepOutcome } from '#engine/volumes/volume.ts';

/** One worker's part of a stream, and how far its frames were told of. */
interface Part {
  stream: PacedStream;
  message: FramesMessage;
  lateness: Float64Array;
  told: number;
}

/** Frames on a real volume: each stream has its own workers, which keep its time themselves. */
export async function playRealFrames(
  step: FramesStep,
  tools: RealTools,
  emit: Emit,
  control: StepControl,
): Promise<StepOutcome> {
  const streams = pacedStreams(step);
  const targets = streams.map((stream) => targetOf(stream, tools));
  const parts = (paced: boolean, only: readonly PacedStream[]): Part[] =>
    only.flatMap((stream) =>
      Array.from({ length: step.depth }, (_, index) => {
        const frames = Math.max(0, Math.ceil((stream.frames - index) / step.depth));
        const lateness = new SharedArrayBuffer(frames * 8);
        new Float64Array(lateness).fill(NaN);
        const message: FramesMessage = {
          type: 'frames',
          stream: stream.number,
          direction: paced ? stream.direction : 'write',
          bytes: stream.bytes,
          periodSeconds: stream.periodSeconds,
          frames: stream.frames,
          firstFrame: index,
          stride: step.depth,
          bufferFrames: Math.max(1, Math.floor(stream.bufferFrames / step.depth)),
          paced,
          target: targets[stream.number]!,
          lateness,
        };
        return { stream, message, lateness: new Float64Array(lateness), told: 0 };
      }),
    );

  const played = streams.filter((stream) => stream.direction === 'read');
  if (played.length > 0) {
    await carryOutParts({ step, tools, emit, control, parts: parts(false, played), phase: 'laying-out', pass: 0 });
    await flushFrames(tools, emit);
  }
  if (control.signal.aborted) return NOTHING_MOVED;
  return carryOutParts({ step, tools, emit, control, parts: parts(true, streams), phase: null, pass: 1 });
}

function targetOf(stream: PacedStream, { scratch, files }: RealTools): FramesMessage['target'] {
  if (!stream.ownFiles) return { descriptor: files.addFile() };
  const path = `frames-${stream.number}`;
  scratch!.createFolders([{ path, numbers: [0, stream.frames - 1] }]);
  return { folder: join(scratch!.folder, path), flags: files.openFlags };
}

async function flushFrames({ files, info, nowSeconds }: RealTools, emit: Emit): Promise<void> {
  const begin = nowSeconds();
  try {
    await files.flush();
  } catch (error) {
    const { code = 'UNKNOWN' } = error as NodeJS.ErrnoException;
    throw transferFailure({ code, fileOffset: 0 }, 'write', info.mountPoint);
  }
  emit(flushEvent({ direction: 'write', pass: 0 }, begin, nowSeconds() - begin));
}

interface PartsRequest {
  step: FramesStep;
  tools: RealTools;
  emit: Emit;
  control: StepControl;
  parts: Part[];
  /** Null for the frames at their rate. */
  phase: 'laying-out' | null;
  pass: number;
}

async function carryOutParts({ step, tools, emit, control, parts, phase, pass }: PartsRequest): Promise<StepOutcome> {
  const { moved, nowSeconds, startSeconds } = tools;
  const io: IoTeam = await tools.teamOf(parts.length);
  const directions = [...new Set(parts.map((part) => part.message.direction))];
  const before = tools.deviceBytes();
  const base = { ...moved };
  let clock = 0;

  const bytesOf = (direction: 'write' | 'read'): number =>
    io.bytesOf((worker) => parts[worker]?.message.direction === direction);
  const operationsTold = { write: 0, read: 0 };
  const sample = () => {
    if (clock === 0) return;
    const reading = io.read();
    for (const direction of directions) {
      const operations = io.sumOf(STAT.operations, (worker) => parts[worker]?.message.direction === direction);
      emit(
        sampleEvent(
          { direction, pass },
          {
            atSeconds: reading.atSeconds - startSeconds,
            cumulativeBytes: base[direction] + bytesOf(direction),
            file: 0,
            operations: Math.max(0, operations - operationsTold[direction]),
            latencyMaxSeconds: reading.latencyMaxSeconds,
          },
        ),
      );
      operationsTold[direction] = operations;
    }
    if (phase === null) emitDone(parts, clock, emit);
    if (control.signal.aborted) io.stop();
  };
  for (const direction of directions) {
    emit(passEvent({ direction, pass }, phase ?? (direction === 'write' ? 'allocating' : 'reading'), nowSeconds()));
  }
  tools.whileMoving(() => io.bytes());
  const timer = setInterval(sample, step.sampleSeconds * 1000);
  const onAbort = () => io.stop();
  control.signal.addEventListener('abort', onAbort);
  try {
    const outcome = await io.run(
      parts.map((part) => part.message),
      (start) => {
        clock = start;
        // What the first look finds was moved since here, and not before.
        for (const direction of directions) {
          const atSeconds = start - startSeconds;
          const nothing = { file: 0, operations: 0, latencyMaxSeconds: 0 };
          emit(sampleEvent({ direction, pass }, { atSeconds, cumulativeBytes: base[direction], ...nothing }));
        }
        if (control.signal.aborted) io.stop();
      },
    );
    clearInterval(timer);
    sample();
    const after = tools.deviceBytes();
    for (const direction of directions) {
      moved[direction] = base[direction] + bytesOf(direction);
      tools.emitBypass({ direction, pass }, bytesOf(direction), before, after, emit);
    }
    if (outcome.failure) throw transferFailure(outcome.failure, directions[0]!, tools.info.mountPoint);
    const transferSeconds = outcome.endSeconds - outcome.startSeconds;
    return { ...NOTHING_MOVED, bytes: outcome.bytes, transferSeconds };
  } finally {
    clearInterval(timer);
    control.signal.removeEventListener('abort', onAbort);
    tools.whileMoving(null);
  }

  /** Tells of the frames that were done since the last time, in the order of their deadlines. */
  function emitDone(all: readonly Part[], start: number, tell: Emit): void {
    const rows: { due: number; stream: number; lateness: number | null }[] = [];
    for (const part of all) {
      const { message, lateness, stream } = part;
      while (part.told < lateness.length && !Number.isNaN(lateness[part.told]!)) {
        const frame = message.firstFrame + part.told * message.stride;
        const late = lateness[part.told]!;
        rows.push({
          due: start - startSeconds + (frame + (message.direction === 'write' ? 1 : 0)) * stream.periodSeconds,
          stream: stream.number,
          lateness: late === Infinity ? null : late,
        });
        part.told += 1;
      }
    }
    rows.sort((a, b) => a.due - b.due);
    const frames = emptyFrames();
    for (const row of rows) {
      frames.dueSeconds.push(row.due);
      frames.stream.push(row.stream);
      frames.latenessSeconds.push(row.lateness);
    }
    const event = framesEvent(frames);
    if (event) tell(event);
  }
}
