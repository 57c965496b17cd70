import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import {
  MB,
  curveFrom,
  demandFrom as demand,
  evidenceFrom as evidence,
  evidenceOfTrace,
  samplesOf,
  steady,
  supplyFrom,
} from '#core/testing/curves.ts';
import { judge, judgeRun } from '#core/5-answers/verdict/judge.ts';
import { verdictSentence } from '#core/5-answers/verdict/sentences.ts';
import { DEFAULT_POLICY } from '#core/5-answers/verdict/verdict.ts';

describe('what one run proves', () => {
  it('holds inside its own bytes with the headroom asked for, else is tight', () => {
    const item = demand({ bufferBytes: 0 });
    expect(judgeRun(item, evidence([steady(10, 700 * MB)]), DEFAULT_POLICY).verdict).toBe('holds');
    expect(judgeRun(item, evidence([steady(10, 600 * MB)]), DEFAULT_POLICY).verdict).toBe('tight');
    expect(judgeRun(item, evidence([steady(10, 600 * MB)]), { headroomShare: 0.05 }).verdict).toBe('holds');
  });

  it('says how long it carried a demand that writes more than the run did', () => {
    const item = demand({ takeSeconds: 2400 });
    const verdict = judgeRun(item, evidence([steady(2, 1000 * MB)]), DEFAULT_POLICY);
    expect(verdict).toMatchObject({ verdict: 'not-proven', reason: 'too-short', provenBytes: 2e9 });
    expect(verdict.provenSeconds).toBeCloseTo(3.656, 3);
    expect(verdict.wouldProve).toMatchObject({ recipe: 'long-fill', readsBack: false, bytes: 547 * MB * 2400 });
    expect(verdictSentence(item, verdict)).toBe(
      'Carries 547\u202fMB/s for the first 3.7 s; the rest of the 40 min is not proven.',
    );
  });

  it('breaks where the backlog exceeds the buffer, and the sentence says so', () => {
    const item = demand({
      bytesPerSecond: 530 * MB,
      peakBytesPerSecond: 530 * MB,
      bufferBytes: 530 * MB,
      takeSeconds: 7200,
    });
    const cache = curveFrom([25, 2000 * MB], [2000, 90 * MB]);
    const verdict = judgeRun(item, evidence([cache]), DEFAULT_POLICY);
    expect(verdict.verdict).toBe('breaks');
    expect(verdict.breaksAtSeconds).toBeCloseTo(95.544, 2);
    expect(verdictSentence(item, verdict)).toMatch(
      /^Drops its first frame after 1 min 36 s, at 50\.1\u202fGB: carries 90\.3 of the 530/,
    );
  });

  it('holds the worst of its passes against the demand', () => {
    const verdict = judgeRun(
      demand({ takeSeconds: 1, bufferBytes: 0 }),
      evidence([steady(2, 900 * MB), steady(2, 300 * MB)]),
      DEFAULT_POLICY,
    );
    expect(verdict).toMatchObject({ verdict: 'breaks', breaksAtSeconds: 0 });
  });

  it('lets the peaks of the demand eat into the buffer', () => {
    const stall = curveFrom([5, 1000 * MB], [0.8, 0], [6.2, 1000 * MB]);
    expect(judgeRun(demand(), evidence([stall]), DEFAULT_POLICY).verdict).not.toBe('breaks');
    const peaky = judgeRun(demand({ peakBytesPerSecond: 2 * 547 * MB }), evidence([stall]), DEFAULT_POLICY);
    expect(peaky).toMatchObject({ verdict: 'not-proven', reason: 'worst-moment' });
  });

  it('says that takes after the first are not proven by a run of one take', () => {
    const item = demand({ takes: 4 });
    const verdict = judgeRun(item, evidence([steady(10, 1000 * MB)]), DEFAULT_POLICY);
    expect(verdict).toMatchObject({ verdict: 'not-proven', reason: 'later-takes' });
    expect(verdictSentence(item, verdict)).toMatch(
      /^The first take of 10 s holds .* the three after it are not proven/,
    );
  });

  it('continues memory freely', () => {
    const verdict = judgeRun(
      demand({ takeSeconds: 1e5 }),
      evidence([steady(2, 9000 * MB)], { continuedBytes: null }),
      DEFAULT_POLICY,
    );
    expect(verdict).toMatchObject({ verdict: 'holds', continued: true });
  });
});

