import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { demandFrom } from '#core/testing/curves.ts';
import { fullAt } from '#core/5-answers/verdict/room.ts';

/** Takes of 100 s at 10 bytes a second, 50 s apart. */
const takes = (more: Partial<Demand> = {}): Demand =>
  demandFrom({ bytesPerSecond: 10, takeSeconds: 100, takes: 5, gapSeconds: 50, ...more });

describe('when a volume is full', () => {
  it('adds up what stays', () => {
    expect(fullAt([takes()], 5000)).toBeNull();
    expect(fullAt([takes()], 4999)).toMatchObject({ take: 5, takeBytes: 999 });
    expect(fullAt([takes()], 2300)).toEqual({ take: 3, seconds: 30, takeBytes: 300 });
    expect(fullAt([takes({ takes: 1 })], 400)).toEqual({ take: 1, seconds: 40, takeBytes: 400 });
    expect(fullAt([takes({ direction: 'read' })], 0)).toBeNull();
  });

  it('makes room for what is taken off before the next take', () => {
    const off = takes({ between: 'take-off', takes: 1000 });
    expect(fullAt([off], 1000)).toBeNull();
    expect(fullAt([off], 999)).toMatchObject({ take: 1 });
  });

  it('counts what has not been taken off yet', () => {
    // Off after 80 s: 30 s into the next take, when 300 bytes of that are there as well.
    const slow = takes({ between: 'take-off', takeOffSeconds: 80 });
    expect(fullAt([slow], 1300)).toBeNull();
    expect(fullAt([slow], 1299)).toMatchObject({ take: 2 });
    // Slower than takes come: it piles up.
    const piling = takes({ between: 'take-off', takeOffSeconds: 200, takes: 100 });
    expect(fullAt([piling], 4000)).not.toBeNull();
  });

  it('adds up items, each for its own number of takes and its own length', () => {
    const short = takes({ takeSeconds: 40, takes: 2 });
    expect(fullAt([takes(), short], 5800)).toBeNull();
    expect(fullAt([takes(), short], 5799)).toMatchObject({ take: 5 });
    expect(fullAt([takes(), short], 500)).toMatchObject({ take: 1, seconds: 25 });
  });

  it('is as a plain sum for any takes that stay', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 30_000 }), fc.integer({ min: 1, max: 1e8 }), (count, room) => {
        const full = fullAt([takes({ takes: count })], room);
        if (room >= count * 1000) expect(full).toBeNull();
        else expect((full!.take - 1) * 1000 + full!.takeBytes).toBeCloseTo(room, 3);
      }),
    );
  });
});
