import { describe, expect, it } from 'vitest';
import { decimate } from '#core/4-runs/trace/decimate.ts';
import type { PassInterval } from '#core/4-runs/trace/passes.ts';

/** Intervals of a second each, at these rates. */
function intervalsOf(...rates: number[]): PassInterval[] {
  let bytes = 0;
  return rates.map((bytesPerSecond, second) => {
    const fromBytes = bytes;
    bytes += bytesPerSecond;
    return { fromBytes, toBytes: bytes, fromSeconds: second, toSeconds: second + 1, bytesPerSecond } as PassInterval;
  });
}

describe('a trace in columns', () => {
  const four = intervalsOf(100, 50, 10, 40);

  it('lies on time where it was, with the lowest, the highest and the mean of each column', () => {
    expect(decimate(four, 'seconds', 0, 4, 2)).toEqual([
      { at: 0.5, low: 50, high: 100, mean: 75 },
      { at: 2.5, low: 10, high: 40, mean: 25 },
    ]);
  });

  it('lies on bytes by its bytes', () => {
    // 200 bytes in two columns of a hundred: the first interval alone fills the first.
    expect(decimate(four, 'bytes', 0, 200, 2)).toEqual([
      { at: 50, low: 100, high: 100, mean: 100 },
      { at: 125, low: 10, high: 50, mean: 100 / 3 },
    ]);
  });

  it('keeps its place when the axis begins elsewhere, and ends in the last column', () => {
    expect(decimate(four, 'seconds', 2, 4, 2).map(({ at, mean }) => [at, mean])).toEqual([
      [0.5, 160 / 3],
      [3.5, 40],
    ]);
    expect(decimate(four, 'seconds', 0, 3.5, 7).map((column) => column.at)).toEqual([0.5, 1.5, 2.5, 3.5]);
  });

  it('is one column on an axis without length', () => {
    expect(decimate(four, 'seconds', 1, 1, 5)).toEqual([{ at: 0.5, low: 10, high: 100, mean: 50 }]);
    expect(decimate([], 'seconds', 0, 1, 5)).toEqual([]);
  });
});