describe('doubts', () => {
  it('that read too high never let a run hold, but let it break', () => {
    const doubtful = { mayProveHolds: false };
    expect(judgeRun(demand(), evidence([steady(10, 2000 * MB)], doubtful), DEFAULT_POLICY)).toMatchObject({
      verdict: 'not-proven',
      reason: 'doubtful',
    });
    expect(
      judgeRun(demand({ bufferBytes: 0 }), evidence([steady(10, 200 * MB)], doubtful), DEFAULT_POLICY).verdict,
    ).toBe('breaks');
  });

  it('that may read too low never let a run break, but let it hold', () => {
    const doubtful = { mayProveBreaks: false };
    expect(
      judgeRun(demand({ bufferBytes: 0 }), evidence([steady(10, 200 * MB)], doubtful), DEFAULT_POLICY).verdict,
    ).toBe('not-proven');
    expect(judgeRun(demand(), evidence([steady(10, 2000 * MB)], doubtful), DEFAULT_POLICY).verdict).toBe('holds');
  });

  it('let no starved run outweigh sound ones', () => {
    const { bytesPerSecond, takeSeconds } = demand();
    const sound = evidence([steady(takeSeconds, 3 * bytesPerSecond)], { runId: 'sound' });
    const slow = [steady(takeSeconds, 1.1 * bytesPerSecond)];
    const starved = evidence(slow, { runId: 'starved', mayProveBreaks: false });
    const said = (...runs: (typeof sound)[]) => judge(demand(), supplyFrom(runs), DEFAULT_POLICY, null);
    expect(said(starved)).toMatchObject({ verdict: 'tight', runId: 'starved' });
    expect(said(starved, sound)).toMatchObject({ verdict: 'holds', runId: 'sound' });
    // Where the sound ones leave it open, what carried it all the same counts.
    const short = evidence([steady(0.5, 2000 * MB)], { runId: 'short' });
    expect(said(starved, short)).toMatchObject({ verdict: 'tight', runId: 'starved' });
  });
});

describe('several runs and the room', () => {
  const good = evidence([steady(10, 2000 * MB)], { runId: 'good' });
  const short = evidence([steady(1, 3000 * MB)], { runId: 'short' });
  const slow = evidence([steady(10, 300 * MB)], { runId: 'slow' });

  it('the worst proven run counts, and a short one never overrides a long one', () => {
    expect(judge(demand(), supplyFrom([short, good]), DEFAULT_POLICY, null)).toMatchObject({
      verdict: 'holds',
      runId: 'good',
    });
    expect(judge(demand({ bufferBytes: 0 }), supplyFrom([good, slow]), DEFAULT_POLICY, null)).toMatchObject({
      verdict: 'breaks',
      runId: 'slow',
    });
    expect(judge(demand(), supplyFrom([]), DEFAULT_POLICY, null)).toMatchObject({
      verdict: 'not-proven',
      reason: 'no-run',
    });
    expect(judge(demand({ direction: 'read' }), supplyFrom([good]), DEFAULT_POLICY, null).reason).toBe('no-run');
  });

  it('a take that does not fit breaks when the volume is full', () => {
    const item = demand();
    const verdict = judge(item, supplyFrom([good]), DEFAULT_POLICY, 547 * MB * 4);
    expect(verdict).toMatchObject({ verdict: 'breaks', reason: 'full', breaksAtSeconds: 4 });
    expect(verdictSentence(item, verdict)).toBe(
      'Is full after 4 s: the take needs 5.47\u202fGB and 2.19\u202fGB can be used.',
    );
  });

  it('a longer take never helps, more buffer and more rate never hurt', () => {
    const rank = { breaks: 0, 'not-proven': 1, tight: 2, holds: 3 };
    const rankOf = (item: Demand, rate: number) =>
      rank[
        judge(
          item,
          supplyFrom([evidence([steady(5, rate), curveFrom([2, rate], [1, 0], [3, rate])])]),
          DEFAULT_POLICY,
          1e12,
        ).verdict
      ];
    fc.assert(
      fc.property(
        fc.record({
          takeSeconds: fc.double({ min: 1, max: 60, noNaN: true }),
          bufferBytes: fc.double({ min: 0, max: 2e9, noNaN: true }),
        }),
        fc.double({ min: 100 * MB, max: 3000 * MB, noNaN: true }),
        fc.double({ min: 1.01, max: 3, noNaN: true }),
        ({ takeSeconds, bufferBytes }, rate, factor) => {
          const item = demand({ takeSeconds, bufferBytes });
          const here = rankOf(item, rate);
          // A longer take may turn a break at a stall into the same break, never into a hold.
          expect(rankOf({ ...item, takeSeconds: takeSeconds * factor }, rate)).toBeLessThanOrEqual(here);
          expect(rankOf({ ...item, bufferBytes: bufferBytes * factor }, rate)).toBeGreaterThanOrEqual(here);
        },
      ),
    );
  });
});

