import { setImmediate as nextTurn, setTimeout as wait } from 'node:timers/promises';
import { BUCKET_COUNT, bucketOf } from '#core/run/histogram.ts';
import type { Emit } from '#core/run/run-events.ts';
import { usableBytes } from '#core/supply/room.ts';
import type { StandIn } from '#engine/volumes/stand-in/catalogue.ts';
import { flushEvent, latencyEvent, passEvent, sampleEvent } from '#engine/volumes/step-events.ts';
import { createDevice, type Device } from '#engine/volumes/stand-in/device.ts';
import type { Session, StepOutcome, TransferStep, Volume } from '#engine/volumes/volume.ts';

export interface StandInPace {
  /** Simulated seconds per real second; Infinity runs as fast as the processor allows. */
  speed: number;
  seed: number;
}

/** Samples computed before other work of the process gets its turn. */
const SAMPLES_PER_TURN = 200;
/** Latencies drawn for one sample; its requests are shared out among them. */
const LATENCY_DRAWS = 12;

const noCounts = (): number[] => new Array<number>(BUCKET_COUNT).fill(0);

/** A simulated volume behind the same interface as a real one. */
export function standInVolume(standIn: StandIn, pace: StandInPace): Volume {
  return {
    info: {
      id: `stand-in-${standIn.id}`,
      kind: 'stand-in',
      label: standIn.label,
      mountPoint: '',
      filesystem: 'simulated',
      totalBytes: standIn.model.totalBytes,
      freeBytes: standIn.model.freeBytes,
      readOnly: false,
      medium: standIn.medium,
      connection: standIn.connection,
      identity: { kind: 'stand-in', value: standIn.id },
      driveLabel: standIn.label,
      deviceKey: `stand-in-${standIn.id}`,
      description: standIn.description,
      knownCacheBytes: null,
      discardSupported: true,
    },
    check: () => Promise.resolve(),
    openSession: () => Promise.resolve(openStandInSession(standIn, pace)),
  };
}

function openStandInSession({ model }: StandIn, { speed, seed }: StandInPace): Session {
  const device = createDevice(model, seed);
  const begun = performance.now();
  const moved = { write: 0, read: 0 };
  let watchedSeconds = 0;
  let turns = 0;

  /** Lets real time catch up with the simulated clock. */
  async function keepPace(signal: AbortSignal): Promise<void> {
    const ahead = device.clockSeconds / speed - (performance.now() - begun) / 1000;
    if (ahead > 0.002) await wait(ahead * 1000, undefined, { signal }).catch(() => undefined);
    else if ((turns += 1) % SAMPLES_PER_TURN === 0) await nextTurn();
  }

  async function transfer(step: TransferStep, emit: Emit, signal: AbortSignal): Promise<StepOutcome> {
    const start = device.clockSeconds;
    const row = (bytes: number, operations: number, latencyMaxSeconds: number) => {
      const cumulativeBytes = moved[step.direction] + bytes;
      emit(
        sampleEvent(step, { atSeconds: device.clockSeconds, cumulativeBytes, file: 0, operations, latencyMaxSeconds }),
      );
    };
    emit(passEvent(step, start));
    row(0, 0, 0);
    let bytes = 0;
    let operations = 0;
    let firstDone: number | null = null;
    let counts = noCounts();
    let countedSecond = Math.floor(device.clockSeconds);
    while (bytes < step.bytes && !signal.aborted) {
      const sampleStart = device.clockSeconds;
      let sampleBytes = 0;
      while (device.clockSeconds - sampleStart < step.sampleSeconds - 1e-9 && bytes + sampleBytes < step.bytes) {
        const left = step.sampleSeconds - (device.clockSeconds - sampleStart);
        const position = step.fromByte + bytes + sampleBytes;
        sampleBytes += device.transfer(step.direction, position, step.bytes - bytes - sampleBytes, left).bytes;
      }
      bytes += sampleBytes;
      const done = Math.floor(bytes / step.blockBytes) - operations;
      operations += done;
      if (done > 0) firstDone ??= device.clockSeconds;
      const rate = sampleBytes / (device.clockSeconds - sampleStart);
      const longest = drawLatencies(device, model.requestSeconds, step, rate, done, counts);
      row(bytes, done, longest);
      if (Math.floor(device.clockSeconds) > countedSecond) {
        countedSecond = Math.floor(device.clockSeconds);
        emitHistogram(step, counts, emit);
        counts = noCounts();
      }
      watch(emit);
      await keepPace(signal);
      if (step.untilSeconds !== null && firstDone !== null && device.clockSeconds - firstDone >= step.untilSeconds)
        break;
    }
    emitHistogram(step, counts, emit);
    moved[step.direction] += bytes;
    const transferSeconds = device.clockSeconds - start;
    const flushSeconds = step.flush && bytes > 0 ? flush(step, emit) : 0;
    emit({
      type: 'bypass',
      row: {
        pass: step.pass,
        direction: step.direction,
        ownBytes: bytes,
        deviceBytes: bytes,
        deviceBytesAfterFlush: bytes,
      },
    });
    if (step.verify) emit({ type: 'verified', checkedBytes: bytes, mismatches: [] });
    return { bytes, transferSeconds, flushSeconds, firstSeconds: (firstDone ?? start) - start };
  }

  function flush(step: TransferStep, emit: Emit): number {
    const begin = device.clockSeconds;
    const seconds = 2 * model.requestSeconds + 0.004;
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
    emit({
      type: 'watch',
      row: { atSeconds: device.clockSeconds, temperatureCelsius, foreignBytesPerSecond: 0, processorShare: null },
    });
  }

  return {
    ioMode: 'simulated',
    roomBytes: usableBytes(model.freeBytes),
    execute: (step, emit, signal) =>
      step.kind === 'allot'
        ? Promise.resolve({ bytes: 0, transferSeconds: 0, flushSeconds: 0, firstSeconds: 0 })
        : transfer(step, emit, signal),
    freeBytes: () => Promise.resolve(model.freeBytes),
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
  if (operations === 0) return 0;
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
