import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { LostTime } from '#core/4-runs/trace/lost-time.ts';
import { mostMissing, mostWaiting, waitsWithin } from '#core/5-answers/verdict/constant-rate.ts';
import { serviceOf } from '#core/5-answers/verdict/service.ts';
import { mostOverdue, mostStarved } from '#core/5-answers/verdict/worst-case.ts';

const anyLevels = fc
  .array(fc.tuple(fc.double({ min: 10, max: 900, noNaN: true }), fc.double({ min: 5, max: 400, noNaN: true })), {
    minLength: 1,
    maxLength: 5,
  })
  .map((pieces) => {
    let end = 0;
    return { toBytes: pieces.map(([bytes]) => (end += bytes)), bytesPerSecond: pieces.map(([, rate]) => rate) };
  });
const anyLoss: fc.Arbitrary<LostTime> = fc
  .array(fc.tuple(fc.double({ min: 0.1, max: 4, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })), {
    minLength: 1,
    maxLength: 6,
  })
  .map((steps) => {
    let [window, lost] = [0, 0];
    const all = steps.map(([longer, share]) => ((window += longer), (lost += share * longer), [window, lost] as const));
    return { windowSeconds: all.map(([one]) => one), lostSeconds: all.map(([, one]) => one) };
  });

describe('a constant rate', () => {
  it('leaves as much waiting as any demand of that rate', () => {
    fc.assert(
      fc.property(
        anyLevels,
        anyLoss,
        fc.double({ min: 1, max: 500, noNaN: true }),
        fc.double({ min: 1, max: 60, noNaN: true }),
        fc.double({ min: 0, max: 500, noNaN: true }),
        (levels, lost, rate, seconds, fromBytes) => {
          const bytes = rate * seconds;
          const items = [
            {
              curve: { seconds: [0, seconds], bytes: [0, bytes] },
              bufferBytes: 0,
              burst: { bytes: 0, bytesPerSecond: 0 },
            },
          ];
          const [one, other] = [serviceOf(levels, lost), serviceOf(levels, lost)];
          const overdue = Math.max(0, mostOverdue(items, one, { fromBytes }));
          const told = mostWaiting(rate, bytes, other, { fromBytes });
          // Never less; only what a moment is told by differs by rounding.
          expect(told).toBeGreaterThanOrEqual(overdue * (1 - 1e-6) - 1e-6);
          expect(told).toBeLessThanOrEqual(overdue * (1 + 1e-6) + 1e-3 * rate);
          const starved = Math.max(0, mostStarved(items, one));
          expect(mostMissing(rate, seconds, other)).toBeCloseTo(starved, 3);
        },
      ),
      { numRuns: 500 },
    );
  });

  it('is within a limit where the most that waits is, whichever rates and lengths were asked about before', () => {
    fc.assert(
      fc.property(
        anyLevels,
        anyLoss,
        fc.double({ min: 1, max: 300, noNaN: true }),
        fc.double({ min: 1, max: 60, noNaN: true }),
        fc.double({ min: 0, max: 300, noNaN: true }),
        fc.double({ min: 0, max: 200, noNaN: true }),
        fc.array(fc.double({ min: 0.05, max: 8, noNaN: true }), { minLength: 2, maxLength: 8 }),
        (levels, lost, rate, seconds, fromBytes, limit, shares) => {
          const [one, other] = [serviceOf(levels, lost), serviceOf(levels, lost)];
          for (const placed of [
            { fromBytes },
            { fromBytes, endsBeyondBytes: 250 },
            { fromBytes, endsBeforeBytes: 250 },
          ]) {
            const asked = [
              // The same bytes hastened, and the same rate cut short.
              ...shares.map((share) => [rate * share, rate * seconds] as const),
              ...shares.map((share) => [rate, rate * seconds * share] as const),
            ];
            for (const [bytesPerSecond, bytes] of asked) {
              const most = mostWaiting(bytesPerSecond, bytes, one, placed);
              if (Math.abs(most - limit) < 1e-6 * Math.max(1, limit)) continue;
              expect(waitsWithin(limit, bytesPerSecond, bytes, other, placed)).toBe(most <= limit);
            }
          }
        },
      ),
      { numRuns: 200 },
    );
  });
});
