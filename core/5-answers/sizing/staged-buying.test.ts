import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildsOf, type Build } from '#core/5-answers/sizing/builds.ts';
import { whereNothingFits } from '#core/5-answers/sizing/fitting.ts';
import { judgeBuild } from '#core/5-answers/sizing/judge-build.ts';
import { parseMaterials } from '#core/5-answers/sizing/material.ts';
import { parseEnclosure, parseSizingConnection } from '#core/5-answers/sizing/part-lines.ts';
import { searchProject } from '#core/5-answers/sizing/project-search.ts';
import { searchBasis } from '#core/5-answers/sizing/search-basis.ts';
import { planTexts, readPlan } from '#core/5-answers/sizing/sizing-form.ts';
import { FIRST_PLAN, type Sizing } from '#core/5-answers/sizing/project.ts';
import { stagedAnswer, stagedBuying, stagedCsv } from '#core/5-answers/sizing/staged-buying.ts';
import { parseStages } from '#core/5-answers/sizing/stages.ts';
import { DISC, FLASH, TB, materialOf, sizingOf } from '#core/testing/sizing-of.ts';

/** Ten-terabyte drives at 100 each, boxes of two slots at 50 of which three may stand side by side; nothing is kept back. */
const plain = (more: Partial<Omit<Sizing, 'policy'>> & { policy?: Partial<Sizing['policy']> } = {}): Sizing => {
  const { policy, ...rest } = more;
  return sizingOf({
    drives: [{ ...DISC, label: 'Ten', capacityBytes: 10 * TB, price: 100 }],
    enclosures: ['box: 2 slots, 50, at most 3'].map(parseEnclosure),
    connections: ['in it: 0 over nothing'].map(parseSizingConnection),
    ...rest,
    policy: {
      ...{ growthShare: 0, fillLimit: 1, filesystemShare: 0, survives: 0, mostSpares: 0, mostDrives: 6 },
      layouts: ['stripe'],
      ...policy,
    },
  });
};
const answerOf = (sizing: Sizing) => stagedAnswer(sizing, searchProject(sizing)!)!;
const plainly = (text: string) => text.replaceAll('\u202f', ' ');

