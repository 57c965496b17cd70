import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changeOverTime } from '#core/5-answers/compare/over-time.ts';
import { compareSides, sideOf, unequalConditions } from '#core/5-answers/compare/compare-drives.ts';
import { differenceOf } from '#core/5-answers/compare/difference.ts';
import { hopOf } from '#core/2-trade/links/connection.ts';
import { normalFrom, randomFrom } from '#core/1-ground/random.ts';
import type { ProfileRun } from '#core/4-runs/supply/profile.ts';
import { curveFrom, evidenceFrom, steady } from '#core/testing/curves.ts';

const around = (mean: number, spread: number, count: number, seed: number): number[] => {
  const normal = normalFrom(randomFrom(seed));
  return Array.from({ length: count }, () => mean * (1 + spread * normal()));
};

describe('the difference of two drives', () => {
  it('is shown where it is far beyond the spread, with an interval around it', () => {
    const found = differenceOf(around(120, 0.02, 12, 1), around(100, 0.02, 12, 2))!;
    expect(found.isShown).toBe(true);
    expect(found.share).toBeCloseTo(0.2, 1);
    expect(found.low).toBeGreaterThan(0.15);
    expect(found.high).toBeLessThan(0.25);
    const other = differenceOf(around(80, 0.02, 12, 1), around(100, 0.02, 12, 2))!;
    expect(other.isShown).toBe(true);
    expect(other.high).toBeLessThan(0);
  });

  it('is called none when both are the same: in no more than about one of twenty', () => {
    let shown = 0;
    for (let seed = 1; seed <= 200; seed += 1) {
      const found = differenceOf(around(100, 0.05, 9, 2 * seed), around(100, 0.05, 9, 2 * seed + 1), seed)!;
      if (found.isShown) shown += 1;
    }
    expect(shown).toBeLessThan(20);
  });

  it('holds the true difference in about nineteen of twenty', () => {
    let held = 0;
    for (let seed = 1; seed <= 200; seed += 1) {
      const { low, high } = differenceOf(around(110, 0.05, 9, 3 * seed), around(100, 0.05, 9, 3 * seed + 1), seed)!;
      if (low <= 0.1 && high >= 0.1) held += 1;
    }
    expect(held).toBeGreaterThan(180);
  });

  it('is the same for the same seed, and turns round with the drives', () => {
    const [a, b] = [around(100, 0.1, 8, 5), around(104, 0.1, 8, 6)];
    expect(differenceOf(a, b, 3)).toEqual(differenceOf(a, b, 3));
    fc.assert(
      fc.property(fc.double({ min: 0.5, max: 2, noNaN: true }), (factor) => {
        const found = differenceOf(
          a.map((rate) => rate * factor),
          a,
          4,
        )!;
        expect(found.share).toBeCloseTo(factor - 1, 9);
        expect(found.low).toBeLessThanOrEqual(found.share + 1e-9);
        expect(found.high).toBeGreaterThanOrEqual(found.share - 1e-9);
      }),
    );
  });

  it('needs three rates of each', () => {
    expect(differenceOf([1, 2], [1, 2, 3])).toBeNull();
    expect(differenceOf([1, 2, 3], [])).toBeNull();
  });
});

const runOf = (traces: ProfileRun['traces'], more: Partial<ProfileRun> = {}): ProfileRun => ({
  runId: 'run-1',
  recipe: 'short-passes',
  options: '[["seconds",4]]',
  startedAt: '2026-03-02T09:00:00Z',
  fillShare: 0.2,
  startCelsius: 30,
  doubts: [],
  traces,
  paced: null,
  random: [],
  rungs: [],
  fileSeconds: null,
  createSeconds: null,
  ...more,
});

describe('one side of a comparison', () => {
  it('has its passes, its longest transfer, the highest opening and the floor of the run that saw furthest down', () => {
    const passes = evidenceFrom([steady(2, 100), steady(2, 110), steady(2, 90)], {
      span: { worstSecondBytesPerSecond: 85, floorBytesPerSecond: 100, openingBytesPerSecond: 110 },
    });
    const fill = evidenceFrom([curveFrom([10, 120], [90, 40])], {
      span: { worstSecondBytesPerSecond: 35, floorBytesPerSecond: 40, openingBytesPerSecond: 120 },
    });
    const side = sideOf({ runs: [runOf([passes]), runOf([fill])] }, 'write')!;
    expect(side.passes.map((rate) => Math.round(rate))).toEqual([100, 110, 90]);
    expect(side.longest).toBe(fill.curves[0]);
    expect(side).toMatchObject({
      openingBytesPerSecond: 120,
      floorBytesPerSecond: 40,
      worstSecondBytesPerSecond: 35,
      lowestBytesPerSecond: 90,
      highestBytesPerSecond: 110,
    });
    expect(sideOf({ runs: [runOf([passes])] }, 'read')).toBeNull();
  });

  const filled = (...pieces: [number, number][]) =>
    sideOf({ runs: [runOf([evidenceFrom([curveFrom(...pieces)])])] }, 'write')!;

  it('is its longest transfer, stretch by stretch, where there is one', () => {
    const side = filled([50, 100], [125, 40]);
    expect(side).toMatchObject({ passes: [], highestBytesPerSecond: 100 });
    expect(side.lowestBytesPerSecond).toBeCloseTo(40, 9);
    expect(compareSides(side, null)).toBeNull();
  });

  it('is held against another over the bytes that both have moved', () => {
    // The long one falls behind the short one's end: over the first 5,000 bytes they are alike.
    const [long, short] = [filled([50, 100], [900, 20]), filled([50, 100])];
    expect(compareSides(long, short)).toMatchObject({ isShown: false });
    expect(compareSides(long, short)!.share).toBeCloseTo(0, 9);
    const quicker = compareSides(filled([50, 130]), long)!;
    expect(quicker.isShown).toBe(true);
    expect(quicker.share).toBeGreaterThan(0.29);
  });
});

