import fc from 'fast-check';
import { expect, it } from 'vitest';
import { progressBytes, secondsAt, secondsAtEach } from '#core/1-ground/curves/progress.ts';
import { anyProgress } from '#core/testing/curves.ts';

const someShares = fc.array(fc.double({ min: -0.1, max: 1.2, noNaN: true }), { maxLength: 80 });

it('finds the seconds of many bytes in any order as of each alone', () => {
  fc.assert(
    fc.property(anyProgress(60), someShares, (curve, shares) => {
      const asked = shares.map((share) => share * progressBytes(curve));
      const all = Float64Array.from([...asked, ...curve.bytes, ...asked.toSorted((a, b) => a - b)]);
      expect(secondsAtEach(curve, all)).toEqual(all.map((bytes) => secondsAt(curve, bytes)));
    }),
  );
});

it('waits for the end of a stall, and knows nothing beyond the end', () => {
  const curve = { seconds: [0, 2, 5, 6], bytes: [0, 10, 10, 20] };
  expect([...secondsAtEach(curve, Float64Array.of(5, 10, 15, 20, 30, 0))]).toEqual([1, 5, 5.5, 6, 6, 0]);
});
