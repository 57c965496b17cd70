import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { copyTime, timeToMove } from '#core/5-answers/sizing/copy-time.ts';
import { MB, curveFrom, evidenceFrom, supplyFrom } from '#core/testing/curves.ts';

/** Ten seconds at 400 MB/s, five in which nothing moves, then twenty at 100 MB/s; its floor is 80 MB/s. */
const FALLS = curveFrom([10, 400 * MB], [5, 0], [20, 100 * MB]);
const floor = (bytesPerSecond: number) => ({
  span: {
    worstSecondBytesPerSecond: 0,
    floorBytesPerSecond: bytesPerSecond,
    openingBytesPerSecond: 400 * MB,
  },
});
const writing = evidenceFrom([FALLS], floor(80 * MB));
const reading = evidenceFrom([curveFrom([40, 200 * MB])], { ...floor(200 * MB), direction: 'read' });
const supply = supplyFrom([writing, reading]);

describe('the time that moving so many bytes takes', () => {
  it.each([
    [0, 0],
    [200 * MB, 0.5],
    [4000 * MB, 10],
    // The first byte after the stall waits for it.
    [4050 * MB, 15.5],
    [6000 * MB, 35],
    // Beyond what was seen it goes on at its floor.
    [6400 * MB, 40],
  ])('%i bytes along a trace take %f s', (bytes, seconds) => {
    expect(timeToMove(supply, 'write', bytes)!.seconds).toBeCloseTo(seconds, 9);
  });

  it('is proven as far as a run goes that may prove it', () => {
    expect(timeToMove(supply, 'write', 6000 * MB)!.isProven).toBe(true);
    expect(timeToMove(supply, 'write', 6001 * MB)!.isProven).toBe(false);
    const doubtful = supplyFrom([{ ...writing, mayProveHolds: false }]);
    expect(timeToMove(doubtful, 'write', 1000 * MB)!.isProven).toBe(false);
    const forEver = supplyFrom([{ ...writing, continuedBytes: null }]);
    expect(timeToMove(forEver, 'write', 1e15)!.isProven).toBe(true);
  });

  it('is that of the slowest run', () => {
    const slow = evidenceFrom([curveFrom([20, 150 * MB])], floor(150 * MB));
    const both = supplyFrom([writing, slow]);
    expect(timeToMove(both, 'write', 1500 * MB)!.seconds).toBeCloseTo(10, 9);
    expect(timeToMove(both, 'write', 6000 * MB)!.seconds).toBeCloseTo(40, 9);
    expect(timeToMove(supplyFrom([slow, writing]), 'write', 6000 * MB)!.isProven).toBe(true);
  });

  it('is not known of a way that was not measured', () => {
    expect(timeToMove(supplyFrom([writing]), 'read', MB)).toBeNull();
    expect(copyTime(supplyFrom([writing]), MB, true)).toBeNull();
    expect(copyTime(supplyFrom([reading]), MB, false)).toBeNull();
  });

  it('never grows less with more bytes', () => {
    const bytes = fc.double({ min: 0, max: 12e9, noNaN: true });
    fc.assert(
      fc.property(bytes, bytes, (a, b) => {
        const [less, more] = [Math.min(a, b), Math.max(a, b)];
        const seconds = (amount: number) => timeToMove(supply, 'write', amount)!.seconds;
        expect(seconds(less)).toBeLessThanOrEqual(seconds(more) + 1e-9);
      }),
    );
  });
});

describe('a copy', () => {
  it('is written, and read back where that is asked for', () => {
    expect(copyTime(supply, 4000 * MB, false)).toEqual({
      ...{ bytes: 4000 * MB, writeSeconds: 10, readBackSeconds: 0, isProven: true },
    });
    expect(copyTime(supply, 4000 * MB, true)).toEqual({
      ...{ bytes: 4000 * MB, writeSeconds: 10, readBackSeconds: 20, isProven: true },
    });
  });

  it('is proven where both ways are', () => {
    const short = evidenceFrom([curveFrom([1, 200 * MB])], { ...floor(200 * MB), direction: 'read' });
    expect(copyTime(supplyFrom([writing, short]), 4000 * MB, true)!.isProven).toBe(false);
    expect(copyTime(supplyFrom([writing, short]), 4000 * MB, false)!.isProven).toBe(true);
  });
});
