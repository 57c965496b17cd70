import type { VolumeEntry } from '#core/6-exchange/api/wire.ts';
import type { Connection } from '#core/2-trade/links/connection.ts';
import type { AccessOrder } from '#core/3-jobs/recipes/block-ladder.ts';
import type { VerifyWay } from '#core/3-jobs/recipes/copy.ts';
import type { DataKind } from '#core/3-jobs/recipes/option-fields.ts';
import type { FrameStream } from '#core/2-trade/media/frame-stream.ts';
import type { DriveHealth } from '#core/2-trade/drives/health.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { FileAction, IoMode, PassPhase } from '#core/4-runs/run/run-document.ts';
import type { Emit } from '#core/4-runs/run/run-events.ts';

/** What is known of a mounted place before anything is measured on it. */
export interface VolumeInfo extends Omit<VolumeEntry, 'driveId'> {
  /** Key under which one run at a time is allowed: volumes on one physical device share it. */
  deviceKey: string;
  /** What tells the space that it takes its room from: several mounts of one filesystem have one. */
  spaceKey: string;
}

/** A continuous transfer within the session's scratch space, or its existing files. */
export interface TransferStep {
  kind: 'transfer';
  direction: Direction;
  phase: PassPhase;
  pass: number;
  /** Rung of a ladder, 0 where there is none. */
  rung: number;
  fromByte: number;
  /** Multiple of `blockBytes`, except for existing files. */
  bytes: number;
  /** A power of two from 4 KiB to 16 MiB. */
  blockBytes: number;
  /** Requests outstanding at any time, 1 to 32. */
  depth: number;
  order: AccessOrder;
  /** What is written. */
  data: DataKind;
  /** Begins again at `fromByte` when all bytes were moved, until `untilSeconds`. */
  repeat: boolean;
  /** Ends the transfer this long after its first request completed; null for all its bytes. */
  untilSeconds: number | null;
  /** Asked at every sample with the seconds and bytes of the transfer so far; true ends it. */
  stopWhen: ((seconds: number, bytes: number) => boolean) | null;
  /** Flush to the drive at the end, counted in the time of the pass. */
  flush: boolean;
  /** Flush on the way too, so often. */
  flushEverySeconds: number | null;
  /** Moves no faster than this, block by block at its moment; null for as fast as it goes. */
  pacedBytesPerSecond: number | null;
  /** Compare what is read with what was written. */
  verify: boolean;
  sampleSeconds: number;
}

/** Sets the size of the scratch space, so that the passes do not also measure its growing. */
export interface AllotStep {
  kind: 'allot';
  bytes: number;
}

/** Leaves the drive alone, as part of the recipe. */
export interface RestStep {
  kind: 'rest';
  seconds: number;
  /** What the rest is for, kept with its marker. */
  note: string;
}

/** Waits until the processor is quiet, and goes on after this long all the same. */
export interface AwaitQuietStep {
  kind: 'await-quiet';
  mostSeconds: number;
}

/** Opens what is already there for reading, the largest files first; the outcome tells how many bytes. */
export interface UseExistingStep {
  kind: 'use-existing';
  /** Stops looking once this many bytes are found; null for all. */
  mostBytes: number | null;
  /** Opens nothing where there are fewer, and something else can be written. */
  leastBytes: number;
}

/** Frames at their own rate, each with a deadline. Streams are counted through, `count` of each line. */
export interface FramesStep {
  kind: 'frames';
  streams: readonly FrameStream[];
  seconds: number;
  bufferSeconds: number;
  /** Frames of one stream under way at the same time. */
  depth: number;
  sampleSeconds: number;
}

/** One action on many files. All steps of a run name the same sizes. */
export interface ScatterStep {
  kind: 'scatter';
  action: FileAction;
  pass: number;
  /** Bytes of each file. */
  sizes: readonly number[];
  filesPerFolder: number;
  parallel: number;
  flushEach: boolean;
  sampleSeconds: number;
}

/** Makes the files of a payload beside the source of a copy. */
export interface MakePayloadStep {
  kind: 'make-payload';
  /** Bytes of each file. */
  sizes: readonly number[];
}

/** One copy from an end to others; ends are counted from 0, the source. */
export interface CopyStep {
  kind: 'copy';
  /** Number of the copy within the run, from 1. */
  leg: number;
  /** 0, or a target whose copy goes back. */
  from: number;
  to: readonly number[];
  /** What there is to be copied, as far as it is known before. */
  expectedBytes: number;
  blockBytes: number;
  /** Blocks of a file under way at each end at the same time. */
  depth: number;
  parallelFiles: number;
  verify: VerifyWay;
  flushEach: boolean;
  /** What is whole stays in a folder of its own, also when the copy is stopped. */
  keeps: boolean;
  sampleSeconds: number;
}

