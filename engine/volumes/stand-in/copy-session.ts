import { setImmediate as nextTurn, setTimeout as wait } from 'node:timers/promises';
import { DIFFERS_DETAIL, openCopyLeg, type CopyLeg } from '#core/4-runs/run/copy-record.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { Emit } from '#core/4-runs/run/run-events.ts';
import type { Fault } from '#core/4-runs/stand-ins/faults.ts';
import { PAGE_BYTES } from '#core/1-ground/units/page.ts';
import type { StandInPace } from '#engine/volumes/stand-in/tools.ts';
import type { StandIn } from '#engine/volumes/stand-in/catalogue.ts';
import { createDevice, type Device, type Load } from '#engine/volumes/stand-in/device.ts';
import { executor } from '#engine/volumes/step-hands.ts';
import { faultyOf, type Faulty } from '#engine/volumes/stand-in/faulty.ts';
import { copyRowsEvent, momentEvent } from '#engine/volumes/step-events.ts';
import {
  NOTHING_MOVED,
  type CopyStep,
  type RestStep,
  type Session,
  type StepControl,
  type StepOutcome,
} from '#engine/volumes/volume.ts';

/** A stand-in as one end of a copy. */
export interface StandInEnd {
  standIn: StandIn;
  pace: StandInPace;
  faults: readonly Fault[];
}

/** A device that takes part, once however many ends it is. */
interface Member {
  device: Device;
  faulty: Faulty;
}

/** One stream of a copy: an end that reads or writes. */
interface Actor extends Member {
  end: number;
  direction: Direction;
  bytes: number;
  waitedSeconds: number;
}

type Requests = Omit<Load, 'direction'>;

/** Of small files, as *File scatter* moves them. */
const SMALL_REQUEST_BYTES = 1 << 20;
/** Devices are brought to the same moment so often; between, each goes at its own pace. */
const SLICE_SECONDS = 0.05;
/** Of bytes that are parts of bytes, what is left of less than this is nothing. */
const LEAST_BYTES = 0.5;
const SLICES_PER_TURN = 400;
/** What the end of a copy takes until the names are safe, beside the requests under way. */
const FLUSH_SECONDS = 0.004;

