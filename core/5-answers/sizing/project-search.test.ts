import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { copiedDays, type ChosenForStore } from '#core/5-answers/sizing/copied-day.ts';
import { copiedDay } from '#core/5-answers/sizing/copy-time.ts';
import { explainBuild, type ExplainedBuild } from '#core/5-answers/sizing/explain.ts';
import {
  efficientSets,
  efficientSharedSets,
  searchProject,
  storesOf,
  type BuildSet,
} from '#core/5-answers/sizing/project-search.ts';
import { parseSizingConnection, sizingConnectionLine } from '#core/5-answers/sizing/part-lines.ts';
import { boughtOnce, shoppingList } from '#core/5-answers/sizing/shopping.ts';
import type { Sizing, SizingDrive } from '#core/5-answers/sizing/project.ts';
import { searchBasis } from '#core/5-answers/sizing/search-basis.ts';
import { type JudgedBuild } from '#core/5-answers/sizing/judge-build.ts';
import { efficientFront, searchBuilds } from '#core/5-answers/sizing/search.ts';
import { planDifferences, planTexts, readPlan } from '#core/5-answers/sizing/sizing-form.ts';
import { materialOf, shoot, sizingOf, TB } from '#core/testing/sizing-of.ts';

const everywhere = (bytesPerDay: number) =>
  materialOf({
    bytesPerDay,
    elsewhere: [
      { store: 'second', keepDays: null },
      { store: 'away', keepDays: 5 },
    ],
  });
const threeStores = (more: Parameters<typeof sizingOf>[0] = {}): Sizing =>
  sizingOf({ materials: [everywhere(0.9 * TB)], workload: shoot('1'), ...more });
const copied = ({ copies }: ExplainedBuild): number => copiedDay(copies!, null).seconds;
const value = ({ cost, margin }: { cost: number; margin: number }) => [cost, Number(margin.toFixed(9))];