describe('takes after the first', () => {
  // 60 GB fast, then 300 MB/s as far as 360 GB.
  const cached = evidence([curveFrom([30, 2000 * MB], [1000, 300 * MB])], {
    kneeBytes: 60e9,
    levelEnds: [60e9, 360e9],
  });
  const rested = (restSeconds: number, regainedBytes: number) => ({
    ...cached,
    recovery: [{ restSeconds, regainedBytes, atLeast: false }],
  });
  const night = demand({ takeSeconds: 100, takes: 4, gapSeconds: 600, bufferBytes: 1e9 });

  it('are not proven by a first take that fits in the cache, and the run that would prove them rests', () => {
    const verdict = judgeRun(night, cached, DEFAULT_POLICY);
    expect(verdict).toMatchObject({ verdict: 'not-proven', reason: 'later-takes' });
    expect(verdict.wouldProve).toMatchObject({ recipe: 'long-fill', restSeconds: 300 });
  });

  it('hold when a rest no longer than the gap was seen to give back a take', () => {
    expect(judgeRun(night, rested(600, 58e9), DEFAULT_POLICY).verdict).toBe('holds');
    expect(judgeRun(night, rested(900, 58e9), DEFAULT_POLICY)).toMatchObject({ reason: 'later-takes' });
  });

  it('are not proven where rests gave back less than a take writes', () => {
    // Every rest gives back 20 GB, and a take uses 54.7: the second begins 34.7 GB before the knee.
    expect(judgeRun(night, rested(600, 20e9), DEFAULT_POLICY)).toMatchObject({
      verdict: 'not-proven',
      reason: 'later-takes',
      unknownFromTake: 2,
    });
    // 24 GB a take: 0, 23, 46 GB into 60; the third runs out.
    const item = demand({ takeSeconds: 44, takes: 5, gapSeconds: 600, bufferBytes: 1e9 });
    expect(judgeRun(item, rested(60, 1e9), DEFAULT_POLICY)).toMatchObject({ unknownFromTake: 3 });
  });
});

describe('dips', () => {
  it('strike by time where the drive is faster than the job, and do not reach over a level', () => {
    // At 2 GB/s a stall every 10 s of the trace: by bytes a job of 10 GB would never meet it.
    const stalls = evidenceOfTrace(samplesOf([10, 2000], [3, 0], [10, 2000], [3, 0], [10, 2000]));
    const item = demand({ takeSeconds: 20, bufferBytes: 547 * MB });
    expect(judgeRun(item, stalls, DEFAULT_POLICY)).toMatchObject({ verdict: 'not-proven', reason: 'worst-moment' });
    // The knee lies beyond the job's bytes: it is no dip, however soon the trace came to it.
    const knee = evidence([curveFrom([10, 2000 * MB], [100, 90 * MB])], { kneeBytes: 20e9, levelEnds: [20e9, 29e9] });
    expect(judgeRun(item, knee, DEFAULT_POLICY).verdict).toBe('holds');
  });
});

describe('a demand that changes', () => {
  const twoLayers = (rate: number) => ({
    seconds: [0, 10, 20, 30],
    bytes: [0, 10 * rate, 30 * rate, 40 * rate],
  });
  const playing = (rate: number, bufferBytes = 0) =>
    demand({
      direction: 'read',
      bytesPerSecond: (4 / 3) * rate,
      peakBytesPerSecond: 2 * rate,
      curve: twoLayers(rate),
      takeSeconds: 30,
      bufferBytes,
    });
  const reads = (rate: number) => evidence([steady(60, rate)], { direction: 'read' });

  it('holds when its peak is carried, and with the buffer that its peak needs', () => {
    expect(judgeRun(playing(100 * MB), reads(300 * MB), DEFAULT_POLICY).verdict).toBe('holds');
    expect(judgeRun(playing(100 * MB), reads(201 * MB), DEFAULT_POLICY).verdict).toBe('tight');
    // 200 MB/s for 10 s from a drive that gives 150: 500 MB have to be there before.
    expect(judgeRun(playing(100 * MB, 501 * MB), reads(150 * MB), DEFAULT_POLICY).verdict).toBe('tight');
    const short = judgeRun(playing(100 * MB, 400 * MB), reads(150 * MB), DEFAULT_POLICY);
    expect(short).toMatchObject({ verdict: 'breaks' });
    expect(short.leastBufferBytes! / MB).toBeCloseTo(500, 0);
    // The peak begins at 10 s; 400 MB last 8 s of it.
    expect(short.breaksAtSeconds).toBeCloseTo(18, 1);
  });

  it('breaks as a constant one does when it is constant', () => {
    fc.assert(
      fc.property(fc.double({ min: 120, max: 900, noNaN: true }), (rate) => {
        const cache = evidence([curveFrom([25, 2000 * MB], [2000, 100 * MB])]);
        const item = demand({ bytesPerSecond: rate * MB, takeSeconds: 1200, bufferBytes: 300 * MB });
        const bytes = rate * MB * 1200;
        const asked = { ...item, curve: { seconds: [0, 400, 1200], bytes: [0, bytes / 3, bytes] } };
        const [one, other] = [judgeRun(item, cache, DEFAULT_POLICY), judgeRun(asked, cache, DEFAULT_POLICY)];
        expect(other.verdict).toBe(one.verdict);
        if (one.breaksAtSeconds !== null) expect(other.breaksAtSeconds! / one.breaksAtSeconds).toBeCloseTo(1, 5);
      }),
      { numRuns: 30 },
    );
  });
});

