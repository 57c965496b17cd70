import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { emptyConditions, emptyFiles, emptyFrames, emptyLatency, emptySamples } from '#core/4-runs/run/run-document.ts';
import { progressBytes, type Progress } from '#core/1-ground/curves/progress.ts';
import { finelySampled } from '#core/1-ground/curves/trace-csv.ts';

/**
 * A trace without anything known about it, as the run that it would have been: one transfer, no
 * conditions. So it is read, doubted and judged like every other. Times and bytes are kept as they are.
 */
export function runOfTrace(trace: Progress, direction: Direction): RunDocument {
  const { seconds, bytes } = finelySampled(trace);
  const samples = emptySamples();
  seconds.forEach((second, row) => {
    samples.atSeconds.push(second);
    samples.cumulativeBytes.push(bytes[row]!);
    samples.direction.push(direction);
    samples.pass.push(1);
    samples.file.push(0);
    samples.operations.push(row === 0 || bytes[row] === bytes[row - 1] ? 0 : 16);
    samples.latencyMaxSeconds.push(0);
  });
  const room = { freeBytes: 2 * progressBytes(trace), totalBytes: 3 * progressBytes(trace) };
  return {
    tavrox: 'run/1',
    id: 'trace',
    recipe: 'long-fill',
    options: {},
    state: 'finished',
    startedAt: '1970-01-01T00:00:00.000Z',
    endedAt: '1970-01-01T00:00:00.000Z',
    note: '',
    tags: [],
    leftOut: false,
    example: false,
    drive: { id: 'trace', label: 'Trace', medium: 'unknown', identity: { kind: 'mount', value: 'trace' } },
    volume: {
      id: 'trace',
      kind: 'real',
      label: 'trace',
      mountPoint: '',
      filesystem: 'unknown',
      ...room,
    },
    connection: { hops: [] },
    conditions: emptyConditions(room),
    samples,
    latency: emptyLatency(),
    markers: [
      {
        kind: 'pass',
        atSeconds: 0,
        seconds: 0,
        direction,
        pass: 1,
        phase: direction === 'read' ? 'reading' : 'allocating',
        note: '',
      },
    ],
    frames: emptyFrames(),
    files: emptyFiles(),
    copy: null,
    loudness: null,
    failure: null,
  };
}