describe('buying in stages', () => {
  it('takes from each day on what its material needs until the next, at the price of that day', () => {
    // One terabyte on each of thirty days: twenty by day 20, thirty by day 30.
    const sizing = plain({ stages: parseStages(['day 21, 20 % less']) });
    const { buying, lines, summary } = answerOf(sizing);
    // Two drives and a box: 250. Then one drive at 80 and another box: 130. At once 3 × 100 and two boxes: 400.
    expect(buying.cost).toBe(380);
    expect(lines.map(({ when, text }) => plainly(`${when}: ${text}`))).toEqual([
      'At the beginning: 2 × Ten at 100, 1 × box at 50: 250 EUR. Then 2 × Ten, stripe, box, in it with 20 TB, enough until day 20.',
      'By day 21: 1 × Ten at 80, 1 × box at 50, drives at 20 % less than today: 130 EUR. Then 3 × Ten, stripe, 2 × box, in it with 30 TB, enough to the end.',
    ]);
    expect(plainly(summary)).toBe(
      'In all 380 EUR, 20 EUR less than the cheapest bought all at once. What drives cost later is as typed, and everything else as today. That stripe can take more drives while its material lies on it is taken for granted: ask before buying.',
    );
  });

  it('buys earlier what becomes dearer, and its box when it is needed', () => {
    const sizing = plain({ stages: parseStages(['day 11, 5 % less', 'day 21, 10 % more']) });
    const { buys } = answerOf(sizing).buying.stores[0]!;
    expect(buys.map(({ lines }) => lines.map(({ what, count, price }) => `${count} ${what} ${price}`))).toEqual([
      ['2 Ten 100', '1 box 50'],
      ['1 Ten 95'],
      ['1 box 50'],
    ]);
  });

  it('buys nothing on a day on which what is there is enough, and drives that are there cost nothing', () => {
    const sizing = plain({
      drives: [{ ...DISC, label: 'Ten', capacityBytes: 10 * TB, price: 100, there: 2 }],
      materials: [materialOf({ toDay: 25 })],
      stages: parseStages(['day 15', 'day 21']),
    });
    const { buying, lines, summary } = answerOf(sizing);
    expect(buying.stores[0]!.buys.map(({ sum }) => sum)).toEqual([50, 0, 150]);
    expect(plainly(lines[1]!.text)).toBe('nothing: 2 × Ten, stripe, box, in it is enough until day 20.');
    expect(summary).toContain('as much as all at once');
    expect(summary).toContain('Later prices are taken as those of today.');
  });

  it('buys for every store, and once what they share', () => {
    const sizing = plain({
      materials: parseMaterials(['Cameras: 1 TB a day, days 1–30, second copy']),
      connections: ['card: 40 shared over nothing'].map(parseSizingConnection),
      stages: parseStages(['day 21']),
      startsOn: '2027-03-01',
    });
    const { buying } = answerOf(sizing);
    // Each store: 2 × 100 + 50, then 100 + 50; the card once.
    expect(buying.stores.map(({ sum }) => sum)).toEqual([440, 400]);
    expect(buying.cost).toBe(840);
    const csv = stagedCsv(buying, sizing).split('\r\n').join('\n');
    expect(csv).toContain('1,2027-03-01,Working,Ten,2,100,200,EUR');
    expect(csv).toContain('21,2027-03-21,Second copy,box,1,50,50,EUR');
    expect(csv.trim().endsWith('in all,,,,840,EUR')).toBe(true);
  });

  it('is told as a way to fit where only all at once is over the budget', () => {
    const sizing = plain({ stages: parseStages(['day 21, 20 % less']), policy: { budget: 385 } });
    const { ways } = whereNothingFits(sizing, searchProject(sizing)!, answerOf(sizing));
    expect(ways.map(({ text }) => text)).toContain('Bought in stages, as below: 380 EUR.');
    expect(answerOf(sizing).isWithinBudget).toBe(true);
    const tight = plain({ stages: parseStages(['day 21, 20 % less']), policy: { budget: 379 } });
    expect(answerOf(tight).isWithinBudget).toBe(false);
    expect(answerOf(tight).summary).toContain('That is 1 EUR over the budget.');
  });

  it('has no answer where nothing is bought later, or nothing can be built so', () => {
    expect(stagedAnswer(plain(), searchProject(plain())!)).toBeNull();
    const tooMuch = plain({ materials: [materialOf({ bytesPerDay: 9 * TB })], stages: parseStages(['day 9']) });
    expect(stagedAnswer(tooMuch, searchProject(tooMuch)!)).toBeNull();
  });

  it('finds the cheapest of all ways to buy one kind in stages', () => {
    const projects = fc.record({
      perDay: fc.integer({ min: 1, max: 9 }),
      keepDays: fc.option(fc.integer({ min: 3, max: 30 })),
      survives: fc.constantFrom(0, 1),
      there: fc.integer({ min: 0, max: 3 }),
      shares: fc.array(fc.constantFrom(0.7, 0.9, 1, 1.2), { minLength: 1, maxLength: 2 }),
      days: fc.uniqueArray(fc.integer({ min: 2, max: 40 }), { minLength: 2, maxLength: 2 }),
    });
    let found = 0;
    fc.assert(
      fc.property(projects, ({ perDay, keepDays, survives, there, shares, days }) => {
        const stages = [...days]
          .sort((a, b) => a - b)
          .slice(0, shares.length)
          .map((onDay, at) => ({ onDay, priceShare: shares[at]! }));
        const sizing = sizingOf({
          materials: [materialOf({ bytesPerDay: perDay * TB, keepDays })],
          drives: [{ ...DISC, there }, FLASH],
          stages,
          policy: { survives, mostSpares: 1, mostDrives: 8 },
        });
        const staged = stagedBuying([searchBasis(sizing)], stages);
        const least = cheapestByTryingAll(sizing);
        if (least !== null) found += 1;
        expect(staged === null ? null : Math.round(staged.cost * 100)).toBe(
          least === null ? null : Math.round(least * 100),
        );
      }),
      { numRuns: 60 },
    );
    expect(found).toBeGreaterThan(10);
  });
});

