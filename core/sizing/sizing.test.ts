import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hopOf } from '#core/links/connection.ts';
import { NEW_FOOTAGE, readFootage } from '#core/demand/footage/footage-form.ts';
import { WORKLOAD_VERSION, type Workload } from '#core/demand/workload.ts';
import { judgeComposed, ratedDemands, supplyOfDrive } from '#core/sizing/composed.ts';
import { buildName, buildsCsv, explainBuild } from '#core/sizing/explain.ts';
import {
  LAYOUTS,
  enduranceYears,
  layoutById,
  rebuildSeconds,
  takes,
  unreadableChance,
  usableBytes,
} from '#core/sizing/layouts.ts';
import {
  fillTimeline,
  fullOnDay,
  materialLine,
  parseMaterial,
  storedBytes,
  type Material,
} from '#core/sizing/material.ts';
import { SIZING_VERSION, USUAL_POLICY, parseSizing, type Sizing, type SizingPolicy } from '#core/sizing/project.ts';
import {
  buildsOf,
  costAndRoom,
  efficientFront,
  ruledOutBy,
  searchBench,
  searchBuilds,
  type Build,
} from '#core/sizing/search.ts';

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
      return [layout.data(n), layout.readsMany(n), layout.smallWriteCost(n), layout.survives];
    };
    expect(at('stripe', 6)).toEqual([6, 6, 1, 0]);
    expect(at('mirror', 3)).toEqual([1, 3, 3, 1]);
    expect(at('striped-mirrors', 6)).toEqual([3, 6, 2, 1]);
    expect(at('single-parity', 6)).toEqual([5, 6, 4, 1]);
    expect(at('double-parity', 6)).toEqual([4, 6, 6, 2]);
    expect(takes(layoutById('striped-mirrors'), 5)).toBe(false);
    expect(takes(layoutById('single'), 2)).toBe(false);
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

describe('material over days', () => {
  const cameras: Material = { name: 'Cameras', bytesPerDay: 3 * TB, fromDay: 1, toDay: 30, keepDays: 9, copies: 2 };

  it('piles up, and goes when it was kept long enough', () => {
    expect(storedBytes(cameras, 1)).toBe(6 * TB);
    expect(storedBytes(cameras, 10)).toBe(60 * TB);
    expect(storedBytes(cameras, 30)).toBe(60 * TB);
    expect(storedBytes(cameras, 35)).toBe(30 * TB);
    expect(storedBytes(cameras, 40)).toBe(0);
    expect(storedBytes({ ...cameras, keepDays: null }, 86)).toBe(180 * TB);
  });

  it('is what counting day by day comes to', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 0, max: 40 }),
        fc.option(fc.integer({ min: 0, max: 50 })),
        fc.integer({ min: 1, max: 90 }),
        (fromDay, length, keepDays, day) => {
          const material = { ...cameras, fromDay, toDay: fromDay + length, keepDays };
          let bytes = 0;
          for (let came = fromDay; came <= Math.min(day, fromDay + length); came += 1) {
            if (keepDays === null || day - came <= keepDays) bytes += 6 * TB;
          }
          expect(storedBytes(material, day)).toBe(bytes);
        },
      ),
    );
  });

  it('has a fullest day, and a day on which a store is full', () => {
    const timeline = fillTimeline([{ ...cameras, keepDays: null, copies: 1 }], 40, 0.1);
    expect(timeline.peakBytes).toBeCloseTo(99 * TB, -3);
    expect(timeline.peakDay).toBe(30);
    expect(timeline.writtenBytesPerDay).toBeCloseTo((99 / 40) * TB, -3);
    expect(fullOnDay(timeline, 50 * TB)).toBe(16);
    expect(fullOnDay(timeline, 99.1 * TB)).toBeNull();
  });

  it.each([
    'Cameras: 3.2 TB a day, days 1–30, keep 60 days, 2 copies',
    'Plates: 800 GB, day 12',
    'Kelp, v12: 690 GB a day, days 31–86',
  ])('“%s” is read and written again', (line) => {
    expect(materialLine(parseMaterial(line)).replace(/\u202f/g, ' ')).toBe(line);
  });

  it.each([
    '',
    'Cameras',
    'Cameras:',
    'Cameras: much',
    'Cameras: 3 TB a day',
    'Cameras: 3 TB a day, days 9–3',
    'Cameras: 3 TB, soon',
    'Cameras: 3 TB, day 0',
  ])('“%s” is refused with a sentence', (line) => expect(() => parseMaterial(line)).toThrow(/^material: /));
});

