import { describe, expect, it } from 'vitest';
import { MB, demandFrom, evidenceOfTrace, samplesOf } from '#core/testing/curves.ts';
import { judgeRun } from '#core/5-answers/verdict/judge.ts';
import { DEFAULT_POLICY } from '#core/5-answers/verdict/verdict.ts';

/** A cache of 50 GB at 1,000 MB/s, then 200. */
const cached = samplesOf([50, 1000], [200, 200]);
const rested = (regained: number, restSeconds = 60) => ({
  recovery: [{ restSeconds, regainedBytes: regained, atLeast: false }],
});
/** Takes of 15 GB at 500 MB/s, a minute apart. */
const takes = (count: number, more = {}) =>
  demandFrom({
    bytesPerSecond: 500 * MB,
    streams: 1,
    takeSeconds: 30,
    takes: count,
    gapSeconds: 60,
    bufferBytes: 500 * MB,
    ...more,
  });
const say = (count: number, more = {}, trace = {}) =>
  judgeRun(takes(count, more), evidenceOfTrace(cached, trace), DEFAULT_POLICY);

describe('takes after the first', () => {
  it('are known as far as the bytes written without a gap carry them', () => {
    expect(say(3)).toMatchObject({ verdict: 'holds' });
    // The fourth would end behind the knee, unless the rests gave something back.
    expect(say(4)).toMatchObject({ verdict: 'not-proven', reason: 'later-takes', unknownFromTake: 4 });
  });

  it('begin with what rests give back, which adds up', () => {
    // 15, 10 + 5, … : the fifth begins after 20 GB and ends after 35.
    expect(say(5, {}, rested(10e9))).toMatchObject({ verdict: 'holds' });
    expect(say(8, {}, rested(10e9)).verdict).toBe('holds');
    expect(say(9, {}, rested(10e9))).toMatchObject({ verdict: 'not-proven', unknownFromTake: 9 });
    expect(say(1000, {}, rested(15e9)).verdict).toBe('holds');
  });

  it('count only rests that are no longer than the gap', () => {
    expect(say(20, {}, rested(15e9, 61)).verdict).toBe('not-proven');
    expect(say(20, {}, rested(15e9, 59)).verdict).toBe('holds');
  });

  it('are never told to break where a rest might give back more', () => {
    for (const count of [5, 10, 100]) expect(say(count, {}, rested(1e9)).verdict).toBe('not-proven');
  });

  it('that follow each other without a gap break in the take that comes to the knee', () => {
    const broken = say(5, { gapSeconds: 0 });
    expect(broken).toMatchObject({ verdict: 'breaks', breaksInTake: 4 });
    // 5 GB to the knee at 500 MB/s, then 300 MB/s too many fill 500 MB.
    expect(broken.breaksAtSeconds).toBeCloseTo(10 + 500 / 300, 1);
  });
});
