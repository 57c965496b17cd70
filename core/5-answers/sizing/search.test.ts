import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildCode, buildsOf, parseBuildCode, stackSize, type Build } from '#core/5-answers/sizing/builds.ts';
import { buildsCsv } from '#core/5-answers/sizing/builds-csv.ts';
import { composedSupply, judgeComposed, ratedDemands, supplyOfDrive } from '#core/5-answers/sizing/composed.ts';
import { buildName, explainBuild } from '#core/5-answers/sizing/explain.ts';
import { layoutById, takes } from '#core/5-answers/sizing/layouts.ts';
import { parseEnclosure, parseSizingConnection } from '#core/5-answers/sizing/part-lines.ts';
import { parseSizing, type Sizing } from '#core/5-answers/sizing/project.ts';
import { searchBasis } from '#core/5-answers/sizing/search-basis.ts';
import { judgeBuild } from '#core/5-answers/sizing/judge-build.ts';
import { efficientFront, searchBuilds, type SizingResult } from '#core/5-answers/sizing/search.ts';
import { shoppingList } from '#core/5-answers/sizing/shopping.ts';
import { STORES, type StoreId } from '#core/5-answers/sizing/stores.ts';
import {
  asFirstWritten,
  behindWideLinks,
  DISC,
  FLASH,
  materialOf,
  shoot,
  sizingOf,
  TB,
} from '#core/testing/sizing-of.ts';

const MB = 1e6;
const found = (sizing: Sizing, store: StoreId = 'working'): SizingResult => searchBuilds(searchBasis(sizing, store))!;

describe('several drives together', () => {
  it('hold what one of them holds, as many times, and no more than their link', () => {
    const demands = ratedDemands(shoot());
    const word = (count: number, ceiling: number) => {
      const together = { dataDrives: count, waitedFor: count };
      const members = [{ supply: supplyOfDrive(DISC), count }];
      const composed = composedSupply(members, { write: together, read: together }, 0.9, ceiling);
      return judgeComposed(composed, demands, { headroomShare: 0, needsProof: true })[0]!.verdict.verdict;
    };
    const least = Math.ceil(demands[0]!.bytesPerSecond / (124 * MB * 0.9));
    expect(word(least, Infinity)).toBe('holds');
    expect(word(least - 1, Infinity)).toBe('breaks');
    expect(word(36, 100 * MB)).toBe('breaks');
  });
});

