import { describe, expect, it } from 'vitest';
import { demandFrom, evidenceFrom, steady } from '#core/testing/curves.ts';
import { provingRun } from '#core/5-answers/verdict/proving-run.ts';

const evidence = evidenceFrom([steady(100, 50)], { kneeBytes: 1000 });
const takes = demandFrom({ bytesPerSecond: 30, takeSeconds: 10, takes: 4, gapSeconds: 1300 });
const doubted = (code: string) =>
  evidenceFrom([steady(100, 50)], {
    direction: 'read',
    doubts: [{ code, effect: 'too-high', direction: 'read', evidence: '', advice: '', atSeconds: null }],
  });

describe('the run that would prove a demand', () => {
  it('writes as much as a take, at the rate of the drive', () => {
    expect(provingRun(takes, evidence, 'too-short')).toEqual({
      recipe: 'long-fill',
      readsBack: false,
      bytes: 300,
      seconds: 6,
      restSeconds: null,
    });
    expect(provingRun(takes, null, 'no-run').seconds).toBeNull();
  });

  it('rests as long as one of the usual rests that fits into the gap, or writes all takes at once', () => {
    const rested = provingRun(takes, evidence, 'later-takes');
    expect(rested.restSeconds).toBeGreaterThan(0);
    expect(rested.restSeconds).toBeLessThanOrEqual(1300);
    expect(rested).toMatchObject({ bytes: 300, seconds: 6 + rested.restSeconds! });
    const short = provingRun({ ...takes, gapSeconds: 1 }, evidence, 'later-takes');
    expect(short).toMatchObject({ bytes: 1200, seconds: 24, restSeconds: null });
    const flat = provingRun(takes, { ...evidence, kneeBytes: null }, 'later-takes');
    expect(flat).toMatchObject({ bytes: 1200, restSeconds: null });
  });

  it('does several streams, or both ways at once, frame by frame', () => {
    for (const reason of ['several-streams', 'mixed'] as const) {
      expect(provingRun(takes, evidence, reason)).toEqual({
        recipe: 'paced-frames',
        readsBack: false,
        bytes: 300,
        seconds: 10,
        restSeconds: null,
      });
    }
  });

  it('reads what was there before where reading back is doubted, and else reads back', () => {
    const play = { ...takes, direction: 'read' as const };
    expect(provingRun(play, null, 'no-run')).toMatchObject({ recipe: 'existing-material', readsBack: false });
    expect(provingRun(play, doubted('server-memory'), 'doubtful').recipe).toBe('existing-material');
    expect(provingRun(play, doubted('read-from-write-cache'), 'doubtful').recipe).toBe('existing-material');
    expect(provingRun(play, doubted('short-run'), 'doubtful')).toMatchObject({ recipe: 'long-fill', readsBack: true });
  });
});
