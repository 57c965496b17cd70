import { paddedFrameBytes } from '#core/2-trade/media/frame-stream.ts';
import { emptyFiles } from '#core/4-runs/run/run-document.ts';
import type { Emit } from '#core/4-runs/run/run-events.ts';
import type { StandInTools } from '#engine/volumes/stand-in/tools.ts';
import { filesEvent, passEvent, sampleEvent } from '#engine/volumes/step-events.ts';
import { NOTHING_MOVED, type ScatterStep, type StepControl, type StepOutcome } from '#engine/volumes/volume.ts';

/** Files that are at work at the same time share the waiting, not the bytes. */
export async function scatterFiles(
  step: ScatterStep,
  { device, moved, tick, faulty }: StandInTools,
  emit: Emit,
  control: StepControl,
): Promise<StepOutcome> {
  const direction = step.action === 'read' ? 'read' : 'write';
  const start = device.clockSeconds;
  const part = { direction, pass: step.pass } as const;
  const phase = direction === 'read' ? 'reading' : 'allocating';
  let files = emptyFiles();
  let operations = 0;
  let sampledAt = start;
  const flushRows = () => {
    if (step.action === 'create' || step.action === 'read') {
      emit(
        sampleEvent(part, {
          atSeconds: device.clockSeconds,
          cumulativeBytes: moved[direction],
          file: 0,
          operations,
          latencyMaxSeconds: 0,
        }),
      );
    }
    const event = filesEvent(files);
    if (event) emit(event);
    files = emptyFiles();
    operations = 0;
    sampledAt = device.clockSeconds;
  };
  const note = (count: number, bytes: number, seconds: number) => {
    files.atSeconds.push(device.clockSeconds);
    files.action.push(step.action);
    files.files.push(count);
    files.bytes.push(bytes);
    files.seconds.push(seconds);
    operations += 1;
  };

  if (step.action === 'create' || step.action === 'read') {
    emit(passEvent(part, phase, start));
    flushRows();
  }
  let total = 0;
  const count = step.action === 'list' ? Math.ceil(step.sizes.length / step.filesPerFolder) : step.sizes.length;
  for (let index = 0; index < count && !control.signal.aborted; index += 1) {
    const begin = device.clockSeconds;
    faulty.strike({ direction }, total, begin);
    if (step.action === 'list') {
      const names = Math.min(step.filesPerFolder, step.sizes.length - index * step.filesPerFolder);
      device.listNames(names);
      note(names, 0, device.clockSeconds - begin);
    } else {
      // Each of the files at work takes its full time; together they wait once.
      device.fileOperations((step.flushEach && step.action === 'create' ? 2 : 1) / step.parallel);
      let bytes = 0;
      if (step.action !== 'delete') {
        const wanted = paddedFrameBytes(step.sizes[index]!);
        const load = {
          direction,
          blockBytes: Math.min(wanted, 1 << 20),
          depth: step.parallel,
          order: 'random',
        } as const;
        while (bytes < wanted) bytes += device.transfer(load, total, wanted - bytes, 1).bytes;
        total += bytes;
        moved[direction] += bytes;
      }
      note(1, bytes, (device.clockSeconds - begin) * step.parallel);
    }
    if (device.clockSeconds - sampledAt >= step.sampleSeconds) flushRows();
    await tick(emit, control);
  }
  flushRows();
  return { ...NOTHING_MOVED, bytes: total, transferSeconds: device.clockSeconds - start };
}
