import { describe, expect, it } from 'vitest';
import {
  buildCode,
  buildsOf,
  drivesPrice,
  kindsOf,
  layoutsOf,
  parseBuildCode,
  sparesOf,
  stacksOf,
  type Build,
  type Stack,
} from '#core/5-answers/sizing/builds.ts';
import { LAYOUT_IDS } from '#core/5-answers/sizing/layouts.ts';
import { DISC, FLASH, sizingOf } from '#core/testing/sizing-of.ts';

const stackOf = (drive: number, count: number, other: number | null = null, otherCount = 0): Stack => ({
  ...{ drive, count, other, otherCount },
});
const told = (stacks: Iterable<Stack>): string[] =>
  [...stacks].map(({ drive, count, other, otherCount }) =>
    other === null ? `${count}×${drive}` : `${count}×${drive}+${otherCount}×${other}`,
  );

describe('the stacks of a project', () => {
  it('are each kind of drive alone, from one to as many as may be', () => {
    const sizing = sizingOf({ policy: { mostDrives: 3 } });
    expect(told(stacksOf(sizing))).toEqual(['1×0', '2×0', '3×0', '1×1', '2×1', '3×1']);
  });

  it('mix those that are there with as many others as it takes', () => {
    const mixed = (first: number, second: number) => {
      const drives = [
        { ...DISC, there: first },
        { ...FLASH, there: second },
      ];
      return told(stacksOf(sizingOf({ drives, policy: { mostDrives: 4 } }))).filter((one) => one.includes('+'));
    };
    expect(mixed(0, 0)).toEqual([]);
    expect(mixed(2, 0)).toEqual(['1×0+1×1', '2×0+1×1', '2×0+2×1']);
    expect(mixed(0, 1)).toEqual(['1×0+1×1', '2×0+1×1', '3×0+1×1']);
    // As many as are there of the one, or of the other.
    expect(mixed(2, 1)).toEqual(['1×0+1×1', '2×0+1×1', '2×0+2×1', '3×0+1×1']);
    expect(mixed(9, 9)).toEqual(['1×0+1×1', '2×0+1×1', '1×0+2×1', '3×0+1×1', '1×0+3×1']);
  });

  it('have as many spares as are to be had of each kind', () => {
    const spares = (stack: Stack, most: (number | null)[]) => {
      const drives = [
        { ...DISC, most: most[0]! },
        { ...FLASH, most: most[1]! },
      ];
      return [...sparesOf(sizingOf({ drives, policy: { mostSpares: 2 } }), stack)];
    };
    expect(spares(stackOf(0, 6), [null, null])).toEqual([0, 1, 2]);
    expect(spares(stackOf(0, 6), [7, 1])).toEqual([0, 1]);
    expect(spares(stackOf(0, 6), [5, null])).toEqual([]);
    // A spare of a mix is of the kind that can stand in for any: the disc of 16 TB for the flash of 8.
    expect(spares(stackOf(0, 3, 1, 2), [4, 2])).toEqual([0, 1]);
    expect(spares(stackOf(0, 3, 1, 2), [4, 1])).toEqual([]);
    expect(spares(stackOf(0, 3, 1, 2), [2, 9])).toEqual([]);
  });

  it('count a spare with the larger kind, of two alike with the first, and pay for what is not there', () => {
    const drives = [
      { ...FLASH, there: 1 },
      { ...DISC, there: 2 },
    ];
    const counts = (stack: Stack, spares: number, of = drives) =>
      kindsOf(of, stack, spares).map((kind) => [kind.drive.label, kind.count, kind.spares]);
    expect(counts(stackOf(0, 4), 2)).toEqual([['Flash', 4, 2]]);
    expect(counts(stackOf(0, 1, 1, 3), 2)).toEqual([
      ['Flash', 1, 0],
      ['Disc', 3, 2],
    ]);
    expect(counts(stackOf(1, 3, 0, 1), 2)).toEqual([
      ['Disc', 3, 2],
      ['Flash', 1, 0],
    ]);
    const alike = [drives[0]!, { ...drives[1]!, capacityBytes: FLASH.capacityBytes }];
    expect(counts(stackOf(0, 1, 1, 3), 1, alike)[0]).toEqual(['Flash', 1, 1]);
    expect(drivesPrice(drives, stackOf(0, 1, 1, 3), 2)).toBe(0 + (5 - 2) * 290);
    expect(drivesPrice(drives, stackOf(1, 2), 0)).toBe(0);
    expect(drivesPrice(drives, stackOf(1, 1), 0)).toBe(0);
    expect(drivesPrice(drives, stackOf(0, 3), 1)).toBe(3 * 700);
  });
});

describe('the builds of a project', () => {
  it('are every stack in every layout that takes it, with every box, link and spare', () => {
    const sizing = sizingOf({ drives: [DISC], policy: { mostDrives: 4, mostSpares: 1 } });
    const counts = new Map<string, number>();
    for (const { layout } of buildsOf(sizing)) counts.set(layout, (counts.get(layout) ?? 0) + 1);
    // Two boxes, two links, with a spare and without; and so many numbers of drives.
    const numbers = { single: 1, stripe: 3, mirror: 3, 'striped-mirrors': 1, 'single-parity': 2, 'double-parity': 1 };
    for (const [layout, many] of Object.entries(numbers)) expect(counts.get(layout), layout).toBe(8 * many);
    expect(counts.get('separate')).toBe(8 * 3);
    const codes = [...buildsOf(sizing)].map(buildCode);
    expect(new Set(codes).size).toBe(codes.length);
  });

  it('are of the layouts that the plan names, in one order', () => {
    expect(layoutsOf(sizingOf()).map(({ id }) => id)).toEqual([...LAYOUT_IDS]);
    const some = sizingOf({ policy: { layouts: ['mirror', 'stripe'] } });
    expect(layoutsOf(some).map(({ id }) => id)).toEqual(['stripe', 'mirror']);
    expect([...buildsOf(some)].every(({ layout }) => ['mirror', 'stripe'].includes(layout))).toBe(true);
  });

  it('have a code that is read again, and nothing else is', () => {
    const sizing = sizingOf();
    const build: Build = { ...stackOf(0, 3, 1, 3), layout: 'single-parity', spares: 1, enclosure: 1, connection: 1 };
    expect(buildCode(build)).toBe('0.3.single-parity.1.1.1.1.3');
    expect(parseBuildCode('0.3.single-parity.1.1.1.1.3', sizing)).toEqual(build);
    expect(parseBuildCode('1.36.stripe.3.1.1', sizing)).toMatchObject({ drive: 1, count: 36, spares: 3, other: null });
    const off = [
      ...['2.3.stripe.0.0.0', '0.37.stripe.0.0.0', '0.3.stripe.4.0.0', '0.3.stripe.0.2.0', '0.3.stripe.0.0.2'],
      ...['0.3.stripe.0.0.0.2.1', '0.3.stripe.0.0.0.1.37', '0.3.stripe.0.0.0.1', '0.3.stripe.0.0', '.3.stripe.0.0.0'],
      ...[
        '-1.3.stripe.0.0.0',
        '0.2e0.stripe.0.0.',
        '0. .stripe.0.0.0',
        '0.3.stripe.0.0.x',
        '0.3.stripe..0.0',
        '0.0.stripe.0.0.0',
      ],
    ];
    for (const code of off) {
      expect(() => parseBuildCode(code, sizing), code).toThrow(
        `build: “${code}” is none of this project. Choose one from the picture.`,
      );
    }
  });
});
