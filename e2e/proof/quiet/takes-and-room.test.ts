import { statfsSync } from 'node:fs';
import { expect, it } from 'vitest';
import { profileRunOf } from '#core/4-runs/supply/profile.ts';
import { roomBytes } from '#core/4-runs/supply/room.ts';
import { supplyFrom } from '#core/testing/curves.ts';
import { framesOf } from '#core/4-runs/trace/frames.ts';
import { judge, judgeRun } from '#core/5-answers/verdict/judge.ts';
import { DEFAULT_POLICY } from '#core/5-answers/verdict/verdict.ts';
import { FRAME_BYTES, breakOf, demandOf, firstDropped, inSeconds, jobsOnLevels, onHeldDevice } from './held-jobs.ts';

onHeldDevice('takes', (rig, tell) => {
  it('loses it in the second of two takes when said, and promises nothing of a gap between them', async () => {
    const held = { fast: 200, slow: 55, after: 800 };
    const job = { frames: 135, buffer: 1.5 };
    const fill = await rig().fill(held, '--recovery', '5s');
    const takeSeconds = 5;
    const takesWith = (gapSeconds: number) =>
      judgeRun(demandOf(job, { takeSeconds, takes: 2, gapSeconds, between: 'stay' }), fill.evidence, DEFAULT_POLICY);
    const predicted = takesWith(0);
    expect(predicted).toMatchObject({ verdict: 'breaks', breaksInTake: 2 });
    // The rest that was measured gave nothing back, but another one may.
    expect(fill.evidence.recovery[0]!.regainedBytes).toBe(0);
    expect(takesWith(5.1)).toMatchObject({ verdict: 'not-proven', reason: 'later-takes', unknownFromTake: 2 });
    const turn = rig().turnDown(held);
    const first = await rig().record(job, takeSeconds);
    const second = await rig().record(job, takeSeconds);
    const turned = await turn.end();
    expect(framesOf(first)!.dropped).toBe(0);
    const dropped = firstDropped(second)!;
    const shift = (turned.bytes - fill.turned) / (job.frames * FRAME_BYTES);
    const [from, to] = breakOf(predicted);
    tell(`breaks: said ${inSeconds(from, to)} into take 2, lost at ${dropped.toFixed(2)} s`);
    const slack = Math.max(0.03 * dropped, 2 / job.frames) + 0.15;
    expect(dropped).toBeGreaterThanOrEqual(from + shift - slack);
    expect(dropped).toBeLessThanOrEqual(to + shift + slack);
  });

  it('is full when said: a take that ends before fits, and one that ends after is refused', async () => {
    const { device } = rig();
    device.limit(2000e6);
    const fill = await device.measure(
      '--recipe',
      'long-fill',
      '--size',
      '1GB',
      '--until-floor',
      'no',
      '--block',
      '1MiB',
    );
    const { bavail, bsize } = statfsSync(device.mountPoint);
    const job = { frames: 400, buffer: 2 };
    const demand = demandOf(job, { takeSeconds: 60 });
    const predicted = judge(
      demand,
      supplyFrom(profileRunOf(fill).traces),
      DEFAULT_POLICY,
      roomBytes({ freeBytes: bavail * bsize }),
    );
    expect(predicted).toMatchObject({ verdict: 'breaks', reason: 'full' });
    const full = predicted.breaksAtSeconds!;
    tell(`full: said ${full.toFixed(2)} s`);
    expect(framesOf(await rig().record(job, Math.floor(full - 0.2)))!.frames).toBe(400 * Math.floor(full - 0.2));
    await expect(rig().record(job, Math.ceil(full + 0.2))).rejects.toThrow(/free|room|fit/);
  });
});

jobsOnLevels('third', [
  { held: { fast: 190, slow: 70, after: 450 }, breaking: [135, 1.5], holding: [56, 1] },
  { held: { fast: 260, slow: 50, after: 650 }, breaking: [130, 1.5], holding: [42, 0.5] },
]);
