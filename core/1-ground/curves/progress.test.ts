import fc from 'fast-check';
import { expect, it } from 'vitest';
import { progressBytes, secondsAlong, secondsAt } from '#core/1-ground/curves/progress.ts';
import { anyProgress } from '#core/testing/curves.ts';

it('finds the seconds of many bytes in any order as of each alone', () => {
  fc.assert(
    fc.property(
      anyProgress(60),
      fc.array(fc.double({ min: -0.1, max: 1.2, noNaN: true }), { maxLength: 80 }),
      (curve, shares) => {
        const asked = shares.map((share) => share * progressBytes(curve));
        const along = secondsAlong(curve);
        for (const bytes of [...asked, ...curve.bytes, ...asked.toSorted((a, b) => a - b)]) {
          expect(along(bytes)).toBe(secondsAt(curve, bytes));
        }
      },
    ),
  );
});

it('waits for the end of a stall, and knows nothing beyond the end', () => {
  const along = secondsAlong({ seconds: [0, 2, 5, 6], bytes: [0, 10, 10, 20] });
  expect([5, 10, 15, 20, 30, 0].map(along)).toEqual([1, 5, 5.5, 6, 6, 0]);
});