describe('the search', () => {
  /** Every build one by one: slow, and plain to be right. */
  function bruteForce(sizing: Sizing, store: StoreId) {
    const basis = searchBasis(sizing, store);
    const all = [...buildsOf(basis.sizing)].map((build) => judgeBuild(basis, build));
    const feasible = all.filter(({ constraint }) => constraint === null).map(({ judged }) => judged);
    return { all, feasible, front: efficientFront(feasible) };
  }
  const value = ({ cost, margin }: { cost: number; margin: number }) => [cost, margin];

  it('finds what looking at every build one by one finds, for three hundred projects', () => {
    const arbitrary = fc.record({
      perDay: fc.integer({ min: 1, max: 4000 }).map((gigabytes) => gigabytes * 1e9),
      copies: fc.integer({ min: 1, max: 3 }),
      store: fc.constantFrom(...STORES),
      survives: fc.integer({ min: 0, max: 2 }),
      copySurvives: fc.integer({ min: 0, max: 1 }),
      copySeconds: fc.integer({ min: 600, max: 90_000 }),
      mostSpares: fc.integer({ min: 0, max: 1 }),
      leastSpares: fc.integer({ min: 0, max: 1 }),
      isShareThere: fc.boolean(),
      mostShelves: fc.integer({ min: 1, max: 2 }),
      mostDrives: fc.integer({ min: 1, max: 7 }),
      budget: fc.option(fc.integer({ min: 100, max: 9000 })),
      price: fc.integer({ min: 0, max: 900 }),
      there: fc.integer({ min: 0, max: 3 }),
      thereForCopies: fc.integer({ min: 0, max: 3 }),
      copyVerified: fc.boolean(),
      most: fc.option(fc.integer({ min: 3, max: 6 })),
      holdsDegraded: fc.boolean(),
      mostDecibels: fc.option(fc.integer({ min: 20, max: 45 })),
      leastYears: fc.option(fc.integer({ min: 0, max: 12 })),
      records: fc.boolean(),
    });
    fc.assert(
      fc.property(arbitrary, ({ isShareThere, mostShelves, ...drawn }) => {
        const { perDay, copies, store, price, there, thereForCopies, most, records, ...policy } = drawn;
        const elsewhere = (['second', 'away'] as const).map((one) => ({ store: one, keepDays: null }));
        const sizing = sizingOf({
          policy,
          materials: [materialOf({ bytesPerDay: perDay, copies, elsewhere })],
          drives: [
            {
              ...DISC,
              ...{ price, loudnessDecibels: 28, there, most },
              thereFor: [{ store: 'second', count: thereForCopies }],
            },
            { ...FLASH, enduranceBytes: 1400 * TB },
            ...(isShareThere
              ? [{ ...DISC, id: 'share', label: 'Share', medium: 'network' as const, there: 1, most: 1 }]
              : []),
          ],
          enclosures: [
            'small box: 4 slots, 200',
            `shelf: 3 slots over SATA 3 Gb/s, 700 + rails 30 + tray 12 each, at most ${mostShelves}`,
          ].map(parseEnclosure),
          workload: records ? shoot('1') : null,
        });
        const search = found(sizing, store);
        const truth = bruteForce(sizing, store);
        expect(search.builds).toBe(truth.all.length);
        expect(search.feasible).toBe(truth.feasible.length);
        expect(search.front.map(value)).toEqual(truth.front.map(value));
        expect(search.cheapest && value(search.cheapest)).toEqual(truth.front[0] ? value(truth.front[0]) : null);
        for (const [constraint, count] of Object.entries(search.ruledOut)) {
          const those = truth.all.filter((one) => one.constraint === constraint);
          expect(count, constraint).toBe(those.length);
          const tempting = search.tempting[constraint as keyof typeof search.tempting];
          expect(tempting === undefined, constraint).toBe(count === 0);
          if (constraint === 'capacity' || !tempting) continue;
          expect(tempting.cost, constraint).toBe(Math.min(...those.map(({ judged }) => judged.cost)));
        }
      }),
      { numRuns: 300 },
    );
  });

  it('mixes only drives that are there, and loses nothing by it', () => {
    const mixes = (there: number) =>
      [...buildsOf(sizingOf({ drives: [{ ...DISC, there }, FLASH], policy: { mostDrives: 6 } }))].filter(
        ({ other }) => other !== null,
      );
    expect(mixes(0)).toEqual([]);
    expect(mixes(2).every(({ count }) => count <= 2)).toBe(true);
    expect(mixes(2).some((build) => stackSize(build) === 6)).toBe(true);
    const there = fc.integer({ min: 0, max: 5 });
    fc.assert(
      fc.property(there, there, fc.integer({ min: 0, max: 900 }), fc.boolean(), (first, second, price, records) => {
        const sizing = sizingOf({
          drives: [
            { ...DISC, there: first, price },
            { ...FLASH, there: second },
          ],
          workload: records ? shoot('1') : null,
          policy: { mostDrives: 5, mostSpares: 0, survives: 0 },
        });
        // Every split of both kinds, whatever is there.
        const splits = [1, 2, 3, 4].flatMap((count) => [1, 2, 3, 4].map((otherCount) => ({ count, otherCount })));
        const [alike] = [...buildsOf(sizing)].filter(({ count }) => count === 1);
        const all = splits
          .filter(({ count, otherCount }) => count + otherCount <= 5)
          .flatMap((split) =>
            (['stripe', 'mirror', 'single-parity', 'double-parity'] as const).flatMap((layout) =>
              [0, 1].flatMap((enclosure) =>
                [0, 1].map((connection): Build => ({ ...alike!, ...split, other: 1, layout, enclosure, connection })),
              ),
            ),
          )
          .filter(({ layout, count, otherCount }) => takes(layoutById(layout), count + otherCount));
        const basis = searchBasis(sizing);
        const mixed = all
          .map((build) => judgeBuild(basis, build))
          .filter(({ constraint }) => constraint === null)
          .map(({ judged }) => judged);
        const { front } = found(sizing);
        expect(efficientFront([...front, ...mixed]).map(value)).toEqual(front.map(value));
      }),
      { numRuns: 60 },
    );
  });

  it('stands as many enclosures side by side as its drives take, and pays for each', () => {
    const sizing = sizingOf({
      materials: [materialOf({ bytesPerDay: 3 * TB })],
      drives: [DISC],
      enclosures: ['Shelf: 4 slots, 300 + rails 25 + tray 10 each, at most 3'].map(parseEnclosure),
      connections: ['direct: 40 over nothing'].map(parseSizingConnection),
      policy: { mostDrives: 12, mostSpares: 0, survives: 1, growthShare: 0 },
    });
    // 90 TB of 16 × 0.98 × 0.8 TB each: eight hold it, and one more may fail. Nine take three shelves of four.
    const { cheapest } = found(sizing);
    expect(cheapest).toMatchObject({ count: 9, layout: 'single-parity' });
    expect(cheapest!.cost).toBe(9 * 290 + 3 * (300 + 25) + 9 * 10 + 40);
    const bought = shoppingList(sizing, cheapest!).map(({ what, count }) => [what, count]);
    expect(bought).toEqual([
      ['Disc', 9],
      ['Shelf', 3],
      ['Shelf: rails', 3],
      ['Shelf: tray', 9],
      ['direct', 1],
    ]);
    expect(buildName(sizing, cheapest!)).toBe('9 × Disc, single parity, 3 × Shelf, direct');
  });

  it('takes a share as it is: without a box, and not for what nobody knows it survives', () => {
    const share = { ...DISC, id: 'share', label: 'Share', medium: 'network' as const, price: 0, there: 1, most: 1 };
    const sizing = (survives: number) =>
      sizingOf({ drives: [share], materials: [materialOf({ toDay: 8 })], policy: { survives } });
    const result = found(sizing(0));
    // One build for each connection, and no box is bought for it.
    expect(result.builds).toBe(2);
    expect(result.cheapest).toMatchObject({ cost: 0, count: 1, layout: 'single' });
    expect(found(sizing(1)).ruledOut['redundancy-unknown']).toBe(2);
  });

  it('does not pass what a card does not say', () => {
    const quiet = found(sizingOf({ policy: { mostDecibels: 60 } }));
    expect(quiet.feasible).toBe(0);
    expect(quiet.ruledOut['loudness-unknown']).toBeGreaterThan(0);
    const lasting = found(sizingOf({ policy: { leastYears: 1 } }));
    expect(lasting.feasible).toBe(0);
    expect(lasting.ruledOut['endurance-unknown']).toBeGreaterThan(0);
  });

  it('takes drives that are there for nothing, and no more of a kind than there may be', () => {
    const owned = sizingOf({ drives: [{ ...DISC, there: 4 }, FLASH] });
    const cheapest = found(owned).cheapest!;
    expect(cheapest.cost).toBeLessThan(found(sizingOf()).cheapest!.cost);
    const list = shoppingList(owned, cheapest);
    expect(list[0]).toMatchObject({ what: 'Disc', there: Math.min(4, list[0]!.count) });
    expect(list.reduce((sum, one) => sum + one.sum, 0)).toBe(cheapest.cost);
    const few = { ...owned, drives: [{ ...DISC, most: 3 }] };
    expect(Math.max(...[...buildsOf(few)].map((build) => build.count + build.spares))).toBe(3);
  });

  const best = (sizing: Sizing) => found(sizing).cheapest?.cost ?? Infinity;

  it('is never worse for a larger budget, a wider link, or another drive to choose from', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 6000 }), fc.integer({ min: 0, max: 3000 }), (budget, more) => {
        const at = (amount: number) => best(sizingOf({ workload: shoot('1'), policy: { budget: amount } }));
        expect(at(budget + more)).toBeLessThanOrEqual(at(budget));
      }),
      { numRuns: 40 },
    );
    const narrow = sizingOf({ workload: shoot() });
    expect(best(behindWideLinks(narrow))).toBeLessThanOrEqual(best(narrow));
    expect(best(narrow)).toBeLessThanOrEqual(best({ ...narrow, drives: narrow.drives.slice(0, 1) }));
  });

  it('tells why the tempting cheap one fails', () => {
    const sizing = sizingOf({ workload: shoot(), materials: [materialOf({ bytesPerDay: 0.8 * TB })] });
    const basis = searchBasis(sizing);
    const result = searchBuilds(basis)!;
    const tempting = result.tempting.writing!;
    expect(tempting.cost).toBeLessThan(result.cheapest!.cost);
    expect(sizing.connections[tempting.connection]!.label).toBe('1 Gb/s');
    const explained = explainBuild(basis, tempting);
    expect(explained.constraint).toBe('writing');
    expect(explained.verdicts[0]!.verdict).toBe('breaks');
    expect(explained.sentences.join(' ')).toMatch(
      /held there by Ethernet 1 Gb\/s.*Ruled out: it does not hold what is recorded/s,
    );
    const chosen = explainBuild(basis, result.cheapest!);
    expect(chosen.constraint).toBeNull();
    expect(chosen.verdicts[0]!.verdict).toBe('holds');
    expect(chosen.sentences.join(' ')).toMatch(/usable \(.*\) for .* EUR.*% of the room.*may fail/s);
  });

  it('has a front on which more money always buys more to spare, and ends when it is told to', () => {
    const { front } = found(sizingOf({ workload: shoot('1') }));
    expect(front.length).toBeGreaterThan(1);
    for (let index = 1; index < front.length; index += 1) {
      expect(front[index]!.cost).toBeGreaterThan(front[index - 1]!.cost);
      expect(front[index]!.margin).toBeGreaterThan(front[index - 1]!.margin);
    }
    expect(searchBuilds(searchBasis(sizingOf()), () => false)).toBeNull();
  });

  it('tells what it has so far while it goes on, and never more than in the end', () => {
    const basis = searchBasis(sizingOf({ workload: shoot('1') }));
    const shares: number[] = [];
    const builds: number[] = [];
    const end = searchBuilds(basis, (share, soFar) => {
      const { front, ...counts } = soFar();
      shares.push(share);
      builds.push(counts.builds);
      for (const one of front) expect(one.cost).toBeGreaterThanOrEqual(counts.cheapest!.cost);
      return true;
    })!;
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(builds).toEqual([...builds].sort((a, b) => a - b));
    expect(builds.length).toBeGreaterThan(10);
    expect(builds.at(-1)).toBe(end.builds);
    expect(end.front).toEqual(found(basis.sizing).front);
  });

  it('gives builds a name, a code for an address and a line for a spreadsheet', () => {
    const sizing = sizingOf({
      enclosures: [parseEnclosure('box, "old": 8 slots, 1')],
      connections: [parseSizingConnection('=1+1: 180 over Ethernet 10 Gb/s')],
    });
    const build: Build = {
      drive: 0,
      count: 6,
      other: null,
      otherCount: 0,
      layout: 'double-parity',
      spares: 1,
      enclosure: 0,
      connection: 0,
    };
    const basis = searchBasis(sizing);
    expect(buildName(sizing, build)).toBe('6 × Disc, double parity, 1 spare, box, "old", =1+1');
    expect(buildCode(build)).toBe('0.6.double-parity.1.0.0');
    const [head, line] = buildsCsv([{ basis, builds: [build] }]).split('\n');
    expect(line).toMatch(/^working,"6 × Disc, double parity, 1 spare, box, ""old"", =1\+1",2211,/);
    expect(line!.replace(/"(?:[^"]|"")*"/, 'name').split(',')).toHaveLength(head!.split(',').length);
    // What a spreadsheet would take for a formula stays a text.
    const formula = { ...sizing, drives: [{ ...DISC, label: '=HYPERLINK("x")' }, FLASH] };
    const single: Build = { ...build, count: 1, layout: 'single' };
    expect(buildsCsv([{ basis: searchBasis(formula), builds: [single] }])).toContain(`"1 × =HYPER`);
  });

  it('reads a code again, and refuses one that is none of the project', () => {
    const sizing = sizingOf({ drives: [{ ...DISC, there: 2 }, FLASH] });
    for (const build of buildsOf(sizing)) expect(parseBuildCode(buildCode(build), sizing)).toEqual(build);
    for (const code of [
      '',
      '0.6',
      '7.6.stripe.0.0.0',
      '0.6.woven.0.0.0',
      '0.1.stripe.0.0.0',
      '0.x.stripe.0.0.0',
      '0.6.stripe.0.0.0.1',
    ]) {
      expect(() => parseBuildCode(code, sizing), code).toThrow(/^build: /);
    }
  });

  it('ends at what a slot carries', () => {
    const at = (slots: string) => {
      const sizing = sizingOf({
        drives: [FLASH],
        enclosures: [parseEnclosure(`box: 8 ${slots}, 100`)],
        connections: [parseSizingConnection('wide: 0 over PCIe 5.0 ×4')],
      });
      const build: Build = {
        drive: 0,
        count: 4,
        other: null,
        otherCount: 0,
        layout: 'stripe',
        spares: 0,
        enclosure: 0,
        connection: 0,
      };
      return explainBuild(searchBasis(sizing), build);
    };
    expect(at('slots').writeBytesPerSecond! / MB).toBeCloseTo(4 * 900 * 0.9, 3);
    const narrow = at('slots over SATA 3 Gb/s');
    expect(narrow.writeBytesPerSecond! / MB).toBeLessThan(4 * 300);
    expect(narrow.bindingHop).toBe('SATA 3 Gb/s of a slot');
  });
});

