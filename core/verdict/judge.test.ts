import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Demand } from '#core/demand/footage-demand.ts';
import type { Evidence } from '#core/supply/evidence.ts';
import type { Progress } from '#core/trace/progress.ts';
import { DEFAULT_POLICY, judge, judgeRun } from '#core/verdict/judge.ts';
import { verdictSentence } from '#core/verdict/sentences.ts';

const MB = 1e6;
const steady = (seconds: number, rate: number): Progress => ({ seconds: [0, seconds], bytes: [0, seconds * rate] });

function evidence(pieces: Progress[], more: Partial<Evidence> = {}): Evidence {
  const rates = pieces.map((piece) => piece.bytes.at(-1)! / piece.seconds.at(-1)!);
  return {
    runId: 'run-1',
    direction: 'write',
    medium: 'flash',
    pieces,
    provenBytes: Math.max(...pieces.map((piece) => piece.bytes.at(-1)!)),
    continuesFreely: false,
    mayProveHolds: true,
    mayProveBreaks: true,
    doubts: [],
    figures: { medianBytesPerSecond: rates[0]! } as Evidence['figures'],
    span: { worstSecondBytesPerSecond: rates[0]!, floorBytesPerSecond: rates[0]!, openingBytesPerSecond: rates[0]! },
    ...more,
  };
}

const demand = (more: Partial<Demand> = {}): Demand => ({
  itemId: 'item',
  name: 'Three cameras',
  direction: 'write',
  bytesPerSecond: 547 * MB,
  peakBytesPerSecond: 547 * MB,
  framesPerSecond: 25,
  streams: 3,
  takeSeconds: 10,
  takes: 1,
  gapSeconds: 0,
  bufferBytes: 547 * MB,
  formatText: '3840×2160 VC-3 444 at 25',
  ...more,
});

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
      'Carries 547\u202fMB/s for the 3.7 s measured; the rest of the 40 min is not proven.',
    );
  });

  it('breaks where the backlog exceeds the buffer, and the sentence says so', () => {
    const item = demand({
      bytesPerSecond: 530 * MB,
      peakBytesPerSecond: 530 * MB,
      bufferBytes: 530 * MB,
      takeSeconds: 7200,
    });
    const cache: Progress = { seconds: [0, 25, 2025], bytes: [0, 50e9, 50e9 + 2000 * 90 * MB] };
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
    const stall: Progress = { seconds: [0, 5, 5.8, 12], bytes: [0, 5e9, 5e9, 11.2e9] };
    expect(judgeRun(demand(), evidence([stall]), DEFAULT_POLICY).verdict).not.toBe('breaks');
    expect(judgeRun(demand({ peakBytesPerSecond: 2 * 547 * MB }), evidence([stall]), DEFAULT_POLICY).verdict).toBe(
      'breaks',
    );
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
      evidence([steady(2, 9000 * MB)], { continuesFreely: true }),
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
});

describe('several runs and the room', () => {
  const good = evidence([steady(10, 2000 * MB)], { runId: 'good' });
  const short = evidence([steady(1, 3000 * MB)], { runId: 'short' });
  const slow = evidence([steady(10, 300 * MB)], { runId: 'slow' });

  it('the worst proven run counts, and a short one never overrides a long one', () => {
    expect(judge(demand(), [short, good], DEFAULT_POLICY, null)).toMatchObject({ verdict: 'holds', runId: 'good' });
    expect(judge(demand({ bufferBytes: 0 }), [good, slow], DEFAULT_POLICY, null)).toMatchObject({
      verdict: 'breaks',
      runId: 'slow',
    });
    expect(judge(demand(), [], DEFAULT_POLICY, null)).toMatchObject({ verdict: 'not-proven', reason: 'no-run' });
    expect(judge(demand({ direction: 'read' }), [good], DEFAULT_POLICY, null).reason).toBe('no-run');
  });

  it('a take that does not fit breaks when the volume is full', () => {
    const item = demand();
    const verdict = judge(item, [good], DEFAULT_POLICY, 547 * MB * 4);
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
          [evidence([steady(5, rate), { seconds: [0, 2, 3, 6], bytes: [0, 2 * rate, 2 * rate, 5 * rate] }])],
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