export type PlanStep =
  | TransferStep
  | AllotStep
  | RestStep
  | AwaitQuietStep
  | UseExistingStep
  | FramesStep
  | ScatterStep
  | MakePayloadStep
  | CopyStep;

export interface StepOutcome {
  bytes: number;
  transferSeconds: number;
  flushSeconds: number;
  /** Seconds until the first request completed; long when a drive had to spin up. */
  firstSeconds: number;
}

export const NOTHING_MOVED: StepOutcome = { bytes: 0, transferSeconds: 0, flushSeconds: 0, firstSeconds: 0 };

/** A recipe's plan: steps, each composed with the outcome of the one before. */
export type Plan = Generator<PlanStep, void, StepOutcome>;

/** How the person holds a run and lets it go on. */
export interface PauseSwitch {
  readonly paused: boolean;
  /** Called with every change; returns what ends the listening. */
  onChange(listener: (paused: boolean) => void): () => void;
}

/** What a step obeys while it is carried out. */
export interface StepControl {
  signal: AbortSignal;
  pause: PauseSwitch;
}

/** Waits until a held run goes on or is stopped. */
export function untilResumed({ signal, pause }: StepControl): Promise<void> {
  return new Promise((resolve) => {
    if (!pause.paused || signal.aborted) return resolve();
    const settle = () => {
      leave();
      signal.removeEventListener('abort', settle);
      resolve();
    };
    const leave = pause.onChange((paused) => !paused && settle());
    signal.addEventListener('abort', settle);
  });
}

/** A switch that the holder of the run turns. */
export function createPauseSwitch(): PauseSwitch & { set(paused: boolean): void } {
  const listeners = new Set<(paused: boolean) => void>();
  let paused = false;
  return {
    get paused() {
      return paused;
    },
    onChange(listener) {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    set(next) {
      if (next === paused) return;
      paused = next;
      for (const listener of [...listeners]) listener(next);
    },
  };
}

/**
 * Scratch space on a volume and the means to move bytes in it. `execute` carries out one step,
 * tells of it through `emit` and stops early when the signal aborts; it throws a Problem when
 * the drive fails. `close` removes the scratch space.
 */
export interface Session {
  readonly ioMode: IoMode;
  execute(step: PlanStep, emit: Emit, control: StepControl): Promise<StepOutcome>;
  freeBytes(): Promise<number>;
  /** The connection now, when it is not what it was at the start; null otherwise. */
  changedConnection(): Promise<Connection | null>;
  /**
   * Ends the session, and tells of what of it could not be removed. Scratch files stay only when they are to be kept
   * and were written whole.
   */
  close(keepScratch: boolean, emit: Emit): Promise<void>;
}

export interface SessionRequest {
  runId: string;
  /** Folder on a real volume in which the scratch folder is made; ignored by stand-ins. */
  folder: string;
  /** The recipe only reads: nothing is made in the folder. */
  readOnly: boolean;
  /** It can do with reading what is there, where nothing may be written. */
  mayOnlyRead: boolean;
  /** The files of the folder are what it is about: what is made goes beside it. */
  readsFolder: boolean;
}

/** A further volume that a run writes to, and the folder on it. */
export interface RunTarget {
  volume: Volume;
  /** Empty for stand-ins. */
  folder: string;
}

/** A mounted place, real or simulated, on which plans are executed. */
export interface Volume {
  readonly info: VolumeInfo;
  /**
   * Checks what can be checked without writing.
   * @throws Problem naming what is wrong with the folder or the volume.
   */
  check(request: SessionRequest): Promise<void>;
  /**
   * Checks what can be checked of the targets of a copy from here without writing.
   * @throws Problem naming what is wrong with one of them
   */
  checkTargets(request: SessionRequest, targets: readonly RunTarget[]): Promise<void>;
  /** Sizes of the files in the folder, ascending, for recipes that take after them; empty for stand-ins. */
  fileSizes(request: SessionRequest, signal?: AbortSignal): Promise<number[]>;
  /** What the drive says of itself; null where it says nothing. */
  health(): Promise<DriveHealth | null>;
  openSession(request: SessionRequest): Promise<Session>;
  /**
   * A session that copies from this volume to others of its own kind.
   * @throws Problem when one of them is of another kind, or cannot be written
   */
  openCopy(request: SessionRequest, targets: readonly RunTarget[]): Promise<Session>;
}