describe('a comparison', () => {
  const drive = (more: Partial<ProfileRun> = {}, link = 'pcie-4') => ({
    runs: [runOf([evidenceFrom([steady(10, 100)])], more)],
    connection: { hops: [hopOf(link)!] },
  });

  it('of like conditions says nothing', () => {
    expect(unequalConditions(drive(), drive({ fillShare: 0.35, startCelsius: 36 }))).toEqual([]);
    expect(unequalConditions(drive({ startCelsius: null }), drive({ startCelsius: 60 }))).toEqual([]);
  });

  it('says what was not alike', () => {
    const doubt = {
      code: 'busy-drive',
      effect: 'too-low',
      direction: null,
      evidence: 'x',
      advice: 'y',
      atSeconds: null,
    } as const;
    const finding = { ...doubt, effect: 'finding' } as const;
    expect(unequalConditions(drive(), drive({ fillShare: 0.7 }))).toEqual(['20 % full against 70 %']);
    expect(unequalConditions(drive(), drive({ startCelsius: 45 }))).toEqual(['began at 30 °C against 45 °C']);
    expect(unequalConditions(drive(), drive({}, 'usb-10'))).toEqual(['on another kind of connection']);
    expect(unequalConditions(drive(), drive({ traces: [evidenceFrom([steady(100, 100)])] }))).toEqual([
      'far more was moved on one of them',
    ]);
    expect(unequalConditions(drive(), drive({ doubts: [doubt as never] }))).toEqual([
      'a run of one of them is in doubt',
    ]);
    expect(unequalConditions(drive(), drive({ doubts: [finding as never] }))).toEqual([]);
  });
});

describe('a drive over time', () => {
  const at = (day: number, recipe: ProfileRun['recipe'], opening: number, floor: number): ProfileRun =>
    runOf(
      [
        evidenceFrom([steady(10, floor)], {
          span: { worstSecondBytesPerSecond: floor, floorBytesPerSecond: floor, openingBytesPerSecond: opening },
        }),
      ],
      { recipe, startedAt: `2026-03-0${day}T09:00:00Z`, fillShare: day / 10 },
    );

  it('is its latest run against the first of the same recipe', () => {
    const [latest, fill, ...earlier] = [
      at(5, 'short-passes', 90, 80),
      at(4, 'long-fill', 500, 50),
      at(2, 'short-passes', 95, 90),
      at(1, 'short-passes', 100, 100),
    ] as [ProfileRun, ProfileRun, ...ProfileRun[]];
    const change = changeOverTime([latest, fill, ...earlier], 'write')!;
    expect(change).toMatchObject({ since: '2026-03-01T09:00:00Z', fillShares: [0.1, 0.5] });
    expect(change.openingShare).toBeCloseTo(-0.1, 9);
    expect(change.floorShare).toBeCloseTo(-0.2, 9);
    // A recipe that ran once says nothing; the next that ran twice does.
    expect(changeOverTime([at(6, 'long-fill', 1, 1), latest, ...earlier], 'write')?.openingShare).toBeCloseTo(-0.1, 9);
    expect(changeOverTime([latest, fill], 'write')).toBeNull();
    expect(changeOverTime([latest, ...earlier], 'read')).toBeNull();
  });

  it('is not told of runs that are not alike, of one day, or in doubt', () => {
    const first = at(1, 'short-passes', 100, 100);
    const latest = at(5, 'short-passes', 60, 60);
    expect(changeOverTime([latest, first], 'write')?.floorShare).toBeCloseTo(-0.4, 9);
    expect(changeOverTime([{ ...latest, options: '[["seconds",9]]' }, first], 'write')).toBeNull();
    expect(
      changeOverTime(
        [
          { ...latest, options: null },
          { ...first, options: null },
        ],
        'write',
      ),
    ).toBeNull();
    expect(changeOverTime([{ ...latest, startedAt: '2026-03-01T09:25:00Z' }, first], 'write')).toBeNull();
    const held = latest.traces.map((trace) => ({ ...trace, mayProveBreaks: false }));
    expect(changeOverTime([{ ...latest, traces: held }, first], 'write')).toBeNull();
  });
});
