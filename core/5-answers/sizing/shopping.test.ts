import { describe, expect, it } from 'vitest';
import { buildsOf, type Build } from '#core/5-answers/sizing/builds.ts';
import { parseEnclosure, parseSizingConnection } from '#core/5-answers/sizing/part-lines.ts';
import { searchBasis } from '#core/5-answers/sizing/search-basis.ts';
import { judgeBuild } from '#core/5-answers/sizing/judge-build.ts';
import { shoppingList } from '#core/5-answers/sizing/shopping.ts';
import { DISC, FLASH, sizingOf } from '#core/testing/sizing-of.ts';

const SIZING = sizingOf({
  drives: [
    { ...DISC, there: 2 },
    { ...FLASH, there: 1 },
  ],
  enclosures: ['shelf: 12 slots, 900 + rails 60 + tray 12 each', 'bare: 12 slots, 0'].map(parseEnclosure),
  connections: ['10 Gb/s: card 120 + cable 40 over Ethernet 10 Gb/s', 'there: 0 over nothing'].map(
    parseSizingConnection,
  ),
  policy: { mostDrives: 5, survives: 0 },
});

describe('what has to be bought for a build', () => {
  it('is told line by line: drives that are there, spares, boxes and parts, and those for each drive', () => {
    const build: Build = {
      ...{ drive: 0, count: 4, other: null, otherCount: 0, layout: 'single-parity', spares: 1 },
      ...{ enclosure: 0, connection: 0 },
    };
    expect(shoppingList(SIZING, build)).toEqual([
      { what: 'Disc', count: 5, there: 2, price: 290, sum: 870 },
      { what: 'shelf', count: 1, there: 0, price: 900, sum: 900 },
      { what: 'shelf: rails', count: 1, there: 0, price: 60, sum: 60 },
      { what: 'shelf: tray', count: 5, there: 0, price: 12, sum: 60 },
      { what: '10 Gb/s: card', count: 1, there: 0, price: 120, sum: 120 },
      { what: '10 Gb/s: cable', count: 1, there: 0, price: 40, sum: 40 },
    ]);
  });

  it('leaves out what costs nothing, but not drives that are there', () => {
    const build: Build = {
      ...{ drive: 0, count: 1, other: 1, otherCount: 1, layout: 'mirror', spares: 0 },
      ...{ enclosure: 1, connection: 1 },
    };
    expect(shoppingList(SIZING, build)).toEqual([
      { what: 'Disc', count: 1, there: 1, price: 290, sum: 0 },
      { what: 'Flash', count: 1, there: 1, price: 700, sum: 0 },
    ]);
  });

  it('comes to what the build costs, for every build of a project', () => {
    const basis = searchBasis(SIZING);
    let builds = 0;
    for (const build of buildsOf(basis.sizing)) {
      const sum = shoppingList(basis.sizing, build).reduce((all, line) => all + line.sum, 0);
      expect(sum).toBe(judgeBuild(basis, build).judged.cost);
      builds += 1;
    }
    expect(builds).toBeGreaterThan(400);
  });
});
