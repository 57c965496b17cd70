import { DEFAULT_BLOCK_BYTES } from '#core/3-jobs/recipes/option-fields.ts';
import { emptyFrames } from '#core/4-runs/run/run-document.ts';
import type { Emit } from '#core/4-runs/run/run-events.ts';
import { pacedStreams, playedBytes, type PacedStream } from '#engine/volumes/frame-plan.ts';
import type { StandInTools } from '#engine/volumes/stand-in/tools.ts';
import { framesEvent, passEvent, sampleEvent } from '#engine/volumes/step-events.ts';
import { NOTHING_MOVED, type FramesStep, type StepControl, type StepOutcome } from '#engine/volumes/volume.ts';

/** A stream on its way. */
interface Playing extends PacedStream {
  next: number;
  /** When accepted frames were done, in their order; only as many as the buffer holds are asked for. */
  done: number[];
}

/**
 * Frames on a simulated device: one request at a time, in the order in which frames come or room
 * for them is made. A recorded frame that comes while the buffer is full is dropped; a played one
 * whose time is over is passed over.
 */
export async function playFrames(
  step: FramesStep,
  tools: StandInTools,
  emit: Emit,
  control: StepControl,
): Promise<StepOutcome> {
  const { device, faulty, moved, tick } = tools;
  const streams: Playing[] = pacedStreams(step).map((stream) => ({ ...stream, next: 0, done: [] }));
  const several = streams.length > 1;
  const position = { write: 0, read: 0 };
  let operations = { write: 0, read: 0 };

  function move({ direction, bytes, ownFiles }: PacedStream): void {
    const load = {
      direction,
      blockBytes: Math.min(bytes, DEFAULT_BLOCK_BYTES),
      depth: step.depth,
      order: several ? 'random' : 'sequential',
    } as const;
    if (ownFiles) device.fileOperations(1);
    let left = bytes;
    while (left > 0) {
      faulty.strike({ direction }, position[direction], device.clockSeconds);
      const reach = faulty.reach({ direction }, position[direction], left);
      const { bytes: done } = device.transfer(load, position[direction], reach, 1);
      left -= done;
      position[direction] += done;
    }
    moved[direction] += bytes;
    operations[direction] += 1;
  }

  let sampledAt = device.clockSeconds;
  const row = (direction: 'write' | 'read') =>
    emit(
      sampleEvent(
        { direction, pass: 1 },
        {
          atSeconds: device.clockSeconds,
          cumulativeBytes: moved[direction],
          file: 0,
          operations: operations[direction],
          latencyMaxSeconds: 0,
        },
      ),
    );
  const directions = [...new Set(streams.map((stream) => stream.direction))];
  const sample = () => {
    directions.forEach(row);
    operations = { write: 0, read: 0 };
    sampledAt = device.clockSeconds;
  };

  await layOut(playedBytes(streams), tools, emit, control);
  for (const direction of directions) {
    emit(passEvent({ direction, pass: 1 }, direction === 'write' ? 'allocating' : 'reading', device.clockSeconds));
  }
  sample();
  const doneAhead = streams.map((): number[] => []);
  for (const stream of streams.filter((one) => one.direction === 'read')) {
    while (stream.next < Math.min(stream.bufferFrames, stream.frames) && !control.signal.aborted) {
      move(stream);
      doneAhead[stream.number]!.push(device.clockSeconds);
      stream.next += 1;
      await tick(emit, control);
    }
  }
  const begin = device.clockSeconds;
  let frames = emptyFrames();
  const note = (stream: Playing, index: number, doneSeconds: number | null) => {
    const due = begin + (index + (stream.direction === 'write' ? 1 : 0)) * stream.periodSeconds;
    frames.dueSeconds.push(due);
    frames.stream.push(stream.number);
    frames.latenessSeconds.push(doneSeconds === null ? null : doneSeconds - due);
  };
  // What was read ahead before the start is there when it is due.
  for (const stream of streams) doneAhead[stream.number]!.forEach((done, index) => note(stream, index, done));

  const readyAt = (stream: Playing) =>
    begin + (stream.next - (stream.direction === 'read' ? stream.bufferFrames : 0)) * stream.periodSeconds;
  for (;;) {
    const open = streams.filter((stream) => stream.next < stream.frames);
    if (open.length === 0 || control.signal.aborted) break;
    const stream = open.reduce((first, one) => (readyAt(one) < readyAt(first) ? one : first));
    const ready = readyAt(stream);
    if (device.clockSeconds < ready) device.rest(ready - device.clockSeconds);
    const index = stream.next;
    stream.next += 1;
    const late =
      stream.direction === 'write'
        ? (stream.done.at(-stream.bufferFrames) ?? -Infinity) > ready
        : device.clockSeconds > begin + (index + 1) * stream.periodSeconds;
    if (late) {
      note(stream, index, null);
    } else {
      move(stream);
      stream.done.push(device.clockSeconds);
      if (stream.done.length > 2 * stream.bufferFrames) stream.done.splice(0, stream.bufferFrames);
      note(stream, index, device.clockSeconds);
    }
    if (device.clockSeconds - sampledAt >= step.sampleSeconds) {
      sample();
      const event = framesEvent(frames);
      if (event) emit(event);
      frames = emptyFrames();
    }
    await tick(emit, control);
  }
  sample();
  const event = framesEvent(frames);
  if (event) emit(event);
  return { ...NOTHING_MOVED, bytes: moved.write + moved.read, transferSeconds: device.clockSeconds - begin };
}

/** Writes what will be played, as fast as it goes. */
async function layOut(bytes: number, tools: StandInTools, emit: Emit, control: StepControl): Promise<void> {
  if (bytes === 0) return;
  const { device, moved, tick } = tools;
  const part = { direction: 'write', pass: 0 } as const;
  const load = { direction: 'write', blockBytes: DEFAULT_BLOCK_BYTES, depth: 4, order: 'sequential' } as const;
  emit(passEvent(part, 'laying-out', device.clockSeconds));
  let done = 0;
  while (done < bytes && !control.signal.aborted) {
    done += device.transfer(load, done, bytes - done, 0.5).bytes;
    emit(
      sampleEvent(part, {
        atSeconds: device.clockSeconds,
        cumulativeBytes: moved.write + done,
        file: 0,
        operations: 1,
        latencyMaxSeconds: 0,
      }),
    );
    await tick(emit, control);
  }
  moved.write += done;
}
