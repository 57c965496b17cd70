import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nearestText, whereNothingFits } from '#core/5-answers/sizing/fitting.ts';
import { moveAnswers, movesOf } from '#core/5-answers/sizing/moves.ts';
import { fillTimeline, materialLine, parseMaterials, withCalendar } from '#core/5-answers/sizing/material.ts';
import { parseCalendar } from '#core/5-answers/sizing/calendar.ts';
import { parseEnclosure, parseSizingConnection } from '#core/5-answers/sizing/part-lines.ts';
import { searchProject } from '#core/5-answers/sizing/project-search.ts';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import { DISC, materialOf, shoot, sizingOf, TB } from '#core/testing/sizing-of.ts';

/** Ten-terabyte drives at 100 each in one box behind a link that never binds; nothing is kept back. */
const plain = (more: Partial<Omit<Sizing, 'policy'>> & { policy?: Partial<Sizing['policy']> } = {}): Sizing => {
  const { policy, ...rest } = more;
  return sizingOf({
    drives: [{ ...DISC, label: 'Ten', capacityBytes: 10 * TB, price: 100 }],
    enclosures: ['box: 4 slots, 50'].map(parseEnclosure),
    connections: ['in it: 0 over nothing'].map(parseSizingConnection),
    ...rest,
    policy: { growthShare: 0, fillLimit: 1, filesystemShare: 0, survives: 0, mostSpares: 0, mostDrives: 4, ...policy },
  });
};
const search = (sizing: Sizing) => searchProject(sizing)!;
const ways = (sizing: Sizing) =>
  whereNothingFits(sizing, search(sizing), null).ways.map(({ text }) => text.replaceAll('\u202f', ' '));
const nearest = (sizing: Sizing) => {
  const [found = null] = whereNothingFits(sizing, search(sizing), null).nearest;
  return found && nearestText(found, 'EUR', true).replaceAll('\u202f', ' ');
};

describe('where nothing fits', () => {
  it('is said by how much money it misses, and that budget is named', () => {
    // Thirty terabytes take three drives and the box: 350.
    const sizing = plain({ policy: { budget: 300 } });
    expect(ways(sizing)).toContain('With a budget of 350 EUR, 50 more: 3 × Ten, stripe, box, in it for 350 EUR.');
    expect(whereNothingFits(sizing, search(sizing), null).nearest.map((one) => nearestText(one, 'EUR', true))).toEqual([
      'Nearest: 3 × Ten, stripe, box, in it for 350 EUR. It costs 350 EUR, 50 EUR more than may be spent on it.',
    ]);
    expect(ways(plain({ policy: { budget: 350 } }))).toEqual([]);
    expect(nearest(plain({ policy: { budget: 350 } }))).toBeNull();
  });

  it('is said by the room it misses, with the days to keep, and the drives it would take', () => {
    const sizing = plain({ materials: [materialOf({ bytesPerDay: 2 * TB })] });
    // Sixty terabytes, and four drives hold forty.
    expect(nearest(sizing)).toBe(
      'Nearest: 4 × Ten, stripe, box, in it for 450 EUR. It is full on day 21 of 40: 20 TB are missing on the fullest day.',
    );
    const all = ways(sizing);
    // What came on twenty days fits: its own day and nineteen more.
    expect(all.some((one) => one.startsWith('With “Cameras” kept 19 days instead of to the end: 4 × Ten'))).toBe(true);
    expect(all.some((one) => one.startsWith('With up to 36 drives, in as many enclosures as they take: 6 × Ten'))).toBe(
      true,
    );
  });

  it('names every reason of the nearest, not the first', () => {
    const sizing = plain({
      materials: [materialOf({ bytesPerDay: 2 * TB })],
      policy: { survives: 2, budget: 100 },
      drives: [{ ...DISC, label: 'Ten', capacityBytes: 10 * TB, price: 100, most: 1 }],
    });
    expect(nearest(sizing)).toMatch(
      /It survives no failed drive, and 2 may fail; it costs 150 EUR, 50 EUR more than may be spent on it; it is full on day 6 of 40: 50 TB are missing/,
    );
  });

  it('tells the rate that is missing, and what headroom and link have to do with it', () => {
    const sizing = plain({
      materials: [materialOf({ toDay: 5 })],
      workload: shoot('1'),
      connections: ['slow: 0 over Ethernet 1 Gb/s'].map(parseSizingConnection),
    });
    expect(nearest(sizing)).toMatch(/carries 11\d MB\/s of the 228 MB\/s that recording needs with 25 % headroom/);
    expect(ways(sizing)).toEqual([expect.stringMatching(/^Over a link that holds no drive back/)]);
  });

  it('says the time for a day’s copies that would do: it is an assumption of the plan', () => {
    // Ten terabytes a day to one drive of 124 MB/s, unverified: 80,645 s, with its headroom 28 h.
    const sizing = plain({
      materials: [materialOf({ bytesPerDay: 2 * TB, toDay: 4, elsewhere: [{ store: 'second', keepDays: null }] })],
      policy: { copySeconds: 3600, copyVerified: false, headroomShare: 0 },
      drives: [{ ...DISC, label: 'Ten', capacityBytes: 10 * TB, price: 100, most: 1 }],
    });
    const seconds = (2 * TB) / 124e6;
    expect(ways(sizing)).toEqual([expect.stringMatching(/^With 4 h 28 min for a day’s copies instead of 1 h/)]);
    expect(seconds / 60).toBeCloseTo(4 * 60 + 28.8, 0);
  });

  it('every way that is named lets something be built, and nothing is named that something fits without', () => {
    const drawn = fc.record({
      perDay: fc.integer({ min: 1, max: 40 }),
      budget: fc.option(fc.integer({ min: 50, max: 900 })),
      survives: fc.integer({ min: 0, max: 2 }),
      growthShare: fc.constantFrom(0, 0.2),
      fillLimit: fc.constantFrom(0.7, 1),
    });
    fc.assert(
      fc.property(drawn, ({ perDay, ...policy }) => {
        const sizing = plain({ materials: [materialOf({ bytesPerDay: (perDay * TB) / 10 })], policy });
        const found = search(sizing);
        const { nearest: near, ways: all } = whereNothingFits(sizing, found, null);
        expect(all.length > 0 && found.front.length > 0).toBe(false);
        if (found.front.length > 0) return;
        const costs = all.map(({ cost }) => cost);
        expect(costs).toEqual([...costs].sort((a, b) => a - b));
        for (const { text, cost } of all) expect(text).toContain(` for ${cost.toLocaleString('en-GB')} EUR.`);
        expect(near[0]!.reasons.length).toBeGreaterThan(0);
      }),
      { numRuns: 60 },
    );
  });
});

