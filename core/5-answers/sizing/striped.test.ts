import { secondsAt } from '#core/1-ground/curves/progress.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { composedEvidence } from '#core/5-answers/sizing/composed.ts';
import { memberPath, stripedPath, type MemberPath } from '#core/5-answers/sizing/striped.ts';
import { MB, anyProgress, curveFrom, evidenceFrom, progressOf } from '#core/testing/curves.ts';
import { curveOf } from '#core/4-runs/trace/supply-curve.ts';
import { progressBytes, progressDuration, type Progress } from '#core/1-ground/curves/progress.ts';

const flash = { levelEnds: [] as number[], medium: 'flash' as const, swingsFrom: null };
const pathOf = (progress: Progress, more: Partial<Parameters<typeof memberPath>[1]> = {}): MemberPath =>
  memberPath(curveOf(progress), { ...flash, ...more });
const seconds = (path: MemberPath, count: number): number => stripedPath([{ path, count }]).seconds.at(-1)!;

describe('drives that work in step', () => {
  it('are as quick as one of them where none of them ever dips', () => {
    const path = pathOf(progressOf([100, 200 * MB]));
    expect(seconds(path, 1)).toBeCloseTo(100, 9);
    expect(seconds(path, 12)).toBeCloseTo(100, 9);
  });

  it('all wait for each stall of each of them', () => {
    // One stall of two seconds in a thousand: none falls on another's.
    const path = pathOf(progressOf([500, 100 * MB], [2, 0], [500, 100 * MB]));
    for (const drives of [1, 2, 5, 8]) expect(seconds(path, drives)).toBeCloseTo(1000 + 2 * drives, 3);
  });

  it('wait for many short dips of many drives one after the other, further apart than a row', () => {
    // Twenty dips of 0.3 s on 20 GB: twelve drives in step wait for all 240 of them.
    const dips = Array.from({ length: 20 }, (): [number, number][] => [
      [0.37, 1000 * MB],
      [0.3, 0],
      [0.63, 1000 * MB],
    ]);
    const path = pathOf(progressOf(...dips.flat()));
    expect(seconds(path, 12)).toBeCloseTo(20 + 12 * 20 * 0.3, 3);
    // Within a row they are waited for once.
    const within = pathOf(progressOf([0.005, 1000 * MB], [0.3, 0], [0.005, 1000 * MB]));
    expect(seconds(within, 12)).toBeLessThan(0.01 + 12 * 0.3);
  });

  it('dip within a level and leave the knee where it is', () => {
    const progress = progressOf([10, 2000 * MB], [80, 300 * MB], [5, 60 * MB], [80, 300 * MB]);
    const path = pathOf(progress, { levelEnds: [20_000 * MB] });
    const striped = stripedPath([{ path, count: 6 }]);
    expect(secondsAt(striped, 20_000 * MB)).toBeCloseTo(10, 9);
    // Each of the six dips costs four seconds more than its bytes at the floor.
    expect(striped.seconds.at(-1)).toBeCloseTo(10 + 161 + 6 * 4, 0);
  });

  it('take as long as one alone at least, longer with each, and no longer than all one after the other', () => {
    fc.assert(
      fc.property(anyProgress(), fc.integer({ min: 1, max: 11 }), (progress, drives) => {
        fc.pre(progressBytes(progress) > 1);
        const path = pathOf(progress);
        const one = progressDuration(progress);
        const [fewer, more] = [seconds(path, drives), seconds(path, drives + 1)];
        expect(seconds(path, 1)).toBeCloseTo(one, 6);
        expect(more).toBeGreaterThanOrEqual(fewer - 1e-9 * fewer);
        expect(more).toBeLessThanOrEqual((drives + 1) * one * (1 + 1e-9));
      }),
    );
  });

  it('are at the same track: outer and inner ones are not mixed', () => {
    const zones = Array.from({ length: 400 }, (_, step): [number, number] => [1, (266 - (142 * step) / 400) * MB]);
    const progress = progressOf(...zones);
    const spinning = seconds(pathOf(progress, { medium: 'spinning' }), 8);
    expect(spinning / progressDuration(progress)).toBeLessThan(1.03);
  });

  it('lose the good moments of a floor that swings by the clock while they wait', () => {
    // Three seconds in ten at 600, else 100.
    const rate = (drives: number, swings: number) => {
      const pieces = Array.from({ length: swings }, (): [number, number][] => [
        [7, 100 * MB],
        [3, 600 * MB],
      ]);
      const path = pathOf(progressOf(...pieces.flat()), { swingsFrom: { bytes: 0, seconds: 0 } });
      const striped = stripedPath([{ path, count: drives }]);
      return striped.bytes.at(-1)! / striped.seconds.at(-1)! / MB;
    };
    const lengths = Array.from({ length: 30 }, (_, more) => 30 + more);
    const mean = (drives: number) => lengths.reduce((sum, swings) => sum + rate(drives, swings), 0) / lengths.length;
    expect(mean(1)).toBeCloseTo(250, 0);
    // All are quick together in 0.3^n of the moments, whatever moment each begins at.
    expect(Math.abs(mean(2) / (100 + 500 * 0.3 ** 2) - 1)).toBeLessThan(0.12);
    expect(Math.abs(mean(4) / (100 + 500 * 0.3 ** 4) - 1)).toBeLessThan(0.12);
    expect(mean(8)).toBeCloseTo(100, 0);
  });
});

