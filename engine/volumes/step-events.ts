import type { RunEvent } from '#core/run/run-events.ts';
import type { TransferStep } from '#engine/volumes/volume.ts';

/** Events about one step, made alike by real volumes and stand-ins. Times in seconds since the run began. */

/** The moment at which a pass begins. */
export function passEvent({ direction, pass, phase }: TransferStep, atSeconds: number): RunEvent {
  return { type: 'marker', marker: { kind: 'pass', atSeconds, seconds: 0, direction, pass, phase, note: '' } };
}

export function flushEvent({ direction, pass }: TransferStep, atSeconds: number, seconds: number): RunEvent {
  return { type: 'marker', marker: { kind: 'flush', atSeconds, seconds, direction, pass, phase: null, note: '' } };
}

export interface SampleRow {
  atSeconds: number;
  /** Bytes moved in the step's direction since the run began. */
  cumulativeBytes: number;
  file: number;
  operations: number;
  latencyMaxSeconds: number;
}

export function sampleEvent({ direction, pass }: TransferStep, row: SampleRow): RunEvent {
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
  { direction, pass }: TransferStep,
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
      rung: [0],
      buckets: [buckets],
      counts: [buckets.map((bucket) => counts[bucket]!)],
    },
  };
}
