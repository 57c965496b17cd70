import { describe, expect, it } from 'vitest';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { PacedProof } from '#core/4-runs/supply/paced-proof.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { demandFrom, evidenceFrom, progressOf, steady, supplyFrom } from '#core/testing/curves.ts';
import { judge } from '#core/5-answers/verdict/judge.ts';
import { judgeTogether, summedDemand } from '#core/5-answers/verdict/together.ts';

const asking = (name: string, direction: Direction, bytesPerSecond: number) =>
  demandFrom({ itemId: name, name, direction, bytesPerSecond, streams: 1, takeSeconds: 10 });
const policy = { headroomShare: 0.25 };
/** 200 B/s each way, for a minute. */
const both: Supply = supplyFrom([
  evidenceFrom([steady(60, 200)]),
  evidenceFrom([steady(60, 200)], { direction: 'read', runId: 'run-2' }),
]);

/** A run of Paced frames that did both ways at once. */
const paced = (more: Partial<PacedProof> = {}): PacedProof => ({
  runId: 'paced',
  seconds: 30,
  bufferSeconds: 1,
  write: { bytesPerSecond: 100, streams: 1, droppedAtSeconds: null },
  read: { bytesPerSecond: 100, streams: 1, droppedAtSeconds: null },
  mayProveHolds: true,
  mayProveBreaks: true,
  ...more,
});

describe('demands of one direction', () => {
  const first = { ...asking('A', 'write', 100), takes: 2, gapSeconds: 60, framesPerSecond: null };
  const second = { ...asking('B', 'write', 50), takes: 3, gapSeconds: 20, takeSeconds: 30, streams: 2, burstBytes: 7 };
  const third = asking('C', 'write', 10);

  it('add up: rates, peaks, buffers and streams; the longest take, the most takes and the shortest gap count', () => {
    expect(summedDemand([first, second, third, asking('D', 'read', 999)], 'write')).toMatchObject({
      name: 'All at once',
      isSum: true,
      bytesPerSecond: 160,
      peakBytesPerSecond: 160,
      burstBytes: 7,
      bufferBytes: 160,
      streams: 4,
      takeSeconds: 30,
      takes: 3,
      gapSeconds: 0,
      framesPerSecond: 25,
      curve: null,
      bytesPerFrame: 10 / 75,
      formatText: 'A, B and C',
    });
    expect(summedDemand([first, second], 'write')).toMatchObject({ formatText: 'A and B', gapSeconds: 20 });
  });

  it('are one alone as they are, and none where there are none', () => {
    const curve = progressOf([5, 10]);
    const alone = summedDemand([{ ...first, curve }], 'write');
    expect(alone).toMatchObject({ name: 'A', isSum: false, curve, formatText: first.formatText });
    expect(summedDemand([first], 'read')).toBeNull();
    expect(judgeTogether([], both, policy, null)).toBeNull();
  });

  it('are judged as their sum', () => {
    const together = judgeTogether([asking('A', 'write', 100), asking('B', 'write', 150)], both, policy, null)!;
    expect(together.isMixed).toBe(false);
    expect(together.verdict).toEqual(judge(together.demand, both, policy, null));
    expect(together.verdict.verdict).toBe('breaks');
  });
});

describe('demands of both directions', () => {
  const judged = (write: number, read: number, supply: Supply = both) =>
    judgeTogether([asking('Rec', 'write', write), asking('Play', 'read', read)], supply, policy, null)!;

  it('are shown by the larger, with the names of all', () => {
    expect(judged(50, 60)).toMatchObject({
      isMixed: true,
      demand: { direction: 'read', name: 'All at once', isSum: true, formatText: 'Rec and Play' },
    });
    expect(judged(60, 60).demand.direction).toBe('write');
  });

  it('are not proven by runs that went one way, whatever their shares come to', () => {
    const open = judged(60, 80).verdict;
    expect(open).toMatchObject({ verdict: 'not-proven', reason: 'mixed', provenBytes: 0, runId: 'run-1' });
    expect(open.wouldProve).not.toBeNull();
    expect(open.guaranteedBytesPerSecond).toBeNull();
    expect(judged(150, 120).verdict).toMatchObject({ verdict: 'not-proven', reason: 'mixed' });
  });

  it('break on a link that goes one way at a time when their buffers are used up', () => {
    // 270 B/s over 250 fill and empty buffers of 270 bytes in 13.5 s; takes of ten seconds get away with it.
    const half = { ...both, bothWaysBytesPerSecond: 250 };
    expect(judged(150, 120, half).verdict.verdict).toBe('not-proven');
    const { verdict } = judged(150, 160, half);
    expect(verdict).toMatchObject({ verdict: 'breaks', reason: 'mixed' });
    expect(verdict.breaksAtSeconds).toBeCloseTo(310 / 60, 6);
  });

  it('need room for what they write, whoever proved the rate', () => {
    const full = judgeTogether(
      [asking('Rec', 'write', 80), asking('Play', 'read', 80)],
      { ...both, paced: [paced()] },
      policy,
      600,
    )!;
    expect(full.verdict).toMatchObject({ verdict: 'breaks', reason: 'full', breaksAtSeconds: 7.5 });
  });

  it('break where one of them alone does', () => {
    expect(judged(50, 260).verdict).toMatchObject({ verdict: 'breaks', reason: 'too-slow', runId: 'run-2' });
  });

  it('say nothing of a rate where nothing was measured', () => {
    expect(judged(50, 50, supplyFrom([])).verdict).toMatchObject({
      verdict: 'not-proven',
      reason: 'mixed',
      guaranteedBytesPerSecond: null,
      runId: null,
    });
    const readOnly = supplyFrom([both.traces[1]!]);
    expect(judged(50, 50, readOnly).verdict.runId).toBe('run-2');
  });

  describe('are proven by a run that did both', () => {
    const after = (...runs: PacedProof[]) => ({ ...both, paced: runs });

    it('with headroom, or tight when either has too little', () => {
      expect(judged(80, 80, after(paced())).verdict).toMatchObject({ verdict: 'holds', reason: 'done' });
      expect(judged(90, 80, after(paced())).verdict.verdict).toBe('tight');
      expect(judged(80, 90, after(paced())).verdict.verdict).toBe('tight');
    });

    it('unless it asked for less, or went one way only', () => {
      expect(judged(101, 80, after(paced())).verdict.verdict).toBe('not-proven');
      const none = { bytesPerSecond: 0, streams: 0, droppedAtSeconds: null };
      expect(judged(80, 80, after(paced({ read: none }))).verdict.verdict).toBe('not-proven');
    });

    it('and broken by one that lost frames, whatever another run did', () => {
      const lost = paced({ runId: 'lost', read: { bytesPerSecond: 80, streams: 1, droppedAtSeconds: 4 } });
      expect(judged(80, 80, after(paced(), lost)).verdict).toMatchObject({
        verdict: 'breaks',
        breaksAtSeconds: 4,
        runId: 'lost',
      });
    });
  });
});