/** A copy between simulated drives, on one clock, with the pipeline of a real one: a source that may be ahead by a few blocks. */
export function openStandInCopy(ends: readonly StandInEnd[]): Session {
  const { pace } = ends[0]!;
  const members = new Map<string, Member>();
  for (const { standIn, faults } of ends) {
    if (members.has(standIn.id)) continue;
    members.set(standIn.id, { device: createDevice(standIn.model, pace.seed, faults), faulty: faultyOf(faults) });
  }
  const memberOf = (end: number): Member => members.get(ends[end]!.standIn.id)!;
  const devices = [...members.values()].map(({ device }) => device);
  const begun = performance.now();
  let sizes: readonly number[] = [];
  let watchedSeconds = -1;
  let turns = 0;

  const now = (): number => Math.max(...devices.map(({ clockSeconds }) => clockSeconds));
  /** Brings all devices to the same moment; those that were done earlier rested. */
  const meet = (atSeconds: number): void => {
    for (const device of devices) if (device.clockSeconds < atSeconds) device.rest(atSeconds - device.clockSeconds);
  };

  async function tick(emit: Emit, { signal }: StepControl): Promise<void> {
    watch(emit);
    const ahead = now() / pace.speed - (performance.now() - begun) / 1000;
    if (ahead > 0.002) await wait(ahead * 1000, undefined, { signal }).catch(() => undefined);
    else if ((turns += 1) % SLICES_PER_TURN === 0) await nextTurn();
  }

  function watch(emit: Emit): void {
    const atSeconds = now();
    if (Math.floor(atSeconds) <= watchedSeconds) return;
    watchedSeconds = Math.floor(atSeconds);
    ends.forEach((_, end) => {
      const { device } = memberOf(end);
      const temperatureCelsius = Math.round(device.temperatureCelsius * 10) / 10;
      const { foreignBytesPerSecond } = device;
      if (end === 0) {
        emit({ type: 'watch', row: { atSeconds, temperatureCelsius, foreignBytesPerSecond, processorShare: null } });
      } else if (device !== memberOf(0).device) {
        emit({
          type: 'copy-watch',
          rows: {
            atSeconds: [atSeconds],
            end: [end],
            temperatureCelsius: [temperatureCelsius],
            foreignBytesPerSecond: [foreignBytesPerSecond],
          },
        });
      }
    });
  }

  /** Lets an actor move what it can until a moment. @returns whether it moved anything */
  function move(actor: Actor, most: number, requests: Requests, untilSeconds: number): boolean {
    const { device, faulty, direction } = actor;
    const seconds = untilSeconds - device.clockSeconds;
    if (most < LEAST_BYTES || seconds <= 1e-9) return false;
    faulty.strike({ direction }, actor.bytes, device.clockSeconds);
    const load = { direction, ...requests, blockBytes: Math.max(PAGE_BYTES, Math.min(requests.blockBytes, most)) };
    actor.bytes += device.transfer(load, actor.bytes, faulty.reach({ direction }, actor.bytes, most), seconds).bytes;
    return true;
  }

  /** A large file, or all of a volume read back: each goes as far as the others let it, slice by slice. */
  async function stream(
    actors: readonly Actor[],
    bytes: number,
    step: CopyStep,
    onSlice: () => Promise<boolean>,
  ): Promise<boolean> {
    const from = actors.map((actor) => actor.bytes);
    const requests: Requests = {
      blockBytes: step.blockBytes,
      depth: step.depth * step.parallelFiles,
      order: 'sequential',
    };
    const lead = 2 * requests.depth * requests.blockBytes;
    const doneOf = (index: number) => actors[index]!.bytes - from[index]!;
    const isRead = actors.every(({ direction }) => direction === 'read');
    const writers = actors.flatMap((actor, index) => (actor.direction === 'write' ? [index] : []));
    const mostOf = (index: number): number => {
      const left = bytes - doneOf(index);
      if (isRead) return Math.min(left, lead);
      if (actors[index]!.direction === 'write') return doneOf(0) - doneOf(index);
      return Math.min(left, lead - (doneOf(0) - Math.min(...writers.map(doneOf))));
    };
    while (actors.some((_, index) => doneOf(index) < bytes - LEAST_BYTES)) {
      const until = now() + SLICE_SECONDS;
      for (let moved = true; moved;) {
        moved = false;
        actors.forEach((actor, index) => {
          // On one device the ends take turns, block by block.
          if (move(actor, Math.min(mostOf(index), lead / 2), requests, until)) moved = true;
        });
      }
      for (const actor of actors) actor.waitedSeconds += Math.max(0, until - actor.device.clockSeconds);
      // The last slice ends with its last byte.
      const isOver = actors.every((_, index) => doneOf(index) >= bytes - LEAST_BYTES);
      meet(isOver ? now() : until);
      if (!(await onSlice())) return false;
    }
    return true;
  }

  /** A file of one block: read, then written to one target after the other, as one worker does it. */
  function small(actors: readonly Actor[], bytes: number, step: CopyStep): void {
    for (const actor of actors) {
      const begin = actor.device.clockSeconds;
      // Each of the files at work takes its full time; together they wait once.
      actor.device.fileOperations((step.flushEach && actor.direction === 'write' ? 2 : 1) / step.parallelFiles);
      const goal = actor.bytes + bytes;
      // Files lie where there was room: a drive with heads has to go there.
      const requests: Requests = { blockBytes: SMALL_REQUEST_BYTES, depth: step.parallelFiles, order: 'random' };
      while (actor.bytes < goal - LEAST_BYTES) move(actor, goal - actor.bytes, requests, actor.device.clockSeconds + 1);
      const took = actor.device.clockSeconds - begin;
      for (const other of actors) if (other !== actor) other.waitedSeconds += took;
      meet(actor.device.clockSeconds);
    }
  }

  async function copy(step: CopyStep, emit: Emit, control: StepControl): Promise<StepOutcome> {
    const actor = (end: number, direction: Direction): Actor => ({
      ...memberOf(end),
      end,
      direction,
      bytes: 0,
      waitedSeconds: 0,
    });
    const actors = [actor(step.from, 'read'), ...step.to.map((end) => actor(end, 'write'))];
    const began = now();
    let sampledAt = -Infinity;
    const tell = (stage: 'copying' | 'verifying', all: readonly Actor[], isLast = false) => {
      if (!isLast && now() - sampledAt < step.sampleSeconds) return;
      sampledAt = now();
      emit(copyRowsEvent(step.leg, stage, sampledAt, all));
    };
    const all = sizes.reduce((sum, size) => sum + size, 0);
    const leg = openCopyLeg(step, sizes.length, all, began);
    const onSlice = async (): Promise<boolean> => {
      tell('copying', actors);
      await tick(emit, control);
      return !control.signal.aborted;
    };
    try {
      tell('copying', actors, true);
      for (const bytes of sizes) {
        if (bytes <= step.blockBytes) {
          small(actors, bytes, step);
          if (!(await onSlice())) break;
        } else {
          for (const { device } of actors) device.fileOperations(1 / step.parallelFiles);
          meet(now());
          if (!(await stream(actors, bytes, step, onSlice))) break;
        }
        leg.wholeBytes += bytes;
        leg.wholeFiles += 1;
      }
      tell('copying', actors, true);
      leg.copySeconds = now() - began;
      const requests = step.to.map((end) => ends[end]!.standIn.model.requestSeconds.write);
      leg.flushSeconds = 2 * Math.max(...requests) + FLUSH_SECONDS;
      meet(now() + leg.flushSeconds);
      if (step.verify === 'read-back' && !control.signal.aborted) await readBack(step, leg, emit, control, tell);
    } finally {
      if (leg.copySeconds === 0) leg.copySeconds = now() - began;
      emit({ type: 'copy-leg', leg });
    }
    return {
      ...NOTHING_MOVED,
      bytes: leg.wholeBytes,
      transferSeconds: leg.copySeconds,
      flushSeconds: leg.flushSeconds,
    };
  }

  async function readBack(
    step: CopyStep,
    leg: CopyLeg,
    emit: Emit,
    control: StepControl,
    tell: (stage: 'verifying', all: readonly Actor[], isLast?: boolean) => void,
  ): Promise<void> {
    const from = now();
    const readers = step.to.map((end): Actor => ({
      ...memberOf(end),
      end,
      direction: 'read',
      bytes: 0,
      waitedSeconds: 0,
    }));
    tell('verifying', readers, true);
    const isDone = await stream(readers, leg.wholeBytes, step, async () => {
      tell('verifying', readers);
      await tick(emit, control);
      return !control.signal.aborted;
    });
    tell('verifying', readers, true);
    leg.verifySeconds = now() - from;
    if (!isDone) return;
    for (const { end, faulty } of readers) {
      const [wrong] = faulty.mismatches(0, leg.wholeBytes, step.leg, leg.wholeBytes);
      leg.checkedFiles += leg.wholeFiles - (wrong ? 1 : 0);
      if (!wrong) continue;
      leg.differingFiles += 1;
      const path = `n-${fileAt(wrong.fileOffset)}.bin`;
      emit({ type: 'copy-note', note: { leg: step.leg, kind: 'differs', end, path, detail: DIFFERS_DETAIL } });
    }
  }

  /** Number of the file that holds a byte of all files in their order. */
  function fileAt(byte: number): number {
    let end = 0;
    return Math.max(
      0,
      sizes.findIndex((size) => byte < (end += size)),
    );
  }

  async function rest({ seconds, note }: RestStep, emit: Emit, control: StepControl): Promise<void> {
    const at = now();
    while (now() < at + seconds && !control.signal.aborted) {
      meet(Math.min(at + seconds, now() + 1));
      await tick(emit, control);
    }
    emit(momentEvent('rest', at, now() - at, note));
  }

  const { model } = ends[0]!.standIn;
  return {
    ioMode: 'simulated',
    execute: executor({
      // On a stand-in the files are there already: making them would only wear out what is not there.
      'make-payload': (step) => {
        sizes = step.sizes;
      },
      copy,
      rest,
    }),
    freeBytes: () => Promise.resolve(model.freeBytes),
    changedConnection: () => Promise.resolve(null),
    close: () => Promise.resolve(),
  };
}
