import { describe, expect, it } from 'vitest';
import { lostBy } from '#core/testing/curves.ts';
import { lostIn, lostTimeOf } from '#core/4-runs/trace/lost-time.ts';
import { lostTimeWithStops } from '#core/4-runs/trace/stops.ts';

/** So many times a swing: 8 s at full speed, 4 s that lose half. */
const swings = (times: number): [number, number][] =>
  Array.from({ length: times * 2 }, (_, at) => (at % 2 === 0 ? [8, 0] : [4, 0.5]));

describe('stops of a trace', () => {
  it('may fall into the low of a swing that they did not fall into', () => {
    // One stop of 2 s, seen in the middle of a high.
    const lost = lostTimeWithStops(lostBy(...swings(4), [4, 0], [2, 1], [4, 0], [4, 0.5], ...swings(4)));
    expect(lostIn(lost, 6)).toBeCloseTo(2 + 2, 1);
    expect(lostIn(lost, 2)).toBeCloseTo(2, 2);
    // A stop takes its time from nothing else: of 4 s with 2 s of stop, the other 2 s lose half.
    expect(lostIn(lost, 4)).toBeCloseTo(2 + 1, 1);
  });

  it('come as near to each other as over the end of a trace and its beginning', () => {
    const many: [number, number][] = Array.from(
      { length: 5 },
      () =>
        [
          [20, 0],
          [1, 1],
        ] as [number, number][],
    ).flat();
    const curve = lostBy([5, 0], [1, 1], ...many, [25, 0], [1, 1], [3, 0]);
    expect(lostIn(lostTimeOf(curve), 11)).toBeCloseTo(1, 1);
    expect(lostIn(lostTimeWithStops(curve), 11)).toBeCloseTo(2, 1);
  });

  it('that are few may fall one beside another', () => {
    const curve = lostBy([20, 0], [2, 1], [60, 0], [1, 1], [20, 0]);
    const lost = lostTimeWithStops(curve);
    expect(lostIn(lost, 3)).toBeCloseTo(3, 1);
    expect(lostIn(lost, 30)).toBeCloseTo(3, 1);
  });

  it('are to the tenth of a second as long as they were, whatever lies at their edges', () => {
    const lost = lostTimeWithStops(lostBy([20, 0], [0.1, 0.8], [0.2, 1], [0.1, 0.8], [20, 0]));
    for (const window of [0.1, 0.2, 0.25, 0.3, 0.36]) expect(lostIn(lost, window)).toBeCloseTo(window, 6);
    expect(lostIn(lost, 5)).toBeCloseTo(0.36, 2);
  });

  it('that are how a drive works stay where they were', () => {
    const curve = lostBy(
      ...Array.from(
        { length: 20 },
        () =>
          [
            [1, -0.5],
            [0.5, 1],
          ] as [number, number][],
      ).flat(),
    );
    expect(lostTimeWithStops(curve)).toEqual(lostTimeOf(curve));
  });
});
