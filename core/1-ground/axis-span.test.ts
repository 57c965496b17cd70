import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linearSpan, logSpan, pixelScale } from '#core/1-ground/axis-span.ts';

const PIXELS: [number, number] = [500, 20];
const isRound = (tick: number, steps: readonly number[]): boolean => {
  const mantissa = tick / 10 ** Math.floor(Math.log10(tick) + 1e-9);
  return steps.some((step) => Math.abs(mantissa - step) < 1e-6);
};

describe('a logarithmic axis', () => {
  const span = fc
    .tuple(fc.double({ min: 1, max: 1e10, noNaN: true }), fc.double({ min: 1.5, max: 1e5, noNaN: true }))
    .map(([low, times]): [number, number] => [low, low * times]);

  it('holds all values between its ends, and its ticks are round, in order, and not too many', () => {
    fc.assert(
      fc.property(span, fc.integer({ min: 7, max: 12 }), ([low, high], most) => {
        const axis = pixelScale(logSpan(low, high, most), PIXELS);
        for (const value of [low, high]) {
          expect(axis(value)).toBeLessThanOrEqual(500);
          expect(axis(value)).toBeGreaterThanOrEqual(20);
          expect(axis.invert(axis(value)) / value).toBeCloseTo(1, 2);
        }
        expect(axis.ticks.length).toBeGreaterThan(0);
        expect(axis.ticks.length).toBeLessThanOrEqual(most);
        expect([...axis.ticks]).toEqual([...axis.ticks].sort((a, b) => a - b));
        for (const tick of axis.ticks) expect(isRound(tick, [1, 2, 3, 5]), `${tick}`).toBe(true);
      }),
    );
  });

  it('begins and ends at whole steps next to the values', () => {
    const axis = pixelScale(logSpan(130e6, 3.1e9, 9), PIXELS);
    expect(axis.ticks).toEqual([1e8, 2e8, 5e8, 1e9, 2e9, 5e9]);
    expect([axis(1e8), axis(5e9)]).toEqual([500, 20]);
    // A value at a step is an end.
    expect(logSpan(1e8, 2e9, 9).ticks).toEqual([1e8, 2e8, 5e8, 1e9, 2e9]);
    expect(axis.isLog).toBe(true);
  });

  it('has fewer steps in each decade where there is less room', () => {
    expect(logSpan(1, 1000, 10).ticks).toHaveLength(10);
    const ticks = logSpan(1, 1000, 9).ticks.map((tick) => Math.round(tick));
    expect(ticks).toEqual([1, 3, 10, 30, 100, 300, 1000]);
    expect(logSpan(1, 1000, 6).ticks).toEqual([1, 10, 100, 1000]);
    expect(logSpan(31, 5200, 12).ticks).toEqual([20, 50, 100, 200, 500, 1000, 2000, 5000, 10000]);
  });

  it('draws nothing, and what is below it, at its foot', () => {
    const axis = pixelScale(logSpan(1e8, 1e9, 9), PIXELS);
    expect(axis(0)).toBe(500);
    expect(axis(1e7)).toBe(500);
    expect(axis(1e12)).toBe(20);
  });
});

describe('a linear axis', () => {
  it('reaches over its values to a tick, unless it is to end where they do', () => {
    const axis = pixelScale(linearSpan(0, 67.6, 8), PIXELS);
    expect(axis.ticks).toEqual([0, 10, 20, 30, 40, 50, 60, 70]);
    expect([axis(0), axis(70)]).toEqual([500, 20]);
    expect(axis.isLog).toBe(false);
    const days = pixelScale(linearSpan(0, 86, 8, false), [0, 860]);
    expect(days(86)).toBe(860);
    expect(days.invert(430)).toBe(43);
  });
});