/** Every sequence of builds that only get more drives, each thing bought when it costs least until it is needed. */
function cheapestByTryingAll(sizing: Sizing): number | null {
  const basis = searchBasis(sizing);
  const stages = [{ onDay: 1, priceShare: 1 }, ...sizing.stages];
  const families = new Map<string, Build[]>();
  for (const build of buildsOf(sizing)) {
    const { drive, other, layout, spares, enclosure, connection } = build;
    if (other !== null || layout === 'separate') continue;
    const family = [drive, layout, spares, enclosure, connection].join(' ');
    families.set(family, [...(families.get(family) ?? []), build]);
  }
  let least: number | null = null;
  for (const builds of families.values()) {
    const doing = stages.map(({ onDay }, at) => {
      const end = stages[at + 1]?.onDay ?? sizing.days + 1;
      const peakBytes = Math.max(...basis.timeline.total.slice(onDay - 1, end - 1));
      const within = { ...basis, budget: null, timeline: { ...basis.timeline, peakBytes } };
      return builds.filter((build) => judgeBuild(within, build).constraint === null);
    });
    for (const path of pathsThrough(doing)) {
      const cost = costOf(sizing, stages, path);
      if (least === null || cost < least) least = cost;
    }
  }
  return least;
}

const pathsThrough = (stages: Build[][]): Build[][] =>
  stages.reduce<Build[][]>(
    (paths, builds) =>
      paths.flatMap((path) =>
        builds.filter(({ count }) => count >= (path.at(-1)?.count ?? 0)).map((build) => [...path, build]),
      ),
    [[]],
  );

function costOf(sizing: Sizing, stages: readonly { priceShare: number }[], path: readonly Build[]): number {
  const last = path.at(-1)!;
  const { price, there } = sizing.drives[last.drive]!;
  // Drive by drive, in the order in which they are needed; those that are there first.
  const drives = Array.from({ length: last.count + last.spares }, (_, drive) => {
    if (drive < there) return 0;
    const needed = path.findIndex(({ count, spares }) => count + spares > drive);
    return price * Math.min(...stages.slice(0, needed + 1).map(({ priceShare }) => priceShare));
  });
  const around = sizing.enclosures[last.enclosure]!.price + sizing.connections[last.connection]!.price;
  const parts = sizing.connections[last.connection]!.parts.reduce((sum, part) => sum + part.price, 0);
  return drives.reduce((sum, one) => sum + one, 0) + around + parts;
}

describe('days to buy on', () => {
  it.each([
    ['day 60', 60, 1],
    ['60', 60, 1],
    ['day 60, 15 % less', 60, 0.85],
    ['day 60 at 15% less', 60, 0.85],
    ['day 60, drives 15 % cheaper', 60, 0.85],
    ['day 60, −15 %', 60, 0.85],
    ['day 60, -12,5 %', 60, 0.875],
    ['day 60, +10 %', 60, 1.1],
    ['day 60, 10 % dearer', 60, 1.1],
    ['week 9', 57, 1],
  ])('%s', (typed, onDay, priceShare) => {
    expect(parseStages([typed])).toEqual([{ onDay, priceShare }]);
  });

  it.each([
    ['later', '“later” is no day to buy on'],
    ['day 60, 15 %', 'how much less or more do drives cost then?'],
    ['day 60, 100 % less', 'drives do not become free'],
    ['day 1', 'is bought at the beginning'],
  ])('%s is refused', (typed, sentence) => {
    expect(() => parseStages([typed])).toThrow(sentence);
  });

  it('stand in order, each once', () => {
    expect(parseStages(['day 60', 'week 3']).map(({ onDay }) => onDay)).toEqual([15, 60]);
    expect(() => parseStages(['day 60', '60'])).toThrow('day 60 is there twice');
  });

  it('are typed with a date where the first day has one, and come back as they are', () => {
    const texts = { ...planTexts(FIRST_PLAN), startsOn: '2027-03-01', stages: '2027-03-15, 12.5 % less\nday 20' };
    const { plan, errors } = readPlan(texts);
    expect(errors).toEqual({});
    expect(plan!.stages).toEqual([
      { onDay: 15, priceShare: 0.875 },
      { onDay: 20, priceShare: 1 },
    ]);
    expect(planTexts(plan!)['stages']).toBe('day 15, 12.5% less\nday 20');
    expect(readPlan({ ...texts, stages: 'day 40' }).errors['stages']).toContain(
      'day 40 comes after the last of the project, day 30',
    );
  });
});
