import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutAtBytes, progressBytes, type Progress } from '#core/trace/progress.ts';
import { firstBreak, guaranteedRate, leastBuffer } from '#core/verdict/backlog.ts';

const MB = 1e6;

/** A curve from pieces of (seconds, bytes per second). */
function curve(...pieces: [number, number][]): Progress {
  const progress: Progress = { seconds: [0], bytes: [0] };
  for (const [seconds, rate] of pieces) {
    progress.seconds.push(progress.seconds.at(-1)! + seconds);
    progress.bytes.push(progress.bytes.at(-1)! + seconds * rate);
  }
  return progress;
}

const anyCurve = fc
  .array(fc.tuple(fc.double({ min: 0.01, max: 5, noNaN: true }), fc.double({ min: 0, max: 900, noNaN: true })), {
    minLength: 1,
    maxLength: 30,
  })
  .map((pieces) => curve(...pieces));
const anyBuffer = fc.double({ min: 1, max: 2000, noNaN: true });

/** All windows, one by one. */
function slowGuaranteedRate({ seconds, bytes }: Progress, buffer: number): number {
  let least = Infinity;
  for (let from = 0; from < seconds.length; from += 1) {
    for (let to = from + 1; to < seconds.length; to += 1) {
      least = Math.min(least, (bytes[to]! - bytes[from]! + buffer) / (seconds[to]! - seconds[from]!));
    }
  }
  return least;
}

describe('closed forms', () => {
  const cache = curve([25, 2000 * MB], [2000, 90 * MB]);

  it('a cache of 50 GB under 530 MB/s breaks 1.2045 s after the knee, at 95.54 s and 50.11 GB', () => {
    const found = firstBreak(cache, 530 * MB, 530 * MB)!;
    expect(50e9 / (530 * MB)).toBeCloseTo(94.34, 2);
    expect(found.seconds).toBeCloseTo(94.3396 + 1.20455, 3);
    expect(found.bytes / 1e9).toBeCloseTo(50.108, 3);
  });

  it('a stall of 2 s under 400 MB/s needs a buffer of 800 MB', () => {
    const stalled = curve([10, 1000 * MB], [2, 0], [10, 1000 * MB]);
    expect(leastBuffer(stalled, 400 * MB)).toBeCloseTo(800 * MB, 0);
    expect(firstBreak(stalled, 400 * MB, 799 * MB)).not.toBeNull();
    expect(firstBreak(stalled, 400 * MB, 801 * MB)).toBeNull();
  });

  it('a steady curve guarantees its rate, and the buffer spread over its length', () => {
    expect(guaranteedRate(curve([10, 100]), 0)).toBeCloseTo(100, 9);
    expect(guaranteedRate(curve([10, 100]), 50)).toBeCloseTo(105, 9);
  });

  it('only the bytes of the job count', () => {
    expect(guaranteedRate(cutAtBytes(cache, 50e9), 0)).toBeCloseTo(2000 * MB, 0);
  });
});

describe('properties', () => {
  it('agrees with all windows one by one', () => {
    fc.assert(
      fc.property(anyCurve, anyBuffer, (progress, buffer) => {
        const slow = slowGuaranteedRate(progress, buffer);
        expect(Math.abs(guaranteedRate(progress, buffer) - slow)).toBeLessThanOrEqual(1e-9 * slow);
      }),
    );
  });

  it('breaks exactly above the guaranteed rate and with less than the least buffer', () => {
    fc.assert(
      fc.property(anyCurve, anyBuffer, fc.double({ min: 1, max: 1000, noNaN: true }), (progress, buffer, demand) => {
        const rate = guaranteedRate(progress, buffer);
        fc.pre(Math.abs(demand - rate) > 1e-6 * rate);
        expect(firstBreak(progress, demand, buffer) !== null).toBe(demand > rate);
        const needed = leastBuffer(progress, demand);
        if (needed > 1e-6) expect(firstBreak(progress, demand, needed * 0.999)).not.toBeNull();
        expect(firstBreak(progress, demand, needed * 1.001 + 1e-6)).toBeNull();
      }),
    );
  });

  it('more buffer, a faster drive and a shorter job never hurt', () => {
    fc.assert(
      fc.property(
        anyCurve,
        anyBuffer,
        anyBuffer,
        fc.double({ min: 0.1, max: 0.99, noNaN: true }),
        (progress, buffer, more, share) => {
          const rate = guaranteedRate(progress, buffer);
          const faster = { ...progress, seconds: progress.seconds.map((second) => second * share) };
          const shorter = cutAtBytes(progress, progressBytes(progress) * share);
          const atLeast = rate * (1 - 1e-9);
          expect(guaranteedRate(progress, buffer + more)).toBeGreaterThanOrEqual(atLeast);
          expect(guaranteedRate(faster, buffer)).toBeGreaterThanOrEqual(atLeast);
          expect(guaranteedRate(shorter, buffer)).toBeGreaterThanOrEqual(atLeast);
        },
      ),
    );
  });

  it('does not depend on the unit of bytes', () => {
    fc.assert(
      fc.property(anyCurve, anyBuffer, (progress, buffer) => {
        const inKilo = { ...progress, bytes: progress.bytes.map((bytes) => bytes / 1000) };
        expect(guaranteedRate(inKilo, buffer / 1000) * 1000).toBeCloseTo(guaranteedRate(progress, buffer), 6);
      }),
    );
  });
});
