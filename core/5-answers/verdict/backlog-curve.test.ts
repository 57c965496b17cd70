import { describe, expect, it } from 'vitest';
import { MB, curveFrom, demandFrom, evidenceFrom, steady } from '#core/testing/curves.ts';
import { backlogCurve } from '#core/5-answers/verdict/backlog-curve.ts';
import { judgeRun } from '#core/5-answers/verdict/judge.ts';
import { DEFAULT_POLICY } from '#core/5-answers/verdict/verdict.ts';

describe('the backlog over a take', () => {
  it('reaches the buffer at the moment at which the verdict breaks', () => {
    const evidence = evidenceFrom([curveFrom([25, 2000 * MB], [100, 90 * MB], [100, 90 * MB])]);
    const demand = demandFrom({ bytesPerSecond: 530 * MB, takeSeconds: 7200 });
    const { seconds, bytes } = backlogCurve(demand, evidence);
    const { breaksAtSeconds } = judgeRun(demand, evidence, DEFAULT_POLICY);
    const row = bytes.findIndex((waiting) => waiting > demand.bufferBytes);
    // Between the points before and after the buffer is full the line meets it.
    const share = (demand.bufferBytes - bytes[row - 1]!) / (bytes[row]! - bytes[row - 1]!);
    const meets = seconds[row - 1]! + share * (seconds[row]! - seconds[row - 1]!);
    expect(meets).toBeCloseTo(breaksAtSeconds!, 2);
  });

  it('is nothing while the drive keeps up, and ends with what was proven', () => {
    const { seconds, bytes, continuedFromSeconds } = backlogCurve(
      demandFrom({ takeSeconds: 600 }),
      evidenceFrom([steady(20, 1094 * MB)]),
    );
    expect(Math.max(...bytes)).toBe(0);
    expect(seconds.at(-1)).toBeCloseTo(40, 6);
    expect(continuedFromSeconds).toBeNull();
  });

  it('says where the run is taken to go on', () => {
    const going = {
      ...curveFrom([10, 1094 * MB], [10, 547 * MB]),
      continuation: { fromCorner: 1, toCorner: 2, slower: [1, 1] },
    };
    const evidence = evidenceFrom([going], { continuedBytes: 16.41e9 + 2 * 5.47e9 });
    const { seconds, continuedFromSeconds } = backlogCurve(demandFrom({ takeSeconds: 600 }), evidence);
    expect(continuedFromSeconds).toBeCloseTo(40, 6);
    expect(seconds.at(-1)).toBeCloseTo(50, 6);
  });

  it('follows a stall of a drive that is played from', () => {
    const stalled = evidenceFrom([curveFrom([10, 1000 * MB], [2, 0], [10, 1000 * MB])], { direction: 'read' });
    const demand = demandFrom({ direction: 'read', bytesPerSecond: 400 * MB, takeSeconds: 60 });
    const { seconds, bytes } = backlogCurve(demand, stalled);
    expect(Math.max(...bytes) / MB).toBeCloseTo(800, 6);
    expect(seconds[bytes.indexOf(Math.max(...bytes))]).toBeCloseTo(12, 6);
  });
});
