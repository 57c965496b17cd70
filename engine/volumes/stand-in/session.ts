import { setImmediate as nextTurn, setTimeout as wait } from 'node:timers/promises';
import { BUCKET_COUNT, bucketOf } from '#core/4-runs/run/histogram.ts';
import type { Emit } from '#core/4-runs/run/run-events.ts';
import { faultAt, type Fault } from '#core/4-runs/stand-ins/faults.ts';
import type { StandIn } from '#engine/volumes/stand-in/catalogue.ts';
import { createDevice, type Device, type Load } from '#engine/volumes/stand-in/device.ts';
import { faultyOf } from '#engine/volumes/stand-in/faulty.ts';
import { playFrames } from '#engine/volumes/stand-in/frames.ts';
import { scatterFiles } from '#engine/volumes/stand-in/scatter.ts';
import type { StandInTools, StandInPace } from '#engine/volumes/stand-in/tools.ts';
import { executor } from '#engine/volumes/step-hands.ts';
import { flushEvent, latencyEvent, momentEvent, passEvent, sampleEvent } from '#engine/volumes/step-events.ts';
import {
  NOTHING_MOVED,
  untilResumed,
  type RestStep,
  type Session,
  type StepControl,
  type StepOutcome,
  type TransferStep,
} from '#engine/volumes/volume.ts';

/** Samples computed before other work of the process gets its turn. */
const SAMPLES_PER_TURN = 200;
/** Latencies drawn for one sample; its requests are shared out among them. */
const LATENCY_DRAWS = 12;
/** What lies on a stand-in for *Existing material*. */
const EXISTING_BYTES = 180e9;

const noCounts = (): number[] => new Array<number>(BUCKET_COUNT).fill(0);