describe('the evidence of several drives', () => {
  const together = (count: number) => ({ dataDrives: count, waitedFor: count });
  const filled = evidenceFrom([curveFrom([10, 2000 * MB], [100, 300 * MB])], {
    levelEnds: [20_000 * MB, 50_000 * MB],
    kneeBytes: 20_000 * MB,
    span: { worstSecondBytesPerSecond: 300 * MB, floorBytesPerSecond: 300 * MB, openingBytesPerSecond: 2000 * MB },
  });

  it('has its knee at as many times the cache, and as many times the rates', () => {
    const { kneeBytes, span, provenBytes, levelEnds } = composedEvidence(
      [{ evidence: filled, count: 4 }],
      together(4),
      0.9,
      Infinity,
    );
    expect(kneeBytes).toBe(80_000 * MB);
    expect(levelEnds).toEqual([80_000 * MB, 200_000 * MB]);
    expect(provenBytes).toBe(200_000 * MB);
    expect(span.openingBytesPerSecond).toBeCloseTo(7200 * MB, 0);
    expect(span.floorBytesPerSecond).toBeCloseTo(1080 * MB, 0);
  });

  it('never goes faster than its link, and no slower for a wider one', () => {
    const at = (ceiling: number) =>
      composedEvidence([{ evidence: filled, count: 4 }], together(4), 0.9, ceiling).curves[0]!;
    const took = (ceiling: number) => at(ceiling).seconds.at(-1)!;
    expect(took(1000 * MB)).toBeCloseTo(200, 0);
    expect(took(2000 * MB)).toBeLessThanOrEqual(took(1000 * MB));
    expect(took(Infinity)).toBeLessThanOrEqual(took(2000 * MB));
  });

  it('of two kinds is no better than that of either, in rate, in knee and in what is proven', () => {
    const slow = evidenceFrom([curveFrom([5, 1000 * MB], [200, 200 * MB])], {
      levelEnds: [5000 * MB, 45_000 * MB],
      kneeBytes: 5000 * MB,
      span: { worstSecondBytesPerSecond: 200 * MB, floorBytesPerSecond: 200 * MB, openingBytesPerSecond: 1000 * MB },
    });
    const mixed = composedEvidence(
      [
        { evidence: filled, count: 2 },
        { evidence: slow, count: 2 },
      ],
      together(4),
      1,
      Infinity,
    );
    expect(mixed.kneeBytes).toBe(4 * 5000 * MB);
    expect(mixed.provenBytes).toBe(4 * 45_000 * MB);
    expect(mixed.span.floorBytesPerSecond).toBeLessThanOrEqual(4 * 200 * MB);
    expect(mixed.curves[0]!.seconds.at(-1)).toBeGreaterThanOrEqual(205 - 1e-6);
  });
});
