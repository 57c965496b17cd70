import type { LostCurve } from '#core/4-runs/trace/lost-time.ts';
import fc from 'fast-check';
import { ONE_TAKE, type Demand } from '#core/3-jobs/demand/demand.ts';
import { runOfTrace } from '#core/4-runs/supply/bare-trace.ts';
import { evidenceOf, type Evidence } from '#core/4-runs/supply/evidence.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';
import { curveBytes, curveOf, type SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';

/** Progress curves, evidence and demands with known truth. For tests. */

export const MB = 1e6;

/** A curve from pieces of (seconds, bytes per second). */
export function progressOf(...pieces: [number, number][]): Progress {
  const progress: Progress = { seconds: [0], bytes: [0] };
  for (const [seconds, rate] of pieces) {
    progress.seconds.push(progress.seconds.at(-1)! + seconds);
    progress.bytes.push(progress.bytes.at(-1)! + seconds * rate);
  }
  return progress;
}

export const curveFrom = (...pieces: [number, number][]): SupplyCurve => curveOf(progressOf(...pieces));
export const steady = (seconds: number, rate: number): SupplyCurve => curveFrom([seconds, rate]);

/** Evidence of writing at these curves, trusted both ways. */
export function evidenceFrom(curves: SupplyCurve[], more: Partial<Evidence> = {}): Evidence {
  const rate = curveBytes(curves[0]!) / curves[0]!.seconds.at(-1)!;
  const provenBytes = Math.max(...curves.map(curveBytes));
  return {
    runId: 'run-1',
    direction: 'write',
    medium: 'flash',
    curves,
    parted: null,
    provenBytes,
    continuedBytes: provenBytes,
    // Every piece of a made curve is a level.
    levelEnds: curves[0]!.bytes.slice(1),
    kneeBytes: null,
    swingsFrom: null,
    recovery: [],
    mayProveHolds: true,
    mayProveBreaks: true,
    doubts: [],
    medianBytesPerSecond: rate,
    span: { worstSecondBytesPerSecond: rate, floorBytesPerSecond: rate, openingBytesPerSecond: rate },
    ...more,
  };
}

/** Evidence of a trace as it is read, judged and continued like that of any run. */
export function evidenceOfTrace(trace: Progress, more: Partial<Evidence> = {}): Evidence {
  const run = runOfTrace(trace, more.direction ?? 'write');
  return { ...evidenceOf(run, more.direction ?? 'write')!, ...more };
}

/** Samples of a trace, a tenth of a second each, from pieces of (seconds, MB/s). */
export function samplesOf(...pieces: [seconds: number, megabytesPerSecond: number][]): Progress {
  return progressOf(
    ...pieces.flatMap(([took, rate]) => Array<[number, number]>(Math.round(took * 10)).fill([0.1, rate * MB])),
  );
}

export const supplyFrom = (traces: Evidence[], more: Partial<Supply> = {}): Supply => ({
  medium: 'flash',
  traces,
  paced: [],
  random: [],
  isPromise: false,
  bothWaysBytesPerSecond: null,
  requests: { rungs: [], operationSeconds: null, ceilingBytesPerSecond: null },
  ...more,
});

/** Three cameras that record 547 MB/s for ten seconds with a second of buffer. */
export function demandFrom(more: Partial<Demand> = {}): Demand {
  const bytesPerSecond = more.bytesPerSecond ?? 547 * MB;
  const peakBytesPerSecond = more.peakBytesPerSecond ?? bytesPerSecond;
  return {
    itemId: 'item',
    name: 'Three cameras',
    direction: 'write',
    act: 'record',
    bytesPerSecond,
    peakBytesPerSecond,
    burstBytes: peakBytesPerSecond - bytesPerSecond,
    curve: null,
    framesPerSecond: 25,
    bytesPerFrame: bytesPerSecond / 75,
    streams: 3,
    isSum: false,
    parts: [],
    takeSeconds: 10,
    ...ONE_TAKE,
    bufferBytes: bytesPerSecond,
    formatText: '3840×2160 VC-3 444 at 25',
    ...more,
  };
}

const rates = fc.oneof(fc.double({ min: 0, max: 900, noNaN: true }), fc.constant(0));

export const anyProgress = (mostPieces = 30): fc.Arbitrary<Progress> =>
  fc
    .array(fc.tuple(fc.double({ min: 0.01, max: 5, noNaN: true }), rates), { minLength: 1, maxLength: mostPieces })
    .map((pieces) => progressOf(...pieces));

export const anyBuffer = fc.double({ min: 1, max: 2000, noNaN: true });

/** A curve of lost time from pieces of (seconds, share lost), a moment each tenth of a second. */
export function lostBy(...pieces: [seconds: number, share: number][]): LostCurve {
  const [seconds, lost] = [[0], [0]];
  for (const [took, share] of pieces) {
    for (let tenth = 0; tenth < Math.round(took * 10); tenth += 1) {
      seconds.push(seconds.at(-1)! + 0.1);
      lost.push(lost.at(-1)! + 0.1 * share);
    }
  }
  return { seconds: Float64Array.from(seconds), lost: Float64Array.from(lost) };
}
