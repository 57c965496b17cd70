import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { countAtMost, countPassing, halved } from '#core/1-ground/numbers/search.ts';

const ascending = fc
  .array(fc.integer({ min: -50, max: 50 }), { maxLength: 40 })
  .map((all) => all.sort((a, b) => a - b));

describe('searching by halves', () => {
  it('counts what counting one by one does', () => {
    fc.assert(
      fc.property(ascending, fc.integer({ min: -60, max: 60 }), (values, value) => {
        const expected = values.filter((one) => one <= value).length;
        expect(countAtMost(values, value)).toBe(expected);
        expect(countAtMost(Float64Array.from(values), value)).toBe(expected);
        expect(countPassing(values.length, (index) => values[index]! <= value)).toBe(expected);
      }),
    );
  });

  it('closes in on where it stops passing, from both sides', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (edge) => {
        const { passing, failing } = halved(0, 1, 30, (value) => value <= edge);
        expect(failing - passing).toBeCloseTo(2 ** -30, 12);
        expect(passing).toBeLessThanOrEqual(edge);
        expect(edge === 1 || failing > edge).toBe(true);
      }),
    );
  });
});