export function openStandInSession(
  { model }: StandIn,
  { speed, seed }: StandInPace,
  faults: readonly Fault[],
): Session {
  const device = createDevice(model, seed, faults);
  const faulty = faultyOf(faults);
  const cachedReads = faultAt(faults, 'cached-reads') !== null;
  const begun = performance.now();
  const moved = { write: 0, read: 0 };
  let watchedSeconds = -1;
  let turns = 0;
  let writtenTo = 0;

  async function tick(emit: Emit, { signal }: StepControl): Promise<void> {
    watch(emit);
    const ahead = device.clockSeconds / speed - (performance.now() - begun) / 1000;
    if (ahead > 0.002) await wait(ahead * 1000, undefined, { signal }).catch(() => undefined);
    else if ((turns += 1) % SAMPLES_PER_TURN === 0) await nextTurn();
  }
  const tools: StandInTools = { device, faulty, moved, tick };

  /** A held run is a pause of the record: simulated time goes on as real time does. */
  async function hold(emit: Emit, control: StepControl): Promise<void> {
    if (!control.pause.paused) return;
    const [at, from] = [device.clockSeconds, performance.now()];
    await untilResumed(control);
    const realSeconds = (performance.now() - from) / 1000;
    const seconds = realSeconds * (Number.isFinite(speed) ? speed : 1);
    device.rest(seconds);
    emit(momentEvent('pause', at, seconds, ''));
  }

  async function transfer(step: TransferStep, emit: Emit, control: StepControl): Promise<StepOutcome> {
    const { direction } = step;
    const load: Load = { direction, blockBytes: step.blockBytes, depth: step.depth, order: step.order };
    const start = device.clockSeconds;
    const row = (bytes: number, operations: number, latencyMaxSeconds: number) => {
      const cumulativeBytes = moved[direction] + bytes;
      emit(
        sampleEvent(step, { atSeconds: device.clockSeconds, cumulativeBytes, file: 0, operations, latencyMaxSeconds }),
      );
    };
    emit(passEvent(step, step.phase, start));
    row(0, 0, 0);
    let bytes = 0;
    let operations = 0;
    let firstDone: number | null = null;
    let restedSeconds = 0;
    let counts = noCounts();
    let countedSecond = Math.floor(device.clockSeconds);
    let flushSeconds = 0;
    let flushAt = step.flushEverySeconds === null ? Infinity : start + step.flushEverySeconds;
    const wanted = step.repeat ? Infinity : step.bytes;

    while (bytes < wanted && !control.signal.aborted) {
      if (control.pause.paused) {
        const at = device.clockSeconds;
        await hold(emit, control);
        restedSeconds += device.clockSeconds - at;
        row(bytes, 0, 0);
      }
      const sampleStart = device.clockSeconds;
      let sampleBytes = 0;
      // What its pace asks for until the end of the sample, with all that is behind.
      const due =
        step.pacedBytesPerSecond === null
          ? Infinity
          : step.pacedBytesPerSecond * (sampleStart + step.sampleSeconds - start - restedSeconds);
      const until = Math.min(wanted, Math.max(bytes, due));
      while (device.clockSeconds - sampleStart < step.sampleSeconds - 1e-9 && bytes + sampleBytes < until) {
        const left = step.sampleSeconds - (device.clockSeconds - sampleStart);
        const position = step.fromByte + ((bytes + sampleBytes) % step.bytes);
        const stretch = Math.min(until - bytes - sampleBytes, step.bytes - ((bytes + sampleBytes) % step.bytes));
        try {
          faulty.strike(step, position, device.clockSeconds);
        } catch (fault) {
          bytes += sampleBytes;
          row(bytes, Math.floor(bytes / step.blockBytes) - operations, 0);
          moved[direction] += bytes;
          throw fault;
        }
        sampleBytes += device.transfer(load, position, faulty.reach(step, position, stretch), left).bytes;
      }
      const idle = step.sampleSeconds - (device.clockSeconds - sampleStart);
      if (step.pacedBytesPerSecond !== null && idle > 1e-9) device.rest(idle);
      bytes += sampleBytes;
      const done = Math.floor(bytes / step.blockBytes) - operations;
      operations += done;
      if (done > 0) firstDone ??= device.clockSeconds;
      const rate = sampleBytes / (device.clockSeconds - sampleStart);
      const longest = drawLatencies(device, model.requestSeconds[direction], step, rate, done, counts);
      row(bytes, done, longest);
      if (Math.floor(device.clockSeconds) > countedSecond) {
        countedSecond = Math.floor(device.clockSeconds);
        emitHistogram(step, counts, emit);
        counts = noCounts();
      }
      if (device.clockSeconds >= flushAt) {
        flushSeconds += flush(step, emit);
        flushAt = device.clockSeconds + step.flushEverySeconds!;
      }
      await tick(emit, control);
      if (step.untilSeconds !== null && firstDone !== null && device.clockSeconds - firstDone >= step.untilSeconds)
        break;
      if (step.stopWhen?.(device.clockSeconds - start - restedSeconds, bytes)) break;
    }
    emitHistogram(step, counts, emit);
    moved[direction] += bytes;
    const transferSeconds = device.clockSeconds - start - restedSeconds;
    const reached = step.fromByte + Math.min(step.bytes, bytes);
    if (direction === 'write') writtenTo = Math.max(writtenTo, reached);
    if (step.flush && bytes > 0) flushSeconds += flush(step, emit);
    const deviceBytes = direction === 'read' && cachedReads ? 0 : bytes;
    emit({
      type: 'bypass',
      row: { pass: step.pass, direction, ownBytes: bytes, deviceBytes, deviceBytesAfterFlush: deviceBytes },
    });
    if (step.verify && bytes > 0) {
      const mismatches = faulty.mismatches(step.fromByte, reached, step.pass, writtenTo);
      emit({ type: 'verified', checkedBytes: bytes, mismatches });
    }
    return { bytes, transferSeconds, flushSeconds, firstSeconds: (firstDone ?? start) - start };
  }

  function flush(step: TransferStep, emit: Emit): number {
    const begin = device.clockSeconds;
    const seconds = 2 * model.requestSeconds.write + 0.004;
    device.rest(seconds);
    emit(flushEvent(step, begin, seconds));
    return seconds;
  }

  function emitHistogram(step: TransferStep, counts: readonly number[], emit: Emit): void {
    const event = latencyEvent(step, device.clockSeconds, counts);
    if (event) emit(event);
  }

  function watch(emit: Emit): void {
    if (Math.floor(device.clockSeconds) <= watchedSeconds) return;
    watchedSeconds = Math.floor(device.clockSeconds);
    const temperatureCelsius = Math.round(device.temperatureCelsius * 10) / 10;
    const { foreignBytesPerSecond } = device;
    emit({
      type: 'watch',
      row: { atSeconds: device.clockSeconds, temperatureCelsius, foreignBytesPerSecond, processorShare: null },
    });
  }

  /** A rest in slices, so that temperature and time are seen to pass. */
  async function rest({ seconds, note }: RestStep, emit: Emit, control: StepControl): Promise<void> {
    const at = device.clockSeconds;
    while (device.clockSeconds < at + seconds && !control.signal.aborted) {
      device.rest(Math.min(1, at + seconds - device.clockSeconds));
      await tick(emit, control);
    }
    emit(momentEvent('rest', at, device.clockSeconds - at, note));
  }

  return {
    ioMode: 'simulated',
    execute: executor({
      // Room is not taken up.
      allot: () => undefined,
      rest,
      'await-quiet': () => undefined,
      'use-existing': ({ mostBytes, leastBytes }) => {
        const most = Math.min(EXISTING_BYTES, model.totalBytes - model.freeBytes);
        return most < leastBytes ? NOTHING_MOVED : { ...NOTHING_MOVED, bytes: Math.min(mostBytes ?? most, most) };
      },
      transfer,
      frames: (step, emit, control) => playFrames(step, tools, emit, control),
      scatter: (step, emit, control) => scatterFiles(step, tools, emit, control),
    }),
    freeBytes: () => Promise.resolve(model.freeBytes),
    changedConnection: () => Promise.resolve(null),
    close: () => Promise.resolve(),
  };
}

/**
 * Counts the latencies of a sample's requests: with `depth` outstanding, each takes depth × block ÷
 * rate (Little's law) or the device's own time, whichever is longer, spread log-normally.
 * @returns the longest, seconds
 */
function drawLatencies(
  device: Device,
  requestSeconds: number,
  step: TransferStep,
  bytesPerSecond: number,
  operations: number,
  counts: number[],
): number {
  if (operations === 0 || bytesPerSecond <= 0) return 0;
  const typical = Math.max(requestSeconds, (step.depth * step.blockBytes) / bytesPerSecond);
  const draws = Math.min(operations, LATENCY_DRAWS);
  let longest = 0;
  for (let draw = 0; draw < draws; draw += 1) {
    const seconds = typical * Math.exp(0.12 * device.normal());
    const bucket = Math.min(BUCKET_COUNT - 1, bucketOf(seconds));
    const share = Math.floor(((draw + 1) * operations) / draws) - Math.floor((draw * operations) / draws);
    counts[bucket]! += share;
    longest = Math.max(longest, seconds);
  }
  return longest;
}
