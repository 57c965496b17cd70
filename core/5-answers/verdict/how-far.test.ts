import { describe, expect, it } from 'vitest';
import { demandOf } from '#core/3-jobs/demand/footage/footage-demand.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { MB, curveFrom, evidenceFrom, steady, supplyFrom } from '#core/testing/curves.ts';
import { howFar } from '#core/5-answers/verdict/how-far.ts';
import { judge } from '#core/5-answers/verdict/judge.ts';
import { judgeTogether } from '#core/5-answers/verdict/together.ts';

/** HD, 4:2:2 of 10 bit at 25: 138.24 MB/s. */
const item: FootageItem = {
  kind: 'footage',
  id: 'hd',
  name: 'HD',
  action: 'record',
  essence: {
    kind: 'picture',
    layoutId: 'yuv422-10',
    raster: { width: 1920, height: 1080 },
    frameRate: { numerator: 25, denominator: 1 },
    sound: undefined,
  },
  streams: 1,
  takes: { count: 1, seconds: 10, gapSeconds: 0, between: 'stay', takeOffSeconds: null },
  buffer: { unit: 'seconds', amount: 0 },
};
const POLICY = { headroomShare: 0.25 };
const supply = supplyFrom([evidenceFrom([steady(100, 700 * MB)])]);

describe('how far it goes', () => {
  it('answers each question with the furthest that holds', () => {
    const far = howFar(item, supply, POLICY, null);
    // 700 ÷ 1.25 = 560 MB/s: four streams of 138.24; 100 frames a second; 70 GB at 138.24 MB/s.
    expect(far.streams.value).toBe(4);
    expect(far.frameRate!.value).toEqual({ numerator: 100, denominator: 1 });
    expect(far.raster!.value).toMatchObject({ name: 'UHD' });
    expect(far.takeSeconds!.value).toBeCloseTo(70_000 / 138.24, 0);
    expect(far.takeSeconds!.limitedBy).toBe('the bytes proven so far end there');
    expect(far.bytesPerSecond.value! / MB).toBeCloseTo(560, 2);
    expect(far.buffer.value).toEqual({ bytes: 0, seconds: 0 });
  });

  it('keeps a buffer in the unit in which it was given', () => {
    // A stall of one second: a buffer that counts in seconds of the demand grows with it, one in bytes does not.
    const stalled = supplyFrom([evidenceFrom([curveFrom([50, 3000 * MB], [1, 0], [50, 3000 * MB])])]);
    const seconds = { ...item, buffer: { unit: 'seconds', amount: 1.5 } as const };
    const bytes = { ...item, buffer: { unit: 'bytes', amount: 1.5 * 138.24 * MB } as const };
    const minute = { takes: { ...item.takes, seconds: 60 } };
    expect(howFar({ ...seconds, ...minute }, stalled, POLICY, null).streams.value).toBeGreaterThan(10);
    expect(howFar({ ...bytes, ...minute }, stalled, POLICY, null).streams.value).toBe(1);
  });

  it('finds the least buffer that the worst moment needs', () => {
    const stalled = supplyFrom([evidenceFrom([curveFrom([10, 1000 * MB], [2, 0], [10, 1000 * MB])])]);
    const far = howFar({ ...item, takes: { ...item.takes, seconds: 60 } }, stalled, { headroomShare: 0 }, null);
    expect(far.buffer.value!.seconds).toBeCloseTo(2, 2);
  });

  it('says what stands in the way', () => {
    expect(howFar(item, supplyFrom([]), POLICY, null).streams).toEqual({
      value: null,
      limitedBy: 'nothing has been measured',
    });
    expect(howFar(item, supply, POLICY, 5e9).takeSeconds!.limitedBy).toBe('the free space');
    expect(howFar(item, supply, POLICY, null).streams.limitedBy).toMatch(
      /^it guarantees 700.MB\/s, and 25 % are kept free$/,
    );
  });

  it('claims no rate for a drive that is only known to have lost frames', () => {
    const none = { bytesPerSecond: 0, streams: 0, droppedAtSeconds: null };
    const write = { bytesPerSecond: 138.24 * MB, streams: 1, droppedAtSeconds: 4 };
    const paced = {
      runId: 'p',
      seconds: 10,
      bufferSeconds: 1,
      write,
      read: none,
      mayProveHolds: true,
      mayProveBreaks: true,
    };
    const far = howFar(item, supplyFrom([], { paced: [paced] }), POLICY, null);
    expect(far.bytesPerSecond).toEqual({ value: null, limitedBy: 'frames were lost when it was done' });
  });

  it('agrees with the verdict at and beyond each answer', () => {
    const far = howFar(item, supply, POLICY, 50e9);
    const at = (change: Partial<FootageItem>) => judge(demandOf({ ...item, ...change }), supply, POLICY, 50e9).verdict;
    expect([at({ streams: far.streams.value! }), at({ streams: far.streams.value! + 1 })]).toEqual(['holds', 'tight']);
    const take = far.takeSeconds!.value!;
    const takes = (seconds: number) => ({ takes: { ...item.takes, seconds } });
    expect([at(takes(take * 0.999)), at(takes(take * 1.002))]).toEqual(['holds', 'breaks']);
  });
});

