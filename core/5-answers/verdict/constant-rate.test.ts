import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { LostTime } from '#core/4-runs/trace/lost-time.ts';
import { mostMissing, mostWaiting, waitsWithin } from '#core/5-answers/verdict/constant-rate.ts';
import { bytesAfter, serviceOf, workIn, workUntil } from '#core/5-answers/verdict/service.ts';
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
  .map(lossOf);

/** Loss of windows that grow by so many seconds each, of which so large a share is lost. */
function lossOf(steps: readonly (readonly [number, number])[]): LostTime {
  let [window, lost] = [0, 0];
  const all = steps.map(([longer, share]) => ((window += longer), (lost += share * longer), [window, lost] as const));
  return { windowSeconds: all.map(([one]) => one), lostSeconds: all.map(([, one]) => one) };
}

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

  it('of a take many times as long as the trace is as if each round of it were written out, whatever was asked before', () => {
    /** The same loss, for longer takes than the trace, with every round a part of it. */
    const writtenOut = ({ windowSeconds, lostSeconds }: LostTime, mostSeconds: number): LostTime => {
      const [longest, most] = [windowSeconds.at(-1)!, lostSeconds.at(-1)!];
      const rounds = Array.from({ length: Math.ceil(mostSeconds / longest) + 1 }, (_, round) => round);
      return {
        windowSeconds: rounds.flatMap((round) => windowSeconds.map((window) => round * longest + window)),
        lostSeconds: rounds.flatMap((round) => lostSeconds.map((lost) => round * most + lost)),
      };
    };
    const few = fc.array(
      fc.tuple(fc.double({ min: 0.1, max: 2, noNaN: true }), fc.double({ min: 0, max: 0.6, noNaN: true })),
      {
        minLength: 1,
        maxLength: 4,
      },
    );
    const pieces = fc.array(
      fc.tuple(fc.double({ min: 1, max: 90, noNaN: true }), fc.double({ min: 0, max: 300, noNaN: true })),
      { minLength: 1, maxLength: 4 },
    );
    fc.assert(
      fc.property(
        anyLevels,
        few.map(lossOf),
        pieces,
        fc.double({ min: 0, max: 300, noNaN: true }),
        fc.double({ min: 1, max: 9, noNaN: true }),
        (levels, lost, demand, fromBytes, longer) => {
          const larger = { ...levels, toBytes: levels.toBytes.map((end) => 40 * end) };
          let [second, asked] = [0, 0];
          const points = demand.map(([took, rate]) => [(second += took), (asked += took * rate)] as const);
          const curve = { seconds: [0, ...points.map(([at]) => at)], bytes: [0, ...points.map(([, at]) => at)] };
          const items = [{ curve, bufferBytes: 0, burst: { bytes: 0, bytesPerSecond: 0 } }];
          const [one, other] = [serviceOf(larger, lost), serviceOf(larger, writtenOut(lost, longer * second))];
          const isClose = (told: number, truth: number) =>
            expect(Math.abs(told - truth)).toBeLessThanOrEqual(1e-6 * Math.max(1, asked));
          isClose(mostOverdue(items, one, { fromBytes }), mostOverdue(items, other, { fromBytes }));
          isClose(mostStarved(items, one), mostStarved(items, other));
          if (asked === 0) return;
          mostWaiting(asked / second, asked * longer, one, { fromBytes });
          mostMissing(asked / second, second * longer, one);
          isClose(
            mostWaiting(asked / second, asked, one, { fromBytes }),
            mostWaiting(asked / second, asked, other, { fromBytes }),
          );
          isClose(mostMissing(asked / second, second, one), mostMissing(asked / second, second, other));
        },
      ),
      {
        numRuns: 400,
        examples: [
          // Once told by 6.5 bytes too little after a take twice as long, and by 49 bytes too little.
          [
            { toBytes: [3125.8 / 40, 3870.9 / 40], bytesPerSecond: [16.248, 33.285] },
            lossOf([
              [0.168, 0],
              [2, 0.6],
              [0.1325, 0.6],
            ]),
            [[200, 7.9776]],
            0,
            1.986,
          ],
          [
            { toBytes: [2727.7 / 40, 35_090 / 40], bytesPerSecond: [29.203, 103.37] },
            lossOf([
              [0.5919, 0],
              [1.9411, 0.6],
              [0.3546, 0],
            ]),
            [[200, 52.26]],
            0,
            1,
          ],
        ],
      },
    );
  });
});

