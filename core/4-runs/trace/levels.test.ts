import { describe, expect, it } from 'vitest';
import { progressOf } from '#core/testing/curves.ts';
import { levelsOf, stepsOf } from '#core/4-runs/trace/levels.ts';
import { bytesAt, progressBytes, type Progress } from '#core/1-ground/curves/progress.ts';
import { thinned } from '#core/4-runs/trace/thinned.ts';
import { randomFrom } from '#core/1-ground/random.ts';

const MB = 1e6;
const sampled = (...pieces: [seconds: number, rate: number][]): Progress =>
  progressOf(
    ...pieces.flatMap(([took, rate]) => Array<[number, number]>(Math.round(took * 10)).fill([0.1, rate * MB])),
  );
const levels = (trace: Progress, levelEnds: number[] = [], more = {}) =>
  levelsOf(stepsOf(trace), { levelEnds, slopes: false, swing: null, ...more });

describe('levels by bytes', () => {
  it('are those of a plain drive, to the byte', () => {
    const found = levels(sampled([50, 1000], [200, 200]), [50e9, 90e9]);
    expect(found.toBytes).toEqual([expect.closeTo(50e9, -3), expect.closeTo(90e9, -3)]);
    expect(found.bytesPerSecond).toEqual([expect.closeTo(1000 * MB, -2), expect.closeTo(200 * MB, -2)]);
  });

  it('part the sample in which the level changes by its time', () => {
    // The knee lies 0.04 s into a sample.
    const trace = sampled([10, 1000]);
    trace.seconds.push(10.1);
    trace.bytes.push(10e9 + 0.04 * 1000 * MB + 0.06 * 200 * MB);
    for (let tenth = 1; tenth <= 200; tenth += 1) {
      trace.seconds.push(10.1 + tenth / 10);
      trace.bytes.push(trace.bytes.at(-1)! + 20 * MB);
    }
    expect(levels(trace, [10.05e9]).toBytes[0]! / 1e9).toBeCloseTo(10.04, 3);
  });

  it('leave out what is too short to be one, on the side that is quicker', () => {
    const stalled = levels(sampled([10, 1000], [2, 0], [30, 1000]), [10e9, 10e9, 40e9]);
    expect(stalled.bytesPerSecond).toEqual([expect.closeTo(1000 * MB, -2)]);
    const dipped = levels(sampled([20, 1000], [8, 100], [20, 1000]), [20e9, 20.8e9, 40.8e9]);
    expect(dipped.bytesPerSecond).toHaveLength(1);
    // Half a minute at a third is one, and what comes at the end and goes on may be.
    expect(levels(sampled([20, 1000], [30, 300], [20, 1000]), [20e9, 29e9, 49e9]).toBytes).toHaveLength(3);
    expect(levels(sampled([20, 1000], [8, 300]), [20e9, 22.4e9]).toBytes).toHaveLength(2);
    // A slow beginning is none.
    expect(levels(sampled([6, 100], [40, 1000]), [0.6e9, 40.6e9]).bytesPerSecond).toHaveLength(1);
  });

  it('of a slope are many pieces, of a floor that swings its mean', () => {
    const slope = progressOf(
      ...Array.from({ length: 2000 }, (_, one): [number, number] => [0.1, (250 - one / 20) * MB]),
    );
    const pieces = levels(slope, [], { slopes: true }).bytesPerSecond;
    expect(pieces.length).toBeGreaterThan(35);
    expect(pieces.every((rate, index) => index === 0 || rate < pieces[index - 1]!)).toBe(true);
    const swinging = sampled(
      [20, 1000],
      ...Array<[number, number][]>(12)
        .fill([
          [4, 300],
          [6, 100],
        ])
        .flat(),
    );
    const found = levels(swinging, [20e9, progressBytes(swinging)], {
      swing: { fromBytes: 20e9, bytesPerSecond: 180 * MB, lowBytesPerSecond: 100 * MB },
    });
    expect(found.bytesPerSecond[1]).toBe(180 * MB);
  });
});

describe('a thinned trace', () => {
  it('is nowhere off by more than its tolerance, and keeps stops and what it is told to', () => {
    const random = randomFrom(3);
    const pieces = Array.from({ length: 3000 }, (_, one): [number, number] => [
      0.1,
      one % 400 < 15 ? 0 : (500 + 60 * random()) * MB,
    ]);
    const trace = progressOf(...pieces);
    const thin = thinned(trace, 0.02, 4000, [70e9]);
    expect(thin.seconds.length).toBeLessThan(400);
    expect(progressBytes(thin)).toBe(progressBytes(trace));
    // As fast as it goes, 0.02 s are 11.2 MB.
    for (const second of trace.seconds) {
      expect(Math.abs(bytesAt(thin, second) - bytesAt(trace, second))).toBeLessThan(0.021 * 560 * MB);
    }
    expect(thin.bytes).toContain(trace.bytes.find((one) => one >= 70e9));
  });

  it('has no more points than it may, of a line without noise too', () => {
    // The rate falls smoothly, so that every point is a corner.
    let bytes = 0;
    const falling: Progress = { seconds: [0], bytes: [0] };
    for (let row = 1; row <= 2100; row += 1) {
      bytes += Math.sqrt(250 ** 2 - ((250 ** 2 - 125 ** 2) * row) / 2100) * MB;
      falling.seconds.push(row);
      falling.bytes.push(bytes);
    }
    expect(thinned(falling, 0.02, 1000).seconds.length).toBeLessThanOrEqual(1000);
    expect(thinned(falling, 0.02, 40).seconds.length).toBeLessThanOrEqual(40);
  });
});
