import type { Emit } from '#core/4-runs/run/run-events.ts';
import { formatDuration } from '#core/1-ground/units/format.ts';
import { momentEvent } from '#engine/volumes/step-events.ts';
import type { SystemDevice } from '#engine/system/system.ts';
import { system } from '#engine/system/this-system.ts';
import { busyShare } from '#engine/watch/processor-load.ts';

/** What to watch beside the transfers of a run; null where the system does not tell. */
export interface WatchTargets {
  /** Whose temperature is read, and what others move on it. */
  device: SystemDevice;
  /** Bytes this run has moved so far, both directions. */
  ownBytes: () => number;
  nowSeconds: () => number;
  /** Milliseconds of the wall clock; given by tests. */
  wallClock?: () => number;
  /** Seconds since the machine was started, its sleep counted; null where it does not tell. Given by tests. */
  bootClock?: () => number | null;
}

/** Clocks that part by more than this mean something. */
const PARTED_SECONDS = 2;

/** What else than time passing parted the clocks between two readings: a sleep, or somebody who set the wall clock. */
function partedClocks(
  before: { seconds: number; wallSeconds: number; bootSeconds: number | null },
  now: typeof before,
): { slept: number; set: number } {
  const seconds = now.seconds - before.seconds;
  const wall = now.wallSeconds - before.wallSeconds - seconds;
  // Where only the wall clock tells of a sleep, being set on looks the same.
  if (now.bootSeconds === null || before.bootSeconds === null)
    return { slept: Math.max(0, wall), set: Math.min(0, wall) };
  const slept = now.bootSeconds - before.bootSeconds - seconds;
  return { slept, set: wall - slept };
}

/** Reads the conditions once a second until stopped, and tells of a machine that slept. */
export function startWatching(targets: WatchTargets, emit: Emit): () => void {
  const temperature = system.temperatureOf(targets.device);
  const read = () => reading(targets);
  let before = read();
  const watch = () => {
    const now = read();
    const seconds = now.seconds - before.seconds;
    const { slept, set } = partedClocks(before, now);
    if (slept > PARTED_SECONDS) emit(momentEvent('sleep', now.seconds, slept, 'The machine slept.'));
    if (Math.abs(set) > PARTED_SECONDS) {
      const way = set > 0 ? 'on' : 'back';
      const note = `The clock of the machine was set ${way} by ${formatDuration(Math.abs(set))}; nothing measured goes by it.`;
      emit(momentEvent('clock-set', now.seconds, 0, note));
    }
    const moved = now.deviceBytes === null || before.deviceBytes === null ? null : now.deviceBytes - before.deviceBytes;
    emit({
      type: 'watch',
      row: {
        atSeconds: now.seconds,
        temperatureCelsius: temperature?.() ?? null,
        foreignBytesPerSecond: moved === null ? null : Math.max(0, moved - (now.ownBytes - before.ownBytes)) / seconds,
        processorShare: busyShare(before.processor, now.processor),
      },
    });
    before = now;
  };
  const timer = setInterval(watch, 1000);
  return () => clearInterval(timer);
}

function reading({
  device: { diskNumber },
  ownBytes,
  nowSeconds,
  wallClock = Date.now,
  bootClock = () => system.secondsSinceBoot(),
}: WatchTargets) {
  const device = system.diskBytes(diskNumber);
  return {
    seconds: nowSeconds(),
    wallSeconds: wallClock() / 1000,
    bootSeconds: bootClock(),
    ownBytes: ownBytes(),
    deviceBytes: device === null ? null : device.readBytes + device.writeBytes,
    processor: system.processorTimes(),
  };
}