describe('the storage of a whole project', () => {
  it('has a store for each place where its material lives', () => {
    expect(storesOf(sizingOf())).toEqual(['working']);
    expect(storesOf(threeStores())).toEqual(['working', 'second', 'away']);
    const away = materialOf({ elsewhere: [{ store: 'away', keepDays: null }] });
    expect(storesOf(sizingOf({ materials: [away] }))).toEqual(['working', 'away']);
  });

  it('of one store is its builds', () => {
    const sizing = sizingOf({ workload: shoot('1') });
    const { front } = searchProject(sizing)!;
    expect(front.map(value)).toEqual(searchBuilds(searchBasis(sizing))!.front.map(value));
  });

  it('puts builds together to the sets that putting all together finds', () => {
    const build = fc.record({ cost: fc.integer({ min: 0, max: 60 }), margin: fc.integer({ min: 0, max: 20 }) });
    const builds = fc.array(build, { minLength: 1, maxLength: 8 }) as unknown as fc.Arbitrary<JudgedBuild[]>;
    fc.assert(
      fc.property(
        fc.array(builds, { minLength: 1, maxLength: 3 }),
        fc.option(fc.integer({ min: 0, max: 150 })),
        (stores, budget) => {
          const sets = stores.reduce<BuildSet[]>(
            (known, store) =>
              known.flatMap((set) =>
                store.map((one) => ({
                  builds: [...set.builds, one],
                  cost: set.cost + one.cost,
                  margin: Math.min(set.margin, one.margin),
                })),
              ),
            [{ builds: [], cost: 0, margin: Infinity }],
          );
          const truth = efficientFront(sets.filter(({ cost }) => budget === null || cost <= budget));
          expect(efficientSets(stores.map(efficientFront), budget).map(value)).toEqual(truth.map(value));
        },
      ),
    );
  });

  it('spends a budget on all stores together, and rules out what no set within it can hold', () => {
    const free = searchProject(threeStores())!;
    const cheapest = free.front[0]!.cost;
    const enough = searchProject(threeStores({ policy: { budget: cheapest } }))!;
    expect(enough.front.map(value)).toEqual([value(free.front[0]!)]);
    for (const [index, { result }] of enough.stores.entries()) {
      const others = free.stores.reduce(
        (sum, one, store) => (store === index ? sum : sum + one.result.cheapest!.cost),
        0,
      );
      for (const { cost } of result.front) expect(cost + others).toBeLessThanOrEqual(cheapest);
      expect(result.ruledOut.budget).toBeGreaterThan(free.stores[index]!.result.ruledOut.budget);
    }
    expect(searchProject(threeStores({ policy: { budget: cheapest - 1 } }))!.front).toEqual([]);
  });

  it('sizes copies by what is kept there and by the hours there are for a day', () => {
    const { stores } = searchProject(threeStores())!;
    const [working, second, away] = stores;
    expect(second!.basis.timeline.peakBytes).toBeCloseTo(working!.basis.timeline.peakBytes, 0);
    // Six days of it lie there at once: five it is kept, and the one it came.
    expect(away!.basis.timeline.peakBytes).toBeCloseTo(6 * 0.9 * 1.1 * TB, 0);
    expect(away!.result.cheapest!.cost).toBeLessThan(second!.result.cheapest!.cost);
    const build = second!.result.cheapest!;
    const explained = explainBuild(second!.basis, build);
    // At the rates it goes on at; the traces of these drives are straight.
    const written = (0.9 * 1.1 * TB) / explained.writeBytesPerSecond!;
    const readBack = (0.9 * 1.1 * TB) / explained.readBytesPerSecond!;
    expect(copied(explained) / (written + readBack)).toBeCloseTo(1, 4);
    expect(explained.sentences.join(' ')).toMatch(
      /fullest day’s 990\sGB are copied and read back in .* of the 8 h allowed/,
    );
    const unread = searchProject(threeStores({ policy: { copyVerified: false } }))!.stores[1]!;
    const quicker = explainBuild(unread.basis, build);
    expect(copied(quicker) / written).toBeCloseTo(1, 4);
    expect(quicker.sentences.join(' ')).toMatch(/990\sGB are copied in /);
    const hurried = searchProject(threeStores({ policy: { copySeconds: 3600 } }))!.stores[1]!;
    expect(hurried.result.ruledOut.writing).toBeGreaterThan(0);
    const tempting = explainBuild(hurried.basis, hurried.result.tempting.writing!);
    expect(tempting.sentences.at(-1)).toBe('Ruled out: it does not copy a day in its time.');
  });

  it('takes as long for a day as the slower of reading it and writing it, then reads it back', () => {
    const copies = { bytes: TB, writeSeconds: 3600, readBackSeconds: 1800, isProven: true };
    expect(copiedDay(copies, 600)).toEqual({ seconds: 5400, isHeldBackBySource: false });
    expect(copiedDay(copies, 7200)).toEqual({ seconds: 9000, isHeldBackBySource: true });
    expect(copiedDay(copies, null)).toEqual({ seconds: 5400, isHeldBackBySource: false });
    const chosen = (seconds: number | null): ChosenForStore[] => [
      { store: 'working', build: { copies: null, readsForCopies: [{ store: 'second', bytes: TB, seconds }] } },
      { store: 'second', build: { copies, readsForCopies: [] } },
      { store: 'away', build: undefined },
    ];
    const policy = { copyVerified: true, copySeconds: 7200 };
    expect(copiedDays(chosen(600), policy)).toEqual([
      { sentence: 'Second copy: a day is copied and read back in 1 h 30 min.', isInTime: true },
    ]);
    expect(copiedDays(chosen(7200), policy)).toEqual([
      {
        sentence:
          'Second copy: a day is copied and read back in 2 h 30 min, held back by reading the working storage, longer than the 2 h allowed.',
        isInTime: false,
      },
    ]);
    expect(copiedDays(chosen(null), policy)).toEqual([]);
  });

  it('tells of working storage what reading a day for the copies takes, once for stores that get as much', () => {
    const [working] = searchProject(threeStores())!.stores;
    const [build] = working!.result.front;
    const { readsForCopies, readBytesPerSecond, sentences } = explainBuild(working!.basis, build!);
    expect(readsForCopies.map(({ store, bytes }) => [store, Math.round(bytes / 1e9)])).toEqual([
      ['second', 990],
      ['away', 990],
    ]);
    expect(readsForCopies[0]!.seconds! / ((0.9 * 1.1 * TB) / readBytesPerSecond!)).toBeCloseTo(1, 4);
    const told = sentences.filter((one) => one.includes('are read here'));
    expect(told).toHaveLength(1);
    expect(told[0]).toMatch(/990\sGB for second copy and away are read here in /);
    expect(explainBuild(searchBasis(sizingOf()), build!).readsForCopies).toEqual([]);
  });

  it('takes drives that are there for the store they are there for', () => {
    const [disc, flash] = sizingOf().drives as [SizingDrive, SizingDrive];
    const shelf = { ...disc, there: 1, thereFor: [{ store: 'away' as const, count: 2 }] };
    const { stores } = searchProject(threeStores({ drives: [shelf, flash] }))!;
    const free = stores.map(({ store, basis }) => [store, basis.sizing.drives[0]!.there]);
    expect(free).toEqual([
      ['working', 1],
      ['second', 0],
      ['away', 2],
    ]);
    const none = searchProject(threeStores())!.stores;
    expect(stores[1]!.result.cheapest!.cost).toBe(none[1]!.result.cheapest!.cost);
    expect(stores[2]!.result.cheapest!.cost).toBeLessThan(none[2]!.result.cheapest!.cost);
  });

  it('does not promise that a copy is read back in time where nobody knows how a drive reads', () => {
    const unread = sizingOf().drives.map((drive) => ({ ...drive, readBytesPerSecond: null }));
    const [, second] = searchProject(threeStores({ drives: unread, workload: null }))!.stores;
    expect(second!.result.cheapest).toBeNull();
    const tempting = explainBuild(second!.basis, second!.result.tempting.writing!);
    expect(tempting.sentences.join(' ')).toContain('How long a day’s copies take is not known');
    const trusting = threeStores({ drives: unread, workload: null, policy: { copyVerified: false } });
    expect(searchProject(trusting)!.stores[1]!.result.cheapest).not.toBeNull();
  });

  it('fills separate drives one after the other, with one slot', () => {
    const second = searchProject(threeStores({ policy: { copyVerified: false } }))!.stores[1]!;
    const separate = second.result.front.find(({ layout }) => layout === 'separate')!;
    expect(separate.count).toBeGreaterThan(1);
    const { writeBytesPerSecond, sentences } = explainBuild(second.basis, separate);
    expect(writeBytesPerSecond).toBeLessThanOrEqual(900e6);
    expect(sentences.join(' ')).toContain('the rest is not');
    const working = searchProject(threeStores())!.stores[0]!;
    expect(working.result.front.some(({ layout }) => layout === 'separate')).toBe(false);
  });

  it('tells its progress over all stores, and ends when it is told to', () => {
    const shares: number[] = [];
    searchProject(threeStores({ policy: { budget: 9000 } }), (share, soFar) => {
      shares.push(share);
      expect(soFar().stores.length).toBeLessThanOrEqual(3);
      return true;
    });
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.at(-1)).toBe(1);
    let asked = 0;
    expect(searchProject(threeStores(), () => (asked += 1) < 5)).toBeNull();
    expect(asked).toBe(5);
    // With a budget it looks twice; it ends within the first time, too.
    let looked = 0;
    expect(searchProject(threeStores({ policy: { budget: 9000 } }), () => (looked += 1) < 3)).toBeNull();
    expect(looked).toBe(3);
  });

  it('has no sets before each store has a build, and none where one store has none', () => {
    const sets: number[] = [];
    searchProject(threeStores(), (share, soFar) => {
      const { stores, front } = soFar();
      if (stores.length < 3) expect(front).toEqual([]);
      sets.push(front.length);
      return share <= 1;
    });
    expect(sets[0]).toBe(0);
    expect(sets.at(-1)).toBeGreaterThan(0);
    const hopeless = searchProject(threeStores({ policy: { copySeconds: 60 } }))!;
    expect(hopeless.stores[0]!.result.front.length).toBeGreaterThan(0);
    expect(hopeless.stores[1]!.result.front).toEqual([]);
    expect(hopeless.front).toEqual([]);
    const broke = searchProject(threeStores({ policy: { copySeconds: 60, budget: 9000 } }))!;
    expect(broke.stores[0]!.result.front.length).toBeGreaterThan(0);
    expect(broke.front).toEqual([]);
  });
});

