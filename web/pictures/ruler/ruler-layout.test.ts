import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groupText, layoutOf, type RateRulerProps, type RulerPin } from './ruler-layout.ts';
import { textWidth } from '../kit/labels.ts';

const pin = (itemId: string, megabytesPerSecond: number, name = itemId): RulerPin => ({
  itemId,
  name,
  direction: 'write',
  bytesPerSecond: megabytesPerSecond * 1e6,
  verdicts: {},
});
const props = (pins: RulerPin[]): RateRulerProps => ({
  lanes: [
    {
      driveId: 'd',
      label: 'Drive',
      isPromise: false,
      spans: {
        write: { worstSecondBytesPerSecond: 90e6, floorBytesPerSecond: 400e6, openingBytesPerSecond: 900e6 },
        read: null,
      },
    },
  ],
  pins,
  selected: null,
  onSelect: () => undefined,
  currentDrive: null,
  onDrive: () => undefined,
  headroomShare: 0.25,
  onHeadroom: () => undefined,
});

describe('the rate ruler', () => {
  it('stands every rate at its place on one logarithmic axis', () => {
    const { x } = layoutOf(props([pin('sound', 14), pin('cameras', 547)]), 850);
    expect(x(140) - x(14)).toBeCloseTo(x(1000) - x(100), 6);
    expect(x.ticks.length).toBeGreaterThan(4);
    expect(x.invert(x(547))).toBeCloseTo(547, 6);
  });

  it('draws pins that stand too close as one, named by how many they are', () => {
    const { groups } = layoutOf(props([pin('a', 180), pin('b', 182), pin('c', 900)]), 850);
    expect(groups.map(groupText)).toEqual(['2 items', 'c']);
  });

  it('loses no pin and lets no labels of a row meet, for any pins', () => {
    const anyPins = fc.uniqueArray(
      fc.record({
        rate: fc.double({ min: 1, max: 20_000, noNaN: true }),
        name: fc.string({ minLength: 1, maxLength: 24 }),
      }),
      { minLength: 1, maxLength: 10, selector: ({ rate }) => Math.round(rate) },
    );
    fc.assert(
      fc.property(anyPins, fc.integer({ min: 560, max: 1400 }), (made, width) => {
        const pins = made.map(({ rate, name }, index) => pin(`item-${index}`, rate, name));
        const { groups, labels, top } = layoutOf(props(pins), width);
        expect(groups.reduce((count, group) => count + group.pins.length, 0)).toBe(pins.length);
        expect(top).toBeGreaterThan(0);
        const rows = new Map<number, number>();
        let collisions = 0;
        for (const [index, { row, middle }] of labels.entries()) {
          const half = textWidth(groupText(groups[index]!), 12.5, true) / 2;
          if (middle - half < (rows.get(row) ?? -Infinity) - 1e-6) collisions += 1;
          rows.set(row, middle + half);
        }
        // Four rows hold what ten names of 24 letters need at this width; below that some may have to touch.
        if (width > 900) expect(collisions).toBe(0);
      }),
    );
  });

  it('has an axis while nothing is known', () => {
    const { x } = layoutOf(
      { ...props([]), lanes: [{ driveId: 'd', label: 'Drive', isPromise: false, spans: null }] },
      850,
    );
    expect(x.ticks).toContain(100);
  });
});