describe('moves over a whole plan', () => {
  const phases = parseCalendar(['Shooting: 2 weeks, 5 days a week', 'Finishing: 2 weeks']);
  const lines = [
    'Cameras: 3 × 100 MB/s × 1 h a day, during Shooting',
    'Formats: 2 cameras × UHD ProRes 422 HQ 25p × 1 h a day, during Shooting',
    'Proxies: 5 % of Formats',
    'Masters: 2 TB, day 28',
  ];
  const sizing = sizingOf({
    days: 28,
    phases,
    materials: withCalendar(parseMaterials(lines), phases),
    workload: shoot('2'),
  });
  const [days, camera, half] = movesOf(sizing);

  it('five more days of work, with the days off between them, and all that follows comes later', () => {
    expect(days!.label).toBe('Five more days of Shooting');
    // Days 1–14 with two weekends; five days of work more end on day 19, a Friday.
    expect(days!.sizing).toMatchObject({
      days: 33,
      phases: [
        { fromDay: 1, toDay: 19 },
        { fromDay: 20, toDay: 33 },
      ],
      materials: [{ toDay: 19 }, { toDay: 19 }, { toDay: 19 }, { fromDay: 33, toDay: 33 }],
    });
  });

  it('one more camera, in its room, in what is a share of it, and in the rate', () => {
    const [cameras, formats, proxies, masters] = camera!.sizing.materials;
    const before = sizing.materials;
    // What is a rate alone may be anything; formats are cameras.
    expect(cameras!.bytesPerDay).toBe(before[0]!.bytesPerDay);
    expect(formats!.bytesPerDay / before[1]!.bytesPerDay).toBeCloseTo(1.5, 6);
    expect(proxies!.bytesPerDay / before[2]!.bytesPerDay).toBeCloseTo(1.5, 6);
    expect(masters!.bytesPerDay).toBe(before[3]!.bytesPerDay);
    expect(camera!.sizing.workload!.items[0]).toMatchObject({ streams: 3 });
    // Taken over, it is the plan that a person would type, and one more can follow.
    expect(materialLine(formats!)).toBe('Formats: 3 cameras × UHD ProRes 422 HQ 25p × 1 h a day, during Shooting');
    expect(parseMaterials([materialLine(formats!)])[0]!.bytesPerDay).toBe(formats!.bytesPerDay);
    const again = movesOf(camera!.sizing)[1]!.sizing;
    expect(again.materials[1]!.bytesPerDay).toBe(2 * before[1]!.bytesPerDay);
  });

  it('are answered in money, room and the day that what is cheapest now is full', () => {
    const plan = plain({ materials: [materialOf({ toDay: 20 })], days: 30 });
    const found = search(plan);
    const [more, halved] = moveAnswers(plan, found).map(({ text }) => text.replaceAll('\u202f', ' '));
    // Twenty terabytes on two drives; twenty-five need a third, and two are full on the twenty-first day.
    expect(more).toBe('+100 EUR; +5 TB on the fullest day. What is cheapest now would be full on day 21.');
    expect(halved).toBe('−100 EUR; −10 TB on the fullest day. What is cheapest now has room for it.');
    expect(
      half!.sizing.materials.every((one, at) => Math.abs(one.bytesPerDay * 2 - sizing.materials[at]!.bytesPerDay) < 2),
    ).toBe(true);
    expect(fillTimeline(half!.sizing.materials, 28, 0).peakBytes).toBeCloseTo(
      fillTimeline(sizing.materials, 28, 0).peakBytes / 2,
      -2,
    );
  });
});
