import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { median, selectMedian } from '#core/1-ground/numbers/statistics.ts';

describe('a median that is selected', () => {
  it('is that of sorting, however the numbers lie and repeat', () => {
    const number = fc.oneof(fc.integer({ min: -3, max: 3 }), fc.double({ noNaN: true }));
    fc.assert(
      fc.property(fc.array(number, { maxLength: 60 }), (values) => {
        // Of zeros either sign may be found: plus nothing they are one.
        expect(selectMedian(Float64Array.from(values)) + 0).toEqual(median(values) + 0);
      }),
      { numRuns: 2000 },
    );
    const rising = Array.from({ length: 4097 }, (_, at) => at);
    for (const values of [rising, [...rising].reverse(), rising.map((at) => at % 5)]) {
      expect(selectMedian(Float64Array.from(values))).toBe(median(values));
    }
  });
});
