import type { VolumeEntry } from '#core/api/wire.ts';
import type { Direction, IoMode, PassPhase } from '#core/run/run-document.ts';
import type { Emit } from '#core/run/run-events.ts';

/** What is known of a mounted place before anything is measured on it. */
export interface VolumeInfo extends Omit<VolumeEntry, 'driveId'> {
  /** Key under which one run at a time is allowed: volumes on one physical device share it. */
  deviceKey: string;
}

/** A continuous transfer within the session's scratch space. */
export interface TransferStep {
  kind: 'transfer';
  direction: Direction;
  phase: PassPhase;
  pass: number;
  fromByte: number;
  /** Multiple of `blockBytes`. */
  bytes: number;
  /** A power of two from 4 KiB to 16 MiB. */
  blockBytes: number;
  /** Requests outstanding at any time, 1 to 32. */
  depth: number;
  /** Ends the transfer this long after its first request completed; null for all its bytes. */
  untilSeconds: number | null;
  /** Flush to the drive at the end, counted in the time of the pass. */
  flush: boolean;
  /** Compare what is read with what was written. */
  verify: boolean;
  sampleSeconds: number;
}

/** Sets the size of the scratch space, so that the passes do not also measure its growing. */
export interface AllotStep {
  kind: 'allot';
  bytes: number;
}

export type PlanStep = TransferStep | AllotStep;

export interface StepOutcome {
  bytes: number;
  transferSeconds: number;
  flushSeconds: number;
  /** Seconds until the first request completed; long when a drive had to spin up. */
  firstSeconds: number;
}

/** A recipe's plan: steps, each composed with the outcome of the one before. */
export type Plan = Generator<PlanStep, void, StepOutcome>;

/**
 * Scratch space on a volume and the means to move bytes in it. `execute` carries out one step,
 * tells of it through `emit` and stops early when the signal aborts; it throws a Problem when
 * the drive fails. `close` removes the scratch space.
 */
export interface Session {
  readonly ioMode: IoMode;
  /** Largest number of bytes that may be allotted now: free space less the reserve. */
  readonly roomBytes: number;
  execute(step: PlanStep, emit: Emit, signal: AbortSignal): Promise<StepOutcome>;
  freeBytes(): Promise<number>;
  close(): Promise<void>;
}

export interface SessionRequest {
  runId: string;
  /** Folder on a real volume in which the scratch folder is made; ignored by stand-ins. */
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
  openSession(request: SessionRequest): Promise<Session>;
}
