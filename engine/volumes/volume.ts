import type { Connection } from '#core/links/connection.ts';
import type { Direction, Identity, IoMode, Medium, PassPhase } from '#core/run/run-document.ts';
import type { Emit } from '#core/run/run-events.ts';

/** What is known of a mounted place before anything is measured on it. */
export interface VolumeInfo {
  /** Stable while it stays mounted where it is; used in URLs. */
  id: string;
  kind: 'real' | 'stand-in';
  label: string;
  /** Empty for stand-ins. */
  mountPoint: string;
  filesystem: string;
  totalBytes: number;
  freeBytes: number;
  readOnly: boolean;
  medium: Medium;
  connection: Connection;
  identity: Identity;
  /** Name of the drive behind it, as the system or the stand-in tells. */
  driveLabel: string;
  /** Key under which one run at a time is allowed: volumes on one physical device share it. */
  deviceKey: string;
  /** One sentence on what the place is for; stand-ins only. */
  description: string;
  /** Known bytes of fast cache; null when not known. */
  knownCacheBytes: number | null;
  discardSupported: boolean | null;
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

/** Free space that is never used: the larger of 2 GB and 2 % of the free bytes. */
export function reserveBytes(freeBytes: number): number {
  return Math.max(2e9, 0.02 * freeBytes);
}