/** Seconds, rate and buffer of each of several takes. */
const anyTakes = (leastBuffer: number, length: { minLength: number; maxLength: number }) =>
  fc.array(
    fc.tuple(
      fc.double({ min: 1, max: 60, noNaN: true }),
      fc.double({ min: 1, max: 300, noNaN: true }),
      fc.double({ min: leastBuffer, max: 200, noNaN: true }),
    ),
    length,
  );
/** A take at a rate that may be four times as high for a third of a second. */
const burstyItem = ([seconds, rate, bufferBytes]: readonly [number, number, number]) => ({
  curve: { seconds: [0, seconds], bytes: [0, rate * seconds] },
  bufferBytes,
  burst: { bytes: rate, bytesPerSecond: 3 * rate },
});

describe('a demand that changes', () => {
  it('is overdue by no less than in any window that is tried', () => {
    fc.assert(
      fc.property(
        anyLevels,
        anyLoss,
        // A buffer from which more was taken off than there is.
        anyTakes(-200, { minLength: 1, maxLength: 3 }),
        fc.double({ min: 0, max: 300, noNaN: true }),
        (levels, lost, takes, fromBytes) => {
          const items = takes.map(burstyItem);
          const service = serviceOf(levels, lost);
          const told = mostOverdue(items, service, { fromBytes });
          const starved = mostStarved(items, service);
          const last = Math.max(...takes.map(([seconds]) => seconds));
          const asked = (second: number) =>
            takes.reduce((sum, [seconds, rate]) => sum + rate * Math.min(second, seconds), 0);
          const moments = Array.from({ length: 25 }, (_, at) => (at * last) / 24);
          for (const s of moments) {
            const start = fromBytes + asked(s);
            for (const t of moments.filter((one) => one >= s)) {
              const done = bytesAfter(service, workUntil(service, start) + workIn(service, t - s)) - start;
              if (!Number.isFinite(done)) continue;
              const due = takes.reduce((sum, [seconds, rate, bufferBytes]) => {
                const came = rate * (Math.min(t, seconds) - Math.min(s, seconds));
                return sum + Math.max(0, came + Math.min(rate, 3 * rate * (t - s)) - bufferBytes);
              }, 0);
              expect(told).toBeGreaterThanOrEqual(due - done - 1e-6 * (1 + due));
              // Played, it may lie anywhere on the drive.
              for (let from = 0; from < levels.toBytes.at(-1)!; from += levels.toBytes.at(-1)! / 9) {
                const read = bytesAfter(service, workUntil(service, from) + workIn(service, t - s)) - from;
                if (Number.isFinite(read)) expect(starved).toBeGreaterThanOrEqual(due - read - 1e-6 * (1 + due));
              }
            }
          }
        },
      ),
      {
        numRuns: 150,
        endOnFailure: true,
        // A burst that ends with its item was once passed over, where the drive becomes slower in the middle of it.
        examples: [
          [
            { toBytes: [279, 360, 1225], bytesPerSecond: [129, 165, 11.9] },
            lossOf([[1, 0]]),
            [
              [4.67, 1.455, 0],
              [1, 42.14, 0],
            ],
            300,
          ],
        ],
      },
    );
  });

  it('is more overdue than a limit exactly where the most it is overdue by is', () => {
    fc.assert(
      fc.property(
        anyLevels,
        anyLoss,
        anyTakes(0, { minLength: 2, maxLength: 4 }),
        fc.double({ min: 0, max: 300, noNaN: true }),
        fc.double({ min: 0, max: 2, noNaN: true }),
        (levels, lost, takes, fromBytes, share) => {
          const items = takes.map(burstyItem);
          const service = serviceOf(levels, lost);
          for (const most of [mostOverdue(items, service, { fromBytes }), mostStarved(items, service)]) {
            const limit = share * Math.abs(most) - 1;
            if (!Number.isFinite(most) || Math.abs(most - limit) < 1e-6 * Math.max(1, Math.abs(most))) continue;
            expect(mostOverdue(items, service, { fromBytes }, limit) > limit).toBe(
              mostOverdue(items, service, { fromBytes }) > limit,
            );
            expect(mostStarved(items, service, limit) > limit).toBe(mostStarved(items, service) > limit);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
});