function sizingOf(more: Partial<Omit<Sizing, 'policy'>> & { policy?: Partial<SizingPolicy> } = {}): Sizing {
  const { policy, ...rest } = more;
  const drive = { enduranceBytes: null, loudnessDecibels: null, profile: null };
  return {
    tavrox: SIZING_VERSION,
    name: 'Tidal Atlas',
    days: 40,
    currency: 'EUR',
    materials: [{ name: 'Cameras', bytesPerDay: TB, fromDay: 1, toDay: 30, keepDays: null, copies: 1 }],
    drives: [
      {
        id: 'disc',
        label: 'Disc',
        capacityBytes: 16 * TB,
        price: 290,
        writeBytesPerSecond: 124 * MB,
        readBytesPerSecond: 124 * MB,
        ...drive,
      },
      {
        id: 'flash',
        label: 'Flash',
        capacityBytes: 8 * TB,
        price: 700,
        writeBytesPerSecond: 900 * MB,
        readBytesPerSecond: 2000 * MB,
        ...drive,
      },
    ],
    enclosures: [
      { label: 'small box', slots: 4, price: 200 },
      { label: 'large box', slots: 12, price: 900 },
    ],
    connections: [
      { label: '1 Gb/s', price: 0, hops: [hopOf('ethernet-1')!] },
      { label: '10 Gb/s', price: 180, hops: [hopOf('ethernet-10')!] },
    ],
    workload: null,
    ...rest,
    policy: { ...USUAL_POLICY, mostDrives: 8, ...policy },
  };
}

function shoot(streams = '3'): Workload {
  const texts = { ...NEW_FOOTAGE.texts, format: '3840x2160 VC-3 444 25p', name: 'Three cameras', streams };
  const { item, errors } = readFootage({ ...NEW_FOOTAGE, texts }, 'cameras');
  if (!item) throw new Error(JSON.stringify(errors));
  return { tavrox: WORKLOAD_VERSION, id: 'night', name: 'Night', note: '', example: false, items: [item] };
}

describe('several drives together', () => {
  it('hold what one of them holds, as many times, and no more than their link', () => {
    const [disc] = sizingOf().drives;
    const demands = ratedDemands(shoot());
    const word = (count: number, ceiling: number) =>
      judgeComposed(supplyOfDrive(disc!), demands, { write: count, read: count }, 0.9, ceiling, 0)[0]!.verdict.verdict;
    const least = Math.ceil(demands[0]!.bytesPerSecond / (124 * MB * 0.9));
    expect(word(least, Infinity)).toBe('holds');
    expect(word(least - 1, Infinity)).toBe('breaks');
    expect(word(36, 100 * MB)).toBe('breaks');
  });
});