describe('several streams', () => {
  it('in which an item is split change nothing on media without seeks', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 40 }), fc.double({ min: 100, max: 900, noNaN: true }), (streams, rate) => {
        const known = supplyFrom([evidence([steady(20, rate * MB)])]);
        const one = judge(demand({ streams: 1 }), known, DEFAULT_POLICY, null);
        expect(judge(demand({ streams }), known, DEFAULT_POLICY, null)).toEqual(one);
      }),
    );
  });

  it('need the ladder on media that seek, at the size in which frames are moved', () => {
    const trace = evidence([steady(20, 900 * MB)], { medium: 'spinning' });
    const seeks = (bytesPerSecond?: number) =>
      supplyFrom([trace], {
        medium: 'spinning',
        random:
          bytesPerSecond === undefined
            ? []
            : [
                { runId: 'l', direction: 'write', blockBytes: 4096, depth: 4, bytesPerSecond: 1 * MB },
                { runId: 'l', direction: 'write', blockBytes: 4 << 20, depth: 4, bytesPerSecond },
                { runId: 'l', direction: 'write', blockBytes: 16 << 20, depth: 4, bytesPerSecond: 9000 * MB },
              ],
      });
    const item = demand({ bytesPerFrame: 7.3e6 });
    expect(judge(demand({ streams: 1 }), seeks(), DEFAULT_POLICY, null).verdict).toBe('holds');
    const unknown = judge(item, seeks(), DEFAULT_POLICY, null);
    expect(unknown).toMatchObject({ verdict: 'not-proven', reason: 'several-streams' });
    expect(unknown.wouldProve?.recipe).toBe('paced-frames');
    expect(judge(item, seeks(800 * MB), DEFAULT_POLICY, null).verdict).toBe('holds');
    expect(judge(item, seeks(600 * MB), DEFAULT_POLICY, null).verdict).toBe('tight');
    expect(judge(item, seeks(300 * MB), DEFAULT_POLICY, null).reason).toBe('several-streams');
  });
});

describe('what was done frame by frame', () => {
  const played = (bytesPerSecond: number, more: object = {}) => ({
    runId: 'paced',
    seconds: 10,
    bufferSeconds: 1,
    write: { bytesPerSecond, streams: 3, droppedAtSeconds: null, ...more },
    read: { bytesPerSecond: 0, streams: 0, droppedAtSeconds: null },
    mayProveHolds: true,
    mayProveBreaks: true,
  });
  const judged = (paced: ReturnType<typeof played>, traces = [] as ReturnType<typeof evidence>[], item = demand()) =>
    judge(item, supplyFrom(traces, { paced: [paced] }), DEFAULT_POLICY, null);

  it('proves what asks for no more, in no more streams, for no longer', () => {
    expect(judged(played(547 * MB))).toMatchObject({ verdict: 'tight', reason: 'done' });
    expect(judged(played(700 * MB)).verdict).toBe('holds');
    expect(judged(played(500 * MB)).reason).toBe('no-run');
    expect(judged(played(547 * MB), [], demand({ streams: 4 })).reason).toBe('no-run');
    expect(judged(played(547 * MB), [], demand({ takeSeconds: 60 })).reason).toBe('no-run');
  });

  it('breaks what asks for no less, when it dropped a frame', () => {
    expect(judged(played(547 * MB, { droppedAtSeconds: 4 }))).toMatchObject({ verdict: 'breaks', breaksAtSeconds: 4 });
    expect(judged(played(700 * MB, { droppedAtSeconds: 4 })).reason).toBe('no-run');
  });

  it('outweighs a break that gave no credit to a cache that empties itself', () => {
    const cache = evidence([curveFrom([4, 500 * MB], [100, 90 * MB])], { kneeBytes: 2e9 });
    expect(judged(played(547 * MB), [cache])).toMatchObject({ verdict: 'tight', reason: 'done' });
    expect(judged(played(547 * MB), [evidence([steady(20, 90 * MB)])]).verdict).toBe('breaks');
  });
});
