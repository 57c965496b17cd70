import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linkChoices } from '#core/2-trade/links/link-choices.ts';
import { lostBy, progressOf } from '#core/testing/curves.ts';
import { cappedLevels, levelsAndLossOf, lossBehindCeiling } from '#core/4-runs/trace/levels-and-loss.ts';
import { lostIn, lostTimeOf, tightWindows, type LostCurve } from '#core/4-runs/trace/lost-time.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';

const MB = 1e6;

/** The same, by trying every window between two moments. */
function bruteForce({ seconds, lost }: LostCurve, window: number): number {
  let most = 0;
  for (let from = 0; from < seconds.length; from += 1) {
    for (let to = from; to < seconds.length && seconds[to]! - seconds[from]! <= window + 1e-9; to += 1) {
      most = Math.max(most, lost[to]! - lost[from]!);
    }
  }
  return most;
}

/** Samples of a trace, a tenth of a second each. */
function sampled(...pieces: [seconds: number, rate: number][]): Progress {
  return progressOf(
    ...pieces.flatMap(([took, rate]) => Array<[number, number]>(Math.round(took * 10)).fill([0.1, rate])),
  );
}

describe('the most time lost in a window', () => {
  it('of one stop is the window, and then the stop', () => {
    const lost = lostTimeOf(lostBy([10, 0], [2, 1], [88, 0]));
    for (const [window, seconds] of [
      [0.5, 0.5],
      [1.9, 1.9],
      [2, 2],
      [30, 2],
    ] as const) {
      expect(lostIn(lost, window)).toBeCloseTo(seconds, 2);
    }
  });

  it('of stops that come again adds up, beyond what was looked at too', () => {
    const lost = lostTimeOf(
      lostBy(
        ...Array<[number, number][]>(10)
          .fill([
            [8, 0],
            [2, 1],
          ])
          .flat(),
      ),
    );
    expect(lostIn(lost, 12)).toBeCloseTo(4, 1);
    expect(lostIn(lost, 42)).toBeCloseTo(10, 1);
    // Half of the hundred seconds was looked at: two halves lose twice as much.
    expect(lostIn(lost, 100)).toBeCloseTo(20, 1);
    expect(lostIn(lost, 1000)).toBeGreaterThanOrEqual(200 - 1e-6);
  });

  it('takes a stop that two samples share for one stop', () => {
    // 0.2 s of stop, of which half a sample lies at either end.
    const lost = lostTimeOf(lostBy([5, 0], [0.1, 0.5], [0.1, 1], [0.1, 0.5], [10, 0]));
    expect(lostIn(lost, 0.2)).toBeCloseTo(0.2, 2);
    // What loses as much for long is as deep as it looks.
    expect(lostIn(lostTimeOf(lostBy([5, 0], [2, 0.9], [10, 0])), 1)).toBeCloseTo(0.9, 1);
  });

  it('is never less than that of any window, and hardly more', () => {
    const share = fc.oneof(fc.constant(0), fc.constant(1), fc.double({ min: -0.2, max: 1, noNaN: true }));
    const pieces = fc.array(
      fc.tuple(
        fc.integer({ min: 1, max: 40 }).map((tenths) => tenths / 10),
        share,
      ),
      {
        minLength: 2,
        maxLength: 30,
      },
    );
    fc.assert(
      fc.property(pieces, fc.double({ min: 0.05, max: 0.5, noNaN: true }), (parts, part) => {
        const curve = lostBy(...parts);
        const lost = lostTimeOf(curve);
        const window = part * curve.seconds.at(-1)!;
        const least = bruteForce(curve, window);
        expect(lostIn(lost, window)).toBeGreaterThanOrEqual(Math.min(window, least) - 1e-6);
        // A sample at either end, and windows that grow by 4 %.
        expect(lostIn(lost, window)).toBeLessThanOrEqual(bruteForce(curve, 1.05 * window + 0.2) + 0.25);
      }),
      { numRuns: 200 },
    );
  });

  it('shows the most that waits at its tight windows, or at the end', () => {
    const lost = lostTimeOf(
      lostBy(
        ...Array<[number, number][]>(6)
          .fill([
            [7, 0],
            [1.5, 1],
            [1, 0.4],
          ])
          .flat(),
      ),
    );
    fc.assert(
      fc.property(
        fc.double({ min: 0.05, max: 0.99, noNaN: true }),
        fc.double({ min: 1, max: 90, noNaN: true }),
        (share, end) => {
          // Asked for at a share of the rate: what waits after a window is share · w less the work in it.
          const waits = (window: number) => share * window - (window - lostIn(lost, window));
          const everywhere = Array.from({ length: 2000 }, (_, one) => waits((end * one) / 2000));
          const told = Math.max(...[...tightWindows(lost, end), end].map(waits));
          expect(told).toBeGreaterThanOrEqual(Math.max(...everywhere) - 1e-6);
        },
      ),
    );
  });

  it('is linear in the length of the trace to work out', () => {
    const noisy = (seconds: number) =>
      lostTimeOf(
        lostBy(...Array.from({ length: seconds * 10 }, (_, one): [number, number] => [0.1, Math.sin(one * 7) / 8])),
      );
    expect(lostIn(noisy(2000), 100)).toBeLessThan(1);
  });
});