describe('the search', () => {
  /** Every build one by one: slow, and plain to be right. */
  function bruteForce(sizing: Sizing) {
    const bench = searchBench(sizing);
    const all = [...buildsOf(sizing)].map((build) => {
      const judged = costAndRoom(bench, build);
      return { judged, constraint: ruledOutBy(bench, build, judged) };
    });
    const feasible = all.filter(({ constraint }) => constraint === null).map(({ judged }) => judged);
    return { all, feasible, front: efficientFront(feasible) };
  }
  const value = ({ cost, margin }: { cost: number; margin: number }) => [cost, margin];

  it('finds what looking at every build one by one finds, for three hundred projects', () => {
    const arbitrary = fc.record({
      perDay: fc.integer({ min: 1, max: 4000 }).map((gigabytes) => gigabytes * 1e9),
      copies: fc.integer({ min: 1, max: 3 }),
      survives: fc.integer({ min: 0, max: 2 }),
      mostSpares: fc.integer({ min: 0, max: 1 }),
      mostDrives: fc.integer({ min: 1, max: 8 }),
      budget: fc.option(fc.integer({ min: 100, max: 9000 })),
      price: fc.integer({ min: 0, max: 900 }),
      holdsDegraded: fc.boolean(),
      mostDecibels: fc.option(fc.integer({ min: 20, max: 45 })),
      leastYears: fc.option(fc.integer({ min: 0, max: 12 })),
      records: fc.boolean(),
    });
    fc.assert(
      fc.property(arbitrary, ({ perDay, copies, price, records, ...policy }) => {
        const base = sizingOf({ policy });
        const [disc, flash] = base.drives;
        const sizing: Sizing = {
          ...base,
          materials: [{ ...base.materials[0]!, bytesPerDay: perDay, copies }],
          drives: [
            { ...disc!, price, loudnessDecibels: 28 },
            { ...flash!, enduranceBytes: 1400 * TB },
          ],
          workload: records ? shoot('1') : null,
        };
        const found = searchBuilds(sizing)!;
        const truth = bruteForce(sizing);
        expect(found.builds).toBe(truth.all.length);
        expect(found.feasible).toBe(truth.feasible.length);
        expect(found.front.map(value)).toEqual(truth.front.map(value));
        expect(found.cheapest && value(found.cheapest)).toEqual(truth.front[0] ? value(truth.front[0]) : null);
        for (const [constraint, count] of Object.entries(found.ruledOut)) {
          expect(count, constraint).toBe(truth.all.filter((one) => one.constraint === constraint).length);
        }
      }),
      { numRuns: 300 },
    );
  });

  const best = (sizing: Sizing) => searchBuilds(sizing)!.cheapest?.cost ?? Infinity;

  it('is never worse for a larger budget, a wider link, or another drive to choose from', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 6000 }), fc.integer({ min: 0, max: 3000 }), (budget, more) => {
        const at = (amount: number) => best(sizingOf({ workload: shoot('1'), policy: { budget: amount } }));
        expect(at(budget + more)).toBeLessThanOrEqual(at(budget));
      }),
      { numRuns: 40 },
    );
    const narrow = sizingOf({ workload: shoot() });
    const wide = {
      ...narrow,
      connections: narrow.connections.map((one) => ({ ...one, hops: [hopOf('ethernet-100')!] })),
    };
    expect(best(wide)).toBeLessThanOrEqual(best(narrow));
    expect(best(narrow)).toBeLessThanOrEqual(best({ ...narrow, drives: narrow.drives.slice(0, 1) }));
  });

  it('tells why the tempting cheap one fails', () => {
    const sizing = sizingOf({ workload: shoot(), materials: [{ ...sizingOf().materials[0]!, bytesPerDay: 0.8 * TB }] });
    const result = searchBuilds(sizing)!;
    const bench = searchBench(sizing);
    const tempting = result.tempting.writing!;
    expect(tempting.cost).toBeLessThan(result.cheapest!.cost);
    expect(sizing.connections[tempting.connection]!.label).toBe('1 Gb/s');
    const explained = explainBuild(bench, tempting);
    expect(explained.constraint).toBe('writing');
    expect(explained.verdicts[0]!.verdict).toBe('breaks');
    expect(explained.sentences.join(' ')).toMatch(
      /held there by Ethernet 1 Gb\/s.*Ruled out: it does not hold what is recorded/s,
    );
    const chosen = explainBuild(bench, result.cheapest!);
    expect(chosen.constraint).toBeNull();
    expect(chosen.verdicts[0]!.verdict).toBe('holds');
    expect(chosen.sentences.join(' ')).toMatch(/usable for .* EUR.*of room is left.*may fail/s);
  });

  it('has a front on which more money always buys more to spare, and ends when it is told to', () => {
    const { front } = searchBuilds(sizingOf({ workload: shoot('1') }))!;
    expect(front.length).toBeGreaterThan(1);
    for (let index = 1; index < front.length; index += 1) {
      expect(front[index]!.cost).toBeGreaterThan(front[index - 1]!.cost);
      expect(front[index]!.margin).toBeGreaterThan(front[index - 1]!.margin);
    }
    expect(searchBuilds(sizingOf(), () => false)).toBeNull();
  });

  it('gives builds a name and a line for a spreadsheet', () => {
    const sizing = sizingOf({ enclosures: [{ label: 'box, "old"', slots: 8, price: 1 }] });
    const build: Build = { drive: 0, count: 6, layout: 'double-parity', spares: 1, enclosure: 0, connection: 1 };
    const bench = searchBench(sizing);
    expect(buildName(bench, build)).toBe('6 × Disc, double parity, 1 spare, box, "old", 10 Gb/s');
    const [head, line] = buildsCsv(bench, [build]).split('\n');
    expect(head!.split(',')).toHaveLength(7);
    expect(line).toMatch(/^"6 × Disc, double parity, 1 spare, box, ""old"", 10 Gb\/s",2211,/);
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
    expect(refused({ tavrox: 'sizing/9' })).toThrow(/tavrox/);
  });
});
