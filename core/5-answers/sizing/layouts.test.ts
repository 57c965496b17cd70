import { describe, expect, it } from 'vitest';
import {
  LAYOUTS,
  attached,
  enduranceYears,
  layoutById,
  rebuildSeconds,
  takes,
  unreadableChance,
  usableBytes,
} from '#core/5-answers/sizing/layouts.ts';

const TB = 1e12;
const MB = 1e6;

describe('layouts', () => {
  it('come to what the check values say', () => {
    const share = { filesystemShare: 0.02, fillLimit: 0.8 };
    expect(usableBytes(layoutById('double-parity'), 6, 16 * TB, share)).toBeCloseTo(50.176 * TB, 0);
    expect(unreadableChance(64 * TB, 1e-15)).toBeCloseTo(0.401, 3);
    // A chance so small that 1 − (1 − e)^n would be nothing.
    expect(unreadableChance(1000, 1e-17)).toBeCloseTo(8e-14, 18);
    expect(rebuildSeconds(16 * TB, 200 * MB, 0.5, 1e12)).toBe(160_000);
    expect(rebuildSeconds(16 * TB, 200 * MB, 0.5, 50 * MB)).toBe(320_000);
    expect(enduranceYears(2 * TB, 4, 1.5, 1400 * TB)).toBeCloseTo(1400 / 0.75 / 365, 9);
    expect(enduranceYears(1, 1, 1, null)).toBeNull();
  });

  it('have the data drives, costs and gaps of their kinds', () => {
    const at = (id: (typeof LAYOUTS)[number]['id'], n: number) => {
      const layout = layoutById(id);
      return [layout.data(n), layout.readsMany(n), layout.smallWriteCost(n), layout.survives(n)];
    };
    expect(at('stripe', 6)).toEqual([6, 6, 1, 0]);
    expect(at('mirror', 2)).toEqual([1, 2, 2, 1]);
    // All but one of those that hold the same.
    expect(at('mirror', 3)).toEqual([1, 3, 3, 2]);
    expect(at('striped-mirrors', 6)).toEqual([3, 6, 2, 1]);
    expect(at('single-parity', 6)).toEqual([5, 6, 4, 1]);
    expect(at('double-parity', 6)).toEqual([4, 6, 6, 2]);
    expect(at('separate', 6)).toEqual([6, 1, 1, 0]);
    expect([3, 4, 5, 6, 7].map((n) => takes(layoutById('striped-mirrors'), n))).toEqual([
      ...[false, true, false, true, false],
    ]);
    expect(takes(layoutById('single'), 2)).toBe(false);
    expect(LAYOUTS.filter((layout) => attached(layout, 6) === 1).map(({ id }) => id)).toEqual(['single', 'separate']);
  });

  it('read what is left to rebuild one, and nothing where nothing is left', () => {
    const read = (n: number) => Object.fromEntries(LAYOUTS.map((layout) => [layout.id, layout.readToRebuild(n)]));
    expect(read(6)).toEqual({
      ...{ single: null, stripe: null, mirror: 1, 'striped-mirrors': 1 },
      ...{ 'single-parity': 5, 'double-parity': 4, separate: null },
    });
    // With every drive gone that may go, the rest still holds all data; with one more it does not.
    for (const layout of LAYOUTS) {
      for (let n = layout.leastDrives; n < 12; n += 1) {
        if (!takes(layout, n)) continue;
        expect(n - layout.survives(n), `${layout.id} of ${n}`).toBeGreaterThanOrEqual(Math.min(layout.data(n), n));
      }
    }
  });

  it('are never worn out by nothing', () => {
    expect(enduranceYears(0, 4, 1.5, 1400 * TB)).toBe(Infinity);
  });

  it('never hold less with one drive more of those they can be made of', () => {
    for (const layout of LAYOUTS) {
      for (let n = layout.leastDrives; n < 36; n += 1) {
        const next = [n + 1, n + 2].find((more) => takes(layout, more));
        if (!takes(layout, n) || next === undefined) continue;
        expect(layout.data(next)).toBeGreaterThanOrEqual(layout.data(n));
        expect(layout.degradedShare(n)).toBeLessThanOrEqual(1);
      }
    }
  });
});
