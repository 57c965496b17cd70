import type { Direction } from '#core/1-ground/curves/direction.ts';
import { type Medium } from '#core/2-trade/drives/medium.ts';
import {
  emptyConditions,
  emptyFiles,
  emptyFrames,
  emptyLatency,
  emptySamples,
  type PassPhase,
  type RunDocument,
} from '#core/4-runs/run/run-document.ts';

/** One transfer of a made-up run. */
export interface MadePass {
  direction: Direction;
  phase?: PassPhase;
  /** Bytes per second from each look to the next. */
  rates: number[];
  /** From look to look; a second where not said. */
  sampleSeconds?: number;
  flushSeconds?: number;
}

/** A run document with exactly these transfers, one after the other. For tests. */
export function runOf(passes: readonly MadePass[], medium: Medium = 'flash'): RunDocument {
  const run = emptyRun(medium);
  const moved = { write: 0, read: 0 };
  let clock = 0;
  let number = 0;
  for (const { direction, phase, rates, sampleSeconds = 1, flushSeconds = 0 } of passes) {
    if (direction === 'write' && phase !== 'sizing') number += 1;
    const pass = phase === 'sizing' ? 0 : Math.max(1, number);
    const row = (bytes: number, operations: number) => {
      const { samples } = run;
      samples.atSeconds.push(clock);
      samples.cumulativeBytes.push(bytes);
      samples.direction.push(direction);
      samples.pass.push(pass);
      samples.file.push(0);
      samples.operations.push(operations);
      samples.latencyMaxSeconds.push(operations > 0 ? 0.02 : 0);
    };
    const marker = { direction, pass, note: '' };
    run.markers.push({
      ...marker,
      kind: 'pass',
      atSeconds: clock,
      seconds: 0,
      phase: phase ?? (direction === 'read' ? 'reading' : 'overwriting'),
    });
    row(moved[direction], 0);
    for (const rate of rates) {
      clock += sampleSeconds;
      moved[direction] += rate * sampleSeconds;
      row(moved[direction], rate > 0 ? 100 : 0);
    }
    const ownBytes = sampleSeconds * rates.reduce((sum, rate) => sum + rate, 0);
    run.conditions.bypass.push({ pass, direction, ownBytes, deviceBytes: ownBytes, deviceBytesAfterFlush: ownBytes });
    if (flushSeconds > 0) {
      run.markers.push({ ...marker, kind: 'flush', atSeconds: clock, seconds: flushSeconds, phase: null });
      clock += flushSeconds;
    }
  }
  return run;
}

function emptyRun(medium: Medium): RunDocument {
  return {
    tavrox: 'run/1',
    id: 'made-up',
    recipe: 'short-passes',
    options: {},
    state: 'finished',
    startedAt: '2026-03-02T09:00:00.000Z',
    endedAt: '2026-03-02T09:01:00.000Z',
    note: '',
    tags: [],
    leftOut: false,
    example: false,
    drive: { id: 'd', label: 'Made up', medium, identity: { kind: 'serial', value: 'X' } },
    volume: {
      id: 'v',
      kind: 'real',
      label: 'v',
      mountPoint: '/v',
      filesystem: 'ext4',
      totalBytes: 1e12,
      freeBytes: 6e11,
    },
    connection: { hops: [] },
    conditions: {
      ...emptyConditions({ freeBytes: 6e11, totalBytes: 1e12 }),
      software: { version: '0', platform: 'test', host: 'test' },
    },
    samples: emptySamples(),
    latency: emptyLatency(),
    markers: [],
    frames: emptyFrames(),
    files: emptyFiles(),
    copy: null,
    loudness: null,
    failure: null,
  };
}