describe('everything at once', () => {
  const write = demandOf(item);
  const read = demandOf({ ...item, id: 'play', action: 'play' });
  const both = (rate: number, paced: Parameters<typeof supplyFrom>[1] = {}) =>
    supplyFrom([evidenceFrom([steady(100, rate)]), evidenceFrom([steady(100, rate)], { direction: 'read' })], paced);

  it('adds up what goes one way', () => {
    const together = judgeTogether([write, write, write], both(500 * MB), POLICY, null)!;
    expect(together.demand.bytesPerSecond / MB).toBeCloseTo(3 * 138.24, 6);
    expect(together.verdict.verdict).toBe('tight');
    expect(judgeTogether([write, write], both(500 * MB), POLICY, null)!.verdict.verdict).toBe('holds');
    expect(judgeTogether([], both(1), POLICY, null)).toBeNull();
  });

  it('both ways is unproven by what each does alone, and breaks on a link that goes one way at a time', () => {
    const narrow = { bothWaysBytesPerSecond: 200 * MB };
    const broken = judgeTogether([write, read], both(200 * MB, narrow), POLICY, null)!;
    // 76 MB/s too many fill no buffer at all at once.
    expect(broken.verdict).toMatchObject({ verdict: 'breaks', reason: 'mixed', breaksAtSeconds: 0 });
    expect(judgeTogether([write, read], both(200 * MB), POLICY, null)!.verdict.verdict).toBe('not-proven');
    const open = judgeTogether([write, read], both(900 * MB), POLICY, null)!;
    expect(open.verdict).toMatchObject({ verdict: 'not-proven', reason: 'mixed' });
    expect(open.verdict.wouldProve?.recipe).toBe('paced-frames');
  });

  it('is proven by a run that did both', () => {
    const way = { bytesPerSecond: 200 * MB, streams: 1, droppedAtSeconds: null };
    const paced = {
      runId: 'p',
      seconds: 10,
      bufferSeconds: 0,
      write: way,
      read: way,
      mayProveHolds: true,
      mayProveBreaks: true,
    };
    const done = judgeTogether([write, read], both(900 * MB, { paced: [paced] }), POLICY, null)!;
    expect(done.verdict).toMatchObject({ verdict: 'holds', reason: 'done' });
    const oneWay = { ...paced, read: { ...way, streams: 0, bytesPerSecond: 0 } };
    expect(judgeTogether([write, read], both(900 * MB, { paced: [oneWay] }), POLICY, null)!.verdict.reason).toBe(
      'mixed',
    );
  });
});
