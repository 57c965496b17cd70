import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hopOf } from '#core/2-trade/links/connection.ts';
import { hopLine, parseHop } from '#core/2-trade/links/hop-line.ts';
import { linkChoices } from '#core/2-trade/links/link-choices.ts';
import { cappedCurve, evidenceBehind, isHeldByLink, supplyBehind } from '#core/4-runs/supply/behind.ts';
import { MB, curveFrom, evidenceFrom, supplyFrom } from '#core/testing/curves.ts';
import { madeTrace } from '#core/testing/made-traces.ts';
import { continued, curveOf } from '#core/4-runs/trace/supply-curve.ts';
import { thinned } from '#core/4-runs/trace/thinned.ts';

describe('a drive behind another link', () => {
  it('is never quicker than it carries, and as slow as it was where it was slower', () => {
    const capped = cappedCurve(curveFrom([10, 2000 * MB], [100, 90 * MB]), 500 * MB);
    // 20 GB at 500 MB/s instead of 2,000, then 9 GB at 90.
    expect(capped.seconds.at(-1)).toBeCloseTo(40 + 100, 9);
    expect(capped.bytes.at(-1)).toBeCloseTo(29e9, -3);
    const behind = evidenceBehind(
      evidenceFrom([curveFrom([10, 2000 * MB], [100, 90 * MB])], {
        span: { worstSecondBytesPerSecond: 80 * MB, floorBytesPerSecond: 90 * MB, openingBytesPerSecond: 2000 * MB },
      }),
      500 * MB,
    );
    expect(behind.span).toEqual({
      worstSecondBytesPerSecond: 80 * MB,
      floorBytesPerSecond: 90 * MB,
      openingBytesPerSecond: 500 * MB,
    });
  });

  it('is what it was behind a link that never held it back, also where its trace was reduced', () => {
    const { progress } = madeTrace('drop', 5);
    const curve = curveOf(thinned(progress, 0.02, 200));
    const wide = cappedCurve(curve, 1e15);
    expect(wide.bytes).toEqual(curve.bytes);
    wide.seconds.forEach((second, corner) => expect(second).toBeCloseTo(curve.seconds[corner]!, 6));
  });

  it('is slower the narrower the link, for any rates', () => {
    const pieces = fc.array(
      fc.tuple(fc.double({ min: 1, max: 50, noNaN: true }), fc.double({ min: 1e6, max: 3e9, noNaN: true })),
      {
        minLength: 1,
        maxLength: 8,
      },
    );
    fc.assert(
      fc.property(
        pieces,
        fc.double({ min: 1e6, max: 3e9, noNaN: true }),
        fc.double({ min: 1, max: 4, noNaN: true }),
        (all, narrow, times) => {
          const curve = curveFrom(...all);
          const end = (ceiling: number) => cappedCurve(curve, ceiling).seconds.at(-1)!;
          expect(end(narrow)).toBeGreaterThanOrEqual(end(narrow * times) - 1e-9);
          expect(end(narrow)).toBeGreaterThanOrEqual(curve.seconds.at(-1)! - 1e-9);
        },
      ),
    );
  });

  it('is the very same where it never came as far as the link', () => {
    const burst = evidenceFrom([curveFrom([10, 200 * MB], [1, 400 * MB], [20, 90 * MB])]);
    expect(evidenceBehind(burst, 400 * MB)).toBe(burst);
    expect(evidenceBehind(burst, 399 * MB)).not.toBe(burst);
    expect(evidenceBehind(burst, 399 * MB).curves[0]!.seconds.at(-1)).toBeCloseTo(30 + 400 / 399, 9);
  });

  it('goes on as it did, never quicker than all of it would be behind the link', () => {
    const pieces = fc.array(
      fc.tuple(fc.double({ min: 1, max: 50, noNaN: true }), fc.double({ min: 1e6, max: 3e9, noNaN: true })),
      { minLength: 2, maxLength: 8 },
    );
    const factors = fc.array(fc.double({ min: 1, max: 2.5, noNaN: true }), { minLength: 1, maxLength: 4 });
    fc.assert(
      fc.property(
        pieces,
        factors,
        fc.nat(),
        fc.double({ min: 1e6, max: 3e9, noNaN: true }),
        (all, slower, from, ceiling) => {
          const toCorner = all.length;
          const curve = { ...curveFrom(...all), continuation: { fromCorner: from % toCorner, toCorner, slower } };
          const behind = continued(cappedCurve(curve, ceiling));
          const whole = continued(curve);
          const truth = cappedCurve(curveOf(whole), ceiling);
          expect(behind.bytes).toEqual(whole.bytes);
          behind.seconds.forEach((second, point) => {
            expect(second).toBeGreaterThanOrEqual(truth.seconds[point]! * (1 - 1e-9));
          });
          // Where nothing is repeated more slowly it is exact.
          if (slower.every((factor) => factor === 1)) {
            behind.seconds.forEach((second, point) => expect(second / truth.seconds[point]! || 1).toBeCloseTo(1, 9));
          }
        },
      ),
    );
  });

  it('proves as much as before where it goes on, and its own bytes where it may not', () => {
    const going = (factor: number) => {
      const continuation = { fromCorner: 1, toCorner: 2, slower: [factor, factor] };
      const curve = { ...curveFrom([10, 2000 * MB], [100, 90 * MB]), continuation };
      return evidenceBehind(evidenceFrom([curve], { continuedBytes: 47e9 }), 500 * MB);
    };
    expect(going(1).continuedBytes).toBe(47e9);
    expect(going(1.2).continuedBytes).toBe(47e9);
    // Quicker with every repetition: a link might hold that back.
    expect(going(0.9).continuedBytes).toBeCloseTo(29e9, -3);
    expect(going(0.9).curves[0]!.continuation).toBeNull();
  });

  it('may do more where its link held it back when it was measured', () => {
    const connection = { hops: [hopOf('usb-10')!] };
    expect(isHeldByLink(1050 * MB, connection)).toBe(true);
    expect(isHeldByLink(700 * MB, connection)).toBe(false);
    expect(isHeldByLink(1e12, { hops: [] })).toBe(false);
    const supply = supplyFrom([evidenceFrom([curveFrom([10, 900 * MB])])]);
    expect(supplyBehind(supply, { hops: [] })).toBe(supply);
    expect(supplyBehind(supply, { hops: [hopOf('sata-3')!] }).traces[0]!.span.openingBytesPerSecond).toBeCloseTo(
      279 * MB,
      -5,
    );
    const ceilings = linkChoices().map(({ ceilingBytesPerSecond }) => ceilingBytesPerSecond);
    expect(ceilings).toEqual([...ceilings].sort((a, b) => a - b));
  });
});

describe('a hop as it is typed', () => {
  it.each([
    ['PCIe 4.0 x4', 'PCIe 4.0 ×4'],
    ['usb 10 gb/s at the hub', 'USB 10 Gb/s at the hub'],
    ['Ethernet 10 Gb/s', 'Ethernet 10 Gb/s'],
    ['Old adapter: 400 MB/s at desk', 'Old adapter: 400 MB/s at desk'],
  ])('%s is read and written again', (typed, shown) => {
    const hop = parseHop(typed);
    expect(hopLine(hop).replace(/\u202f/g, ' ')).toBe(shown);
    expect(parseHop(hopLine(hop))).toEqual(hop);
  });

  it('of every kind of link is read again as it was', () => {
    for (const hop of linkChoices()) expect(parseHop(hopLine(hop))).toEqual(hop);
  });

  it.each(['', 'a cable', 'PCIe 9.0 x4', 'PCIe 4.0 x64', 'Adapter: fast', 'Adapter: 0 MB/s'])(
    '“%s” is refused',
    (line) => {
      expect(() => parseHop(line)).toThrow(/connection:|more than nothing/);
    },
  );
});
