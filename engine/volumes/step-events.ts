import type { CopyStage } from '#core/4-runs/run/copy-record.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { FileColumns, FrameColumns, PassPhase } from '#core/4-runs/run/run-document.ts';
import type { RunEvent } from '#core/4-runs/run/run-events.ts';

/** Events about one step, made alike by real volumes and stand-ins. Times in seconds since the run began. */

/** What a sample belongs to. */
export interface StepPart {
  direction: Direction;
  pass: number;
  rung?: number;
}

/** The moment at which a pass begins. */
export function passEvent({ direction, pass }: StepPart, phase: PassPhase, atSeconds: number): RunEvent {
  return { type: 'marker', marker: { kind: 'pass', atSeconds, seconds: 0, direction, pass, phase, note: '' } };
}

export function flushEvent({ direction, pass }: StepPart, atSeconds: number, seconds: number): RunEvent {
  return { type: 'marker', marker: { kind: 'flush', atSeconds, seconds, direction, pass, phase: null, note: '' } };
}

/** Something that lasted and belongs to no pass: a rest, a pause, a sleep, skipped files, what was left, a clock that was set. */
export function momentEvent(
  kind: 'pause' | 'rest' | 'sleep' | 'skipped' | 'left-behind' | 'clock-set',
  atSeconds: number,
  seconds: number,
  note: string,
): RunEvent {
  return { type: 'marker', marker: { kind, atSeconds, seconds, direction: null, pass: null, phase: null, note } };
}

export interface SampleRow {
  atSeconds: number;
  /** Bytes moved in the step's direction since the run began. */
  cumulativeBytes: number;
  file: number;
  operations: number;
  latencyMaxSeconds: number;
}

export function sampleEvent({ direction, pass }: StepPart, row: SampleRow): RunEvent {
  return {
    type: 'samples',
    samples: {
      atSeconds: [row.atSeconds],
      cumulativeBytes: [row.cumulativeBytes],
      direction: [direction],
      pass: [pass],
      file: [row.file],
      operations: [row.operations],
      latencyMaxSeconds: [row.latencyMaxSeconds],
    },
  };
}

/** Requests per latency bucket; null when there were none. `counts` holds a number for each bucket. */
export function latencyEvent(
  { direction, pass, rung = 0 }: StepPart,
  atSeconds: number,
  counts: readonly number[],
): RunEvent | null {
  const buckets = counts.flatMap((count, bucket) => (count > 0 ? [bucket] : []));
  if (buckets.length === 0) return null;
  return {
    type: 'latency',
    latency: {
      atSeconds: [atSeconds],
      direction: [direction],
      pass: [pass],
      rung: [rung],
      buckets: [buckets],
      counts: [buckets.map((bucket) => counts[bucket]!)],
    },
  };
}

export function framesEvent(frames: FrameColumns): RunEvent | null {
  return frames.dueSeconds.length > 0 ? { type: 'frames', frames } : null;
}

export function filesEvent(files: FileColumns): RunEvent | null {
  return files.atSeconds.length > 0 ? { type: 'files', files } : null;
}

/** How far the ends of a copy are. Bytes and waiting since the stage of this leg began. */
export function copyRowsEvent(
  leg: number,
  stage: CopyStage,
  atSeconds: number,
  ends: readonly { end: number; bytes: number; waitedSeconds: number }[],
): RunEvent {
  return {
    type: 'copy-rows',
    rows: {
      atSeconds: ends.map(() => atSeconds),
      leg: ends.map(() => leg),
      stage: ends.map(() => stage),
      end: ends.map(({ end }) => end),
      bytes: ends.map(({ bytes }) => bytes),
      waitedSeconds: ends.map(({ waitedSeconds }) => waitedSeconds),
    },
  };
}
