import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TRACE_KINDS, madeTrace, type TraceKind } from '#core/testing/made-traces.ts';
import { readTrace, type TraceReading } from '#core/4-runs/trace/reading.ts';

type Step = readonly [seconds: number, bytesPerSecond: number];

/** A trace of steps: so many seconds at each rate, sampled ten times a second. */
function stepsOf(...steps: readonly Step[]) {
  const progress = { seconds: [0], bytes: [0] };
  let [clock, moved] = [0, 0];
  for (const [seconds, rate] of steps) {
    for (let sample = 0; sample < Math.round(seconds * 10); sample += 1) {
      clock += 0.1;
      moved += rate / 10;
      progress.seconds.push(clock);
      progress.bytes.push(moved);
    }
  }
  return progress;
}

const read = (...steps: Step[]): TraceReading => readTrace(stepsOf(...steps))!;

describe('the knee', () => {
  it('of a clean fall is at its very byte, with both levels', () => {
    const reading = read([30, 1000e6], [120, 300e6]);
    expect(reading).toMatchObject({ kneeSpreadBytes: null, sawtooth: null, slope: null, throttling: false });
    expect(reading.kneeBytes! / 30e9).toBeCloseTo(1, 6);
    expect(reading.kneeSeconds).toBeCloseTo(30, 6);
    expect(reading.openingBytesPerSecond! / 1e9).toBeCloseTo(1, 6);
    expect(reading.floorBytesPerSecond! / 300e6).toBeCloseTo(1, 6);
    expect(reading.levels.map((level) => Math.round(level.bytesPerSecond / 1e6))).toEqual([1000, 300]);
  });

  it('is none where the rate stays above three quarters, or comes back', () => {
    expect(read([30, 1000e6], [120, 800e6]).kneeBytes).toBeNull();
    expect(read([30, 1000e6], [10, 300e6], [60, 1000e6]).kneeBytes).toBeNull();
    expect(read([120, 500e6]).kneeBytes).toBeNull();
  });

  it('is the first of two falls, and the floor the lower of them that lasts', () => {
    const reading = read([30, 1000e6], [70, 500e6], [90, 100e6]);
    expect(reading.kneeBytes! / 30e9).toBeCloseTo(1, 4);
    expect(reading.floorBytesPerSecond! / 100e6).toBeCloseTo(1, 4);
  });

  it('sets a slow ramp at the start apart', () => {
    const reading = read([2, 400e6], [30, 1000e6], [100, 250e6]);
    expect(reading.openingBytesPerSecond! / 1e9).toBeCloseTo(1, 2);
    expect(reading.kneeBytes! / 30.8e9).toBeCloseTo(1, 3);
  });

  it('of a fall in several steps is told from–to', () => {
    const reading = read([30, 1000e6], [6, 860e6], [6, 700e6], [100, 300e6]);
    expect(reading.kneeSpreadBytes).not.toBeNull();
    const [from, to] = reading.kneeSpreadBytes!;
    expect(from).toBeGreaterThan(29e9);
    expect(to).toBeLessThan(41e9);
    expect(to).toBeGreaterThan(from);
  });

  it('is not found by single dips', () => {
    const dipped = stepsOf([20, 1000e6], [0.3, 100e6], [20, 1000e6], [0.3, 100e6], [60, 1000e6]);
    expect(readTrace(dipped)).toMatchObject({ kneeBytes: null });
  });
});

it('throttling again and again is no knee, and is called so', () => {
  const cycles = Array.from({ length: 8 }, () => [
    [20, 1000e6],
    [8, 400e6],
  ]).flat() as [number, number][];
  expect(read(...cycles)).toMatchObject({ kneeBytes: null, throttling: true });
});

it('a rate that falls steadily is a slope with two ends', () => {
  const seconds = 300;
  const progress = { seconds: [0], bytes: [0] };
  for (let sample = 1; sample <= seconds * 10; sample += 1) {
    progress.seconds.push(sample / 10);
    progress.bytes.push(progress.bytes.at(-1)! + (260e6 - (140e6 * sample) / (seconds * 10)) / 10);
  }
  const reading = readTrace(progress)!;
  expect(reading).toMatchObject({ kneeBytes: null, openingBytesPerSecond: null, floorBytesPerSecond: null });
  expect(reading.slope!.startBytesPerSecond / 260e6).toBeCloseTo(1, 1);
  expect(reading.slope!.endBytesPerSecond / 120e6).toBeCloseTo(1, 1);
});

it('a trace too short to have levels has none', () => {
  expect(readTrace({ seconds: [0, 1, 2], bytes: [0, 5, 9] })).toBeNull();
  expect(readTrace({ seconds: [0], bytes: [0] })).toBeNull();
});

describe('on made traces of known truth', () => {
  const SEEDS = 40;
  const isRight = (kind: TraceKind, seed: number): boolean => {
    const made = madeTrace(kind, seed);
    const reading = readTrace(made.progress)!;
    if (made.kneeBytes === null) return reading.kneeBytes === null;
    const slack = Math.max(0.02 * made.kneeBytes, 1.5 * made.sampleBytes);
    return reading.kneeBytes !== null && Math.abs(reading.kneeBytes - made.kneeBytes) <= slack;
  };
  it.each(TRACE_KINDS)('%s', (kind) => {
    const wrong = Array.from({ length: SEEDS }, (_, index) => index + 1).filter((seed) => !isRight(kind, seed));
    // The proof looks at a thousand of each; here one in forty may be off.
    expect(wrong.length, `seeds ${wrong.join(', ')}`).toBeLessThanOrEqual(1);
  });
});

it('does not depend on the unit of bytes or of time', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 500 }), fc.double({ min: 0.1, max: 20, noNaN: true }), (seed, factor) => {
      const { progress } = madeTrace('drop', seed);
      const plain = readTrace(progress)!;
      const scaled = readTrace({ ...progress, bytes: progress.bytes.map((bytes) => bytes * factor) })!;
      expect(scaled.kneeBytes! / plain.kneeBytes!).toBeCloseTo(factor, 5);
      expect(scaled.floorBytesPerSecond! / plain.floorBytesPerSecond!).toBeCloseTo(factor, 5);
    }),
    { numRuns: 20 },
  );
});