describe('a plan as it is typed', () => {
  const plan = { ...sizingOf(), choice: [] };

  it('is read again as it was', () => {
    const texts = {
      ...planTexts(plan),
      phases: 'Shooting: 30 days\nFinishing: 8 weeks',
      materials: 'Cameras: 1 TB a day, during Shooting, second copy, away 90 days',
      startsOn: '2027-03-01',
      choice: 'Disc: 4 there, 2 there for away',
      units: 'binary',
      copySeconds: '6 h',
      copyVerified: 'no',
      errorsPerBit: '1e-15',
    };
    const { plan: read, errors } = readPlan(texts);
    expect(errors).toEqual({});
    expect(read).toMatchObject({
      startsOn: '2027-03-01',
      units: 'binary',
      choice: [{ label: 'Disc', there: 4, thereFor: [{ store: 'away', count: 2 }] }],
      materials: [{ fromDay: 1, toDay: 30, during: 'Shooting' }],
      policy: { copySeconds: 21_600, copyVerified: false },
    });
    expect(readPlan(planTexts(read!)).plan).toEqual(read);
  });

  it('reads its days as people say them, from its end too', () => {
    const texts = {
      ...planTexts(plan),
      days: '6 weeks',
      phases: 'Shooting: 4 weeks, 5 days a week\nMix: last week',
      materials: ['Masters: 2 TB, last day', 'Mix: 1 TB a day, during Mix', 'Late: 1 TB a day, from day 40'].join('\n'),
      budget: '€5,000.50',
      leastSpares: '1',
    };
    const { plan: read, errors } = readPlan(texts);
    expect(errors).toEqual({});
    expect(read).toMatchObject({
      days: 42,
      phases: [{ toDay: 28 }, { name: 'Mix', fromDay: 36, toDay: 42 }],
      materials: [
        { name: 'Masters', fromDay: 42, toDay: 42 },
        { fromDay: 36, toDay: 42 },
        { fromDay: 40, toDay: 42 },
      ],
      policy: { budget: 5000.5, leastSpares: 1 },
    });
    const differences = planDifferences(texts, { ...texts, budget: '€6,000' });
    expect(differences).toEqual([{ label: 'Budget', theirs: '€5,000.50', mine: '€6,000' }]);
  });

  it.each([
    ['days', '0', /days/],
    ['materials', 'Cameras: 1 TB a day, during Rest', /no part of the project/],
    ['materials', '', /at least one line/],
    ['materials', 'Masters: 1 TB a day, days 45–60', /“Masters” comes from day 45 on, and the project ends on day 40/],
    ['materials', 'Cameras: 1000000000 TB, day 1', /more than a million terabytes/],
    ['materials', 'Cameras: 1 TB a day, days 1–9999', /beyond day 3650/],
    ['phases', 'Shooting: 900 weeks', /beyond day 3650/],
    ['phases', 'soon', /calendar/],
    ['headroomShare', '25', /can mean 25 % or 25 times/],
    ['budget', '5000 USD', /a price is in USD, and the project reckons in EUR/],
    ['enclosures', 'Box: 8 slots, £300', /a price is in GBP/],
    ['leastSpares', '2', /more are wanted than there may be/],
    ['materials', 'Cache: 9 TB, days 3–9', /once or every day/],
    ['materials', 'Cache: −9 TB, day 3', /less than nothing/],
    ['startsOn', 'Monday', /no date/],
    ['choice', 'Disc: few', /drives/],
    ['copySeconds', '30 days', /must be from/],
    ['copySurvives', '3', /must be from 0 to 2/],
    ['errorsPerBit', '2', /must be from/],
  ])('is refused at %s “%s”, with a sentence at that field', (option, text, fault) => {
    const { plan: read, errors } = readPlan({ ...planTexts(plan), [option]: text });
    expect(read).toBeNull();
    expect(errors[option]).toMatch(fault);
  });
});

