import { describe, expect, it } from 'vitest';
import { hopOf } from '#core/2-trade/links/connection.ts';
import type { Build } from '#core/5-answers/sizing/builds.ts';
import { constraintWords, explainBuild, type ExplainedBuild } from '#core/5-answers/sizing/explain.ts';
import type { LayoutId } from '#core/5-answers/sizing/layouts.ts';
import { searchBasis } from '#core/5-answers/sizing/search-basis.ts';
import { DISC, FLASH, materialOf, shoot, sizingOf, TB } from '#core/testing/sizing-of.ts';

const MB = 1e6;
/** Discs of 16 TB that write and read 124 MB/s for ever, and flash; boxes at 200 and 900; links of 1 and 10 Gb/s. */
const SIZING = sizingOf({
  drives: [
    { ...DISC, loudnessDecibels: 30 },
    { ...FLASH, enduranceBytes: 1400 * TB },
  ],
});

const buildOf = (layout: LayoutId, count: number, more: Partial<Build> = {}): Build => ({
  ...{ drive: 0, count, other: null, otherCount: 0, layout, spares: 0, enclosure: 1, connection: 1 },
  ...more,
});
const explained = (layout: LayoutId, count: number, more: Partial<Build> = {}, sizing = SIZING): ExplainedBuild =>
  explainBuild(searchBasis(sizing), buildOf(layout, count, more));
const words = ({ sentences }: ExplainedBuild): string => sentences.join(' ').replaceAll(/\s/g, ' ');