describe('behind a link', () => {
  it('bursts do not pay for gaps', () => {
    // A tenth of a second at 150 MB/s and as long at nothing, behind 75 MB/s: 37.5 and not 75.
    const trace = sampled(
      ...Array<[number, number][]>(1500)
        .fill([
          [0.1, 150 * MB],
          [0.1, 0],
        ])
        .flat(),
    );
    const parted = levelsAndLossOf(trace, { levelEnds: [], slopes: false, swing: null }, [75 * MB]);
    const rate = Math.min(75 * MB, parted.levels.bytesPerSecond[0]!);
    const { lost } = lossBehindCeiling(parted, 75 * MB);
    const window = 200;
    const carried = (rate * (window - lostIn(lost, window))) / window / MB;
    expect(carried).toBeLessThanOrEqual(37.6);
    expect(carried).toBeGreaterThan(35);
  });

  it('is exact at the links that were looked at, and never too little between them', () => {
    const rates = fc.array(fc.tuple(fc.integer({ min: 1, max: 30 }), fc.constantFrom(0, 40, 90, 250, 260, 900)), {
      minLength: 3,
      maxLength: 20,
    });
    const ceilings = linkChoices().map(({ ceilingBytesPerSecond }) => ceilingBytesPerSecond);
    fc.assert(
      fc.property(rates, fc.double({ min: 60, max: 1000, noNaN: true }), (pieces, typed) => {
        const trace = sampled(...pieces.map(([tenths, rate]): [number, number] => [tenths / 2, rate * MB]), [
          1,
          250 * MB,
        ]);
        const known = { levelEnds: [], slopes: false, swing: null };
        const parted = levelsAndLossOf(trace, known, ceilings);
        const ceiling = typed * MB;
        // What is lost of the capped trace itself, beside the same level.
        const rate = cappedLevels(parted.levels, ceiling).bytesPerSecond[0]!;
        const { seconds, bytes } = trace;
        const lostBytes = [0];
        for (let row = 1; row < seconds.length; row += 1) {
          const took = seconds[row]! - seconds[row - 1]!;
          const through = Math.min(bytes[row]! - bytes[row - 1]!, ceiling * took);
          lostBytes.push(lostBytes[row - 1]! + rate * took - through);
        }
        const curve = {
          seconds: Float64Array.from(seconds),
          lost: Float64Array.from(lostBytes, (one) => one / rate),
        };
        const { lost } = lossBehindCeiling(parted, ceiling);
        for (const window of [0.3, 1, 3]) {
          if (window > seconds.at(-1)! / 2) continue;
          expect(lostIn(lost, window)).toBeGreaterThanOrEqual(Math.min(window, bruteForce(curve, window)) - 0.02);
        }
      }),
      { numRuns: 60 },
    );
  });
});