describe('parts that serve all stores', () => {
  const build = (cost: number, margin: number) => ({ cost, margin }) as JudgedBuild;

  it('are paid once in a set, and the best sets are those of looking at every set one by one', () => {
    const shared = fc
      .subarray(['card 120', 'switch 90'])
      .map((names) => Object.fromEntries(names.map((name) => [name, Number(name.split(' ')[1])])));
    const group = fc.record({
      shared,
      builds: fc.array(fc.tuple(fc.integer({ min: 200, max: 900 }), fc.integer({ min: 0, max: 9 })), {
        minLength: 1,
        maxLength: 4,
      }),
    });
    const stores = fc.array(fc.array(group, { minLength: 1, maxLength: 2 }), { minLength: 2, maxLength: 3 });
    fc.assert(
      fc.property(stores, fc.option(fc.integer({ min: 300, max: 2500 })), (drawn, budget) => {
        const fronts = drawn.map((groups) =>
          groups.map((one) => ({
            shared: one.shared,
            front: efficientFront(one.builds.map(([cost, margin]) => build(cost, margin))),
          })),
        );
        // Every build of every store with every other.
        const all = drawn.reduce<{ cost: number; margin: number; parts: Record<string, number> }[]>(
          (sets, groups) =>
            sets.flatMap((set) =>
              groups.flatMap((one) =>
                one.builds.map(([cost, margin]) => {
                  const again = Object.entries(one.shared).filter(([name]) => name in set.parts);
                  return {
                    cost: set.cost + cost - again.reduce((sum, [, price]) => sum + price, 0),
                    margin: Math.min(set.margin, margin),
                    parts: { ...set.parts, ...one.shared },
                  };
                }),
              ),
            ),
          [{ cost: 0, margin: Infinity, parts: {} }],
        );
        const truth = efficientFront(all.filter(({ cost }) => budget === null || cost <= budget));
        const value = ({ cost, margin }: { cost: number; margin: number }) => [cost, margin];
        expect(efficientSharedSets(fronts, budget).map(value)).toEqual(truth.map(value));
      }),
      { numRuns: 500 },
    );
  });

  it('are bought for the first store and there for the others, in the search and in the lists', () => {
    const shared = 'machine: card 120 shared + cable 30 over Ethernet 10 Gb/s';
    const sizing = sizingOf({
      materials: [materialOf({ toDay: 8, elsewhere: [{ store: 'second', keepDays: null }] })],
      connections: [parseSizingConnection(shared)],
      policy: { survives: 0, mostSpares: 0, copySeconds: 86_400 },
    });
    expect(sizingConnectionLine(sizing.connections[0]!)).toBe(shared);
    const { stores, front } = searchProject(sizing)!;
    const [set] = front;
    expect(set!.cost).toBe(set!.builds.reduce((sum, { cost }) => sum + cost, 0) - 120);
    const lists = boughtOnce(
      set!.builds.map((one, at) => ({ store: stores[at]!.store, lines: shoppingList(stores[at]!.basis.sizing, one) })),
    );
    const cards = lists.map(({ lines }) => lines.find(({ what }) => what === 'machine: card')!);
    expect(cards.map(({ there, sum }) => [there, sum])).toEqual([
      [0, 120],
      [1, 0],
    ]);
    expect(lists.flatMap(({ lines }) => lines).reduce((sum, line) => sum + line.sum, 0)).toBe(set!.cost);
    // A budget that only the sharing keeps is enough.
    const tight = { ...sizing, policy: { ...sizing.policy, budget: set!.cost } };
    expect(searchProject(tight)!.front[0]!.cost).toBe(set!.cost);
    expect(searchProject({ ...tight, policy: { ...tight.policy, budget: set!.cost - 1 } })!.front).toEqual([]);
  });
});