describe('what is said of a build', () => {
  it('is what its drives, layout and link come to', () => {
    const parity = explained('single-parity', 6, { spares: 1 });
    expect(parity.name).toBe('6 × Disc, single parity, 1 spare, large box, 10 Gb/s');
    expect([parity.drivesText, parity.aroundText]).toEqual(['6 × Disc, single parity, 1 spare', 'large box, 10 Gb/s']);
    expect(parity.cost).toBe(7 * 290 + 900 + 180);
    expect(parity.usableBytes).toBeCloseTo(5 * 16 * TB * 0.98 * 0.8, 0);
    // Five drives’ worth at 124 MB/s, and what the layout leaves of it.
    expect(parity.writeBytesPerSecond! / MB).toBeCloseTo(5 * 124 * 0.9, 6);
    expect(parity.readBytesPerSecond! / MB).toBeCloseTo(5 * 124 * 0.9, 6);
    expect(parity.degradedBytesPerSecond! / MB).toBeCloseTo(0.6 * 5 * 124 * 0.9, 6);
    expect(parity.manyStreamsBytesPerSecond! / MB).toBeCloseTo(6 * 124 * 0.9, 6);
    expect(parity.smallWriteCost).toBe(4);
    expect(parity.bindingHop).toBeNull();
    expect(parity.rebuildSeconds).toBeCloseTo((16 * TB) / (0.5 * 124 * MB), 3);
    expect(parity.unreadableChance).toBeCloseTo(-Math.expm1(5 * 16 * TB * 8 * Math.log1p(-1e-15)), 9);
    // Seven of 30 dB(A) each.
    expect(parity.decibels).toBeCloseTo(30 + 10 * Math.log10(7), 9);
    expect(parity.enduranceYears).toBeNull();
    // A terabyte a day for thirty days, and a tenth more than foreseen.
    expect(parity.fullOnDay).toBeNull();
    expect(parity.margin).toBeCloseTo((5 * 16 * 0.98 * 0.8) / 33 - 1, 9);
    expect(words(parity)).toMatch(/62\.7 TB usable \(57 TiB\) for 3,110 EUR, 50 EUR a TB\./);
    expect(words(parity)).toMatch(
      /The fullest day is day 30 with 33 TB: 29\.7 TB of its 62\.7 TB are left, 47\.4 % of the room\./,
    );
    expect(words(parity)).toMatch(/Sustained writing is 558 MB\/s; with a drive gone 335 MB\/s\./);
    expect(words(parity)).toMatch(/read at up to 670 MB\/s; a small write costs 4 accesses\./);
    expect(words(parity)).toContain('It survives one failed drive.');
    expect(words(parity)).toContain('38.5 dB(A) under load, all drives together.');
  });

  it('names the hop that binds, and is as quick as that', () => {
    const ethernet = hopOf('ethernet-1')!;
    const held = explained('single-parity', 6, { connection: 0 });
    expect(held.bindingHop).toBe(ethernet.label);
    expect(held.writeBytesPerSecond).toBe(ethernet.ceilingBytesPerSecond);
    // With a drive gone the rest is still as quick as the link.
    expect(held.degradedBytesPerSecond).toBe(ethernet.ceilingBytesPerSecond);
    expect(held.manyStreamsBytesPerSecond).toBe(ethernet.ceilingBytesPerSecond);
    // A rebuild goes at half of what one drive does, which the link carries.
    expect(held.rebuildSeconds).toBeCloseTo((16 * TB) / (0.5 * 124 * MB), 3);
    const flash = explained('single-parity', 6, { drive: 1, connection: 0 });
    expect(flash.rebuildSeconds).toBeCloseTo((8 * TB) / ethernet.ceilingBytesPerSecond, 3);
    expect(words(held)).toMatch(/Sustained writing is .* MB\/s, held there by Ethernet 1 Gb\/s/);
  });

  it('tells how many failed drives it survives, whichever they are', () => {
    const sentence = (layout: LayoutId, count: number) =>
      /It survives [^.]*\./.exec(words(explained(layout, count)))?.[0];
    expect(sentence('single', 1)).toContain('It survives no failed drive.');
    expect(sentence('stripe', 4)).toContain('It survives no failed drive.');
    expect(sentence('mirror', 2)).toContain('It survives one failed drive.');
    expect(sentence('mirror', 3)).toContain('It survives any 2 failed drives.');
    expect(sentence('striped-mirrors', 6)).toContain('It survives one failed drive.');
    expect(sentence('double-parity', 6)).toContain('It survives any 2 failed drives.');
    expect(explained('mirror', 4).mayFail).toBe(3);
  });

  it('says nothing of a rebuild where nothing can be rebuilt', () => {
    for (const layout of ['single', 'stripe'] as const) {
      const build = explained(layout, layout === 'single' ? 1 : 4);
      expect([build.rebuildSeconds, build.unreadableChance, build.degradedBytesPerSecond]).toEqual([null, null, null]);
      expect(words(build)).not.toMatch(/rebuild|with a drive gone/);
    }
  });

  it('tells the day on which it is full, and when its drives are written through', () => {
    // 12.5 TB usable; 1.1 TB a day are more on the twelfth day.
    const small = explained('single', 1);
    expect(small.fullOnDay).toBe(12);
    expect(words(small)).toMatch(/Full on day 12 of 40; the fullest day needs 33 TB\./);
    const flash = explained('single-parity', 6, { drive: 1 });
    // Of 33 TB in forty days each drive gets a fifth, half as much again within it.
    expect(flash.enduranceYears).toBeCloseTo(1400 / ((33 / 40 / 5) * 1.5) / 365, 6);
    expect(words(flash)).toMatch(/written through in 15\.5 years\./);
    const dated = explained('single', 1, {}, { ...SIZING, startsOn: '2027-03-01' });
    expect(words(dated)).toMatch(/Full on day 12 \(12 Mar\) of 40/);
  });

  it('tells amounts in the units of the plan, and the others behind them', () => {
    const binary = explained('single-parity', 6, {}, { ...SIZING, units: 'binary' });
    expect(words(binary)).toMatch(/57 TiB usable \(62\.7 TB\)/);
  });

  it('takes of unequal drives what the smallest and slowest give', () => {
    const mixed = explained('stripe', 2, { other: 1, otherCount: 2 });
    expect(mixed.name).toBe('2 × Disc + 2 × Flash, stripe, large box, 10 Gb/s');
    expect(mixed.usableBytes).toBeCloseTo(4 * 8 * TB * 0.98 * 0.8, 0);
    expect(mixed.writeBytesPerSecond! / MB).toBeCloseTo(4 * 124 * 0.9, 6);
    expect(mixed.decibels).toBeNull();
    const mirrored = explained('striped-mirrors', 2, { other: 1, otherCount: 2 });
    expect(mirrored.rebuildSeconds).toBeCloseTo((8 * TB) / (0.5 * 124 * MB), 3);
  });

  it('says of drives of which nothing is known what can be said', () => {
    const bare = { ...DISC, writeBytesPerSecond: null, readBytesPerSecond: null };
    const unknown = explained('single-parity', 6, {}, sizingOf({ drives: [bare, FLASH] }));
    expect([unknown.writeBytesPerSecond, unknown.rebuildSeconds, unknown.bindingHop]).toEqual([null, null, null]);
    expect(words(unknown)).not.toMatch(/Writes on|rebuild/);
    expect(words(unknown)).toContain('It survives one failed drive.');
  });

  it('calls what was typed a promise, and no proof', () => {
    const believed = explained('single-parity', 8, {}, { ...SIZING, workload: shoot() });
    expect(believed.constraint).toBeNull();
    expect(believed.verdicts[0]!.sentence).toMatch(
      /^Would record .* Nothing of this was measured: it is what its box promises, while it is empty\.$/,
    );
    const policy = { ...SIZING.policy, needsProof: true };
    const strict = explained('single-parity', 8, {}, { ...SIZING, policy, workload: shoot() });
    expect(strict.constraint).toBe('writing');
    expect(strict.sentences.at(-1)).toBe('Ruled out: it is not proven to hold what is recorded.');
  });

  it('puts the worst of the workload first, and ends with what rules it out', () => {
    const slow = explained('single-parity', 4, {}, { ...SIZING, workload: shoot('3') });
    expect(slow.constraint).toBe('writing');
    expect(slow.verdicts[0]!.verdict).toBe('breaks');
    expect(slow.sentences.at(-1)).toBe('Ruled out: it does not hold what is recorded.');
    expect(words(slow)).toContain(`${slow.verdicts[0]!.name}: ${slow.verdicts[0]!.sentence}`.replaceAll(/\s/g, ' '));
    const believing = { needsProof: false };
    expect(constraintWords('writing', { store: 'away' }, believing)).toBe('does not copy a day in its time');
    expect(constraintWords('capacity', { store: 'away' }, believing)).toBe('is full before the project ends');
    // Where only what is proven counts, what is ruled out may hold all the same.
    const strict = { needsProof: true };
    expect(constraintWords('writing', { store: 'working' }, strict)).toBe('is not proven to hold what is recorded');
    expect(constraintWords('capacity', { store: 'away' }, strict)).toBe('is full before the project ends');
  });

  it('fills separate drives one after the other: as quick as one, as loud as one', () => {
    const elsewhere = [{ store: 'away' as const, keepDays: null }];
    const basis = searchBasis({ ...SIZING, materials: [materialOf({ elsewhere })] }, 'away');
    const separate = explainBuild(basis, buildOf('separate', 3));
    expect(separate.writeBytesPerSecond! / MB).toBeCloseTo(124, 6);
    expect(separate.decibels).toBe(30);
    expect(words(separate)).toContain('30 dB(A) under load.');
    expect(words(separate)).toContain('What is on a drive that fails is gone, the rest is not.');
  });
});
