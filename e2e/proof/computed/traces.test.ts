import { describe, expect, it } from 'vitest';
import { TRACE_KINDS, madeTrace, type TraceKind } from '#core/testing/made-traces.ts';
import { figuresOf } from '#core/4-runs/trace/figures.ts';
import { readTrace } from '#core/4-runs/trace/reading.ts';
import { simulateRun } from '#engine/run/simulate.ts';
import { extent } from '../extent.ts';

/** A thousand seeds, in short fewer, of each kind of trace, and of stand-ins, against their known truth. */
const SEEDS = extent(1000, 400);
/** Whole runs of stand-ins take longer. */
const RUNS = extent(250, 50);

/** Share that has to be right; what may be off is what the noise leaves open. */
const LEAST: Partial<Record<TraceKind, number>> = {
  steady: 0.995,
  slope: 0.99,
  'heat-saw': 0.99,
  'high-sawtooth': 0.94,
};

describe('reading made traces', () => {
  it.each(TRACE_KINDS)('%s', (kind) => {
    let [right, levels, judged] = [0, 0, 0];
    for (let seed = 1; seed <= SEEDS; seed += 1) {
      const made = madeTrace(kind, seed);
      const reading = readTrace(made.progress)!;
      if (made.kneeBytes === null) {
        if (reading.kneeBytes === null) right += 1;
        continue;
      }
      if (reading.kneeBytes === null) continue;
      const slack = Math.max(0.02 * made.kneeBytes, 1.5 * made.sampleBytes);
      if (Math.abs(reading.kneeBytes - made.kneeBytes) <= slack) right += 1;
      // A floor under a minute is the lowest level that lasts, which need not be the last.
      if (kind === 'two-steps' || kind.endsWith('sawtooth')) continue;
      judged += 1;
      const samples = reading.floorSeconds / (made.progress.seconds[1]! - made.progress.seconds[0]!);
      // Correlated samples say less each: (1 + ρ)/(1 − ρ) = 4 for ρ = 0.6.
      const tolerance = Math.max(0.03, (3 * made.noise * (kind === 'correlated' ? 2 : 1)) / Math.sqrt(samples));
      if (Math.abs(reading.floorBytesPerSecond! / made.floorBytesPerSecond - 1) <= tolerance) levels += 1;
    }
    expect(right / SEEDS).toBeGreaterThanOrEqual(LEAST[kind] ?? 0.98);
    if (judged > 0) expect(levels / judged).toBeGreaterThan(0.98);
  });
});

describe('filling stand-ins', () => {
  it.each([
    ['petrel-2t', 190e9, 1450e6],
    ['cormorant-x2', 120e9, 400e6],
    ['skerry-512', (0.28 * 148e9) / 1.28, 310e6],
    ['limpet-1t', 46e9, 0.36 * 640e6 + 0.64 * 90e6],
  ] as const)(`%s: knee and floor on ${RUNS} seeds`, async (standIn, knee, floor) => {
    let right = 0;
    for (let seed = 1; seed <= RUNS; seed += 1) {
      const run = await simulateRun({ standIn, recipeId: 'long-fill', seed });
      const { kneeBytes, floorBytesPerSecond } = figuresOf(run).write!.reading!;
      const kneeRight = kneeBytes !== null && Math.abs(kneeBytes / knee - 1) < 0.02;
      if (kneeRight && Math.abs(floorBytesPerSecond! / floor - 1) < 0.05) right += 1;
    }
    expect(right / RUNS).toBeGreaterThanOrEqual(0.98);
  });
});