describe('a sizing from outside', () => {
  it('is read whole, and refused with the place of the first fault', () => {
    const sizing = sizingOf({ workload: shoot() });
    expect(parseSizing(JSON.parse(JSON.stringify(sizing)))).toEqual(sizing);
    const refused = (change: object) => () => parseSizing({ ...sizing, ...change });
    expect(refused({ days: 0 })).toThrow(/days/);
    expect(refused({ materials: [] })).toThrow(/nothing to store/);
    expect(refused({ drives: [] })).toThrow(/none to build with/);
    expect(refused({ drives: [{ ...sizing.drives[0], price: -1 }] })).toThrow(/price/);
    expect(refused({ materials: [{ ...sizing.materials[0], bytesPerDay: 1e21 }] })).toThrow(/at most 10\^18/);
    expect(refused({ materials: [materialOf({ fromDay: 9, toDay: 3 })] })).toThrow(/ends before it begins/);
    expect(refused({ enclosures: [{ label: 'box', slots: 4, price: -3 }] })).toThrow(/price/);
    expect(refused({ startsOn: 'Monday' })).toThrow(/is no date/);
    expect(refused({ tavrox: 'sizing/9' })).toThrow(/tavrox/);
  });

  it('that was written before there were stores, parts and dates is still read', () => {
    // Nothing was read back then.
    const sizing = sizingOf({ policy: { copyVerified: false } });
    expect(parseSizing(asFirstWritten(sizing))).toEqual(sizing);
  });
});
