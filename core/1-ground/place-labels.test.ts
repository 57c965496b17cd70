import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placeLabels } from '#core/1-ground/place-labels.ts';

describe('labels', () => {
  it('never overlap, keep their order and stay inside, whatever they wish', () => {
    const label = fc.record({
      wanted: fc.double({ min: -50, max: 450, noNaN: true }),
      size: fc.double({ min: 10, max: 30, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(label, { maxLength: 12 }), (labels) => {
        const middles = placeLabels(labels, 0, 400);
        const order = labels.map((_, index) => index).sort((a, b) => labels[a]!.wanted - labels[b]!.wanted);
        for (const [place, index] of order.entries()) {
          expect(middles[index]! - labels[index]!.size / 2).toBeGreaterThanOrEqual(-1e-6);
          expect(middles[index]! + labels[index]!.size / 2).toBeLessThanOrEqual(400 + 1e-6);
          const next = order[place + 1];
          if (next !== undefined) {
            expect(middles[index]! + labels[index]!.size / 2).toBeLessThanOrEqual(
              middles[next]! - labels[next]!.size / 2 + 1e-6,
            );
          }
        }
      }),
    );
  });

  it('stand where they wish when there is room', () => {
    expect(
      placeLabels(
        [
          { wanted: 100, size: 20 },
          { wanted: 50, size: 20 },
        ],
        0,
        400,
      ),
    ).toEqual([100, 50]);
  });
});
