import { describe, expect, it } from 'vitest';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { evidenceOf } from '#core/4-runs/supply/evidence.ts';
import { judgeRun } from '#core/5-answers/verdict/judge.ts';
import { DEFAULT_POLICY } from '#core/5-answers/verdict/verdict.ts';
import { demandFrom } from '#core/testing/curves.ts';
import type { MadeDrive } from '#core/testing/job-oracle.ts';
import { decideOn, decidedCase, decidedTable } from '#engine/testing/decided-drives.ts';

const MB = 1e6;
const driveOf = (more: Partial<MadeDrive>): MadeDrive => ({
  levels: [{ toBytes: Infinity, rate: 1000 * MB }],
  slope: null,
  swing: null,
  stops: [],
  stopsAtBytes: [],
  regainPerSecond: null,
  ceiling: null,
  ...more,
});
const job = (rate: number, takeSeconds: number, buffer = rate): Demand =>
  demandFrom({ name: 'Job', bytesPerSecond: rate * MB, takeSeconds, bufferBytes: buffer * MB, streams: 1 });
const decide = (drive: MadeDrive, ...jobs: Demand[]) => decideOn({ drive, traceSeconds: 1e6, noise: 0 }, jobs, 1);
const kneeOf = (gigabytes: number, opening: number, floor: number) =>
  driveOf({
    levels: [
      { toBytes: gigabytes * 1e9, rate: opening * MB },
      { toBytes: Infinity, rate: floor * MB },
    ],
  });

describe('until it is decided', () => {
  it('holds once the job’s own bytes were moved and no pause came for a minute, written on at the job’s pace', () => {
    const { states, seconds, bytes } = decide(driveOf({}), job(100, 300));
    expect(states[0]).toMatchObject({ decided: 'holds', by: 'own-bytes' });
    expect(seconds).toBeCloseTo(60, 0);
    // 30 GB at full speed, then 125 MB/s for half a minute.
    expect(bytes / 1e9).toBeCloseTo(30 + 30 * 0.125, 0);
  });

  it('breaks as soon as it runs over', () => {
    // 25 s at 2,000 MB/s; behind that 440 MB/s are lacking, and 530 MB are the buffer.
    const { states, seconds, run } = decide(kneeOf(50, 2000, 90), job(530, 600));
    expect(states[0]).toMatchObject({ decided: 'breaks', by: 'ran-over' });
    expect(seconds).toBeGreaterThan(25 + 530 / 440);
    // Up to five seconds more tell the floor from a stop, and with it the moment.
    const over = 25 + 530 / 440;
    expect(seconds).toBeLessThan(over + 6);
    const { breaksAtSeconds, breaksAtLatestSeconds } = judgeRun(
      job(530, 600),
      evidenceOf(run, 'write')!,
      DEFAULT_POLICY,
    );
    const told = [breaksAtSeconds, breaksAtLatestSeconds ?? breaksAtSeconds] as [number, number];
    // 50 GB at 530 MB/s, then 440 MB/s fill the buffer.
    for (const moment of told) expect(Math.abs(moment / (50e3 / 530 + 530 / 440) - 1)).toBeLessThan(0.02);
  });

  it('goes on along a floor that was seen for long enough, and no further than it was seen', () => {
    const { states, bytes, run } = decide(kneeOf(50, 2000, 400), job(200, 1000));
    expect(states[0]).toMatchObject({ decided: 'holds', by: 'floor' });
    expect(bytes).toBeLessThan(130e9);
    expect(judgeRun(job(200, 1000), evidenceOf(run, 'write')!, DEFAULT_POLICY)).toMatchObject({
      verdict: 'holds',
      continued: true,
    });
  });

  it('lets one job go on when another is decided, and ends with the last', () => {
    const { states, seconds } = decide(kneeOf(50, 2000, 90), job(530, 600), job(13.8, 2400));
    expect(states.map(({ decided }) => decided)).toEqual(['breaks', 'holds']);
    expect(seconds).toBeGreaterThan(59);
  });

  it('says that it is not proven where a pause comes while it is watched, and the run says so afterwards', () => {
    // Eight seconds take its bytes; the pause comes while it is written on at its pace.
    const paused = driveOf({ stops: [{ at: 40, seconds: 4 }] });
    const { states, run } = decide(paused, job(100, 80));
    expect(states[0]!.decided).toBeNull();
    expect(judgeRun(job(100, 80), evidenceOf(run, 'write')!, DEFAULT_POLICY).verdict).toBe('not-proven');
    // A buffer that bridges it is another matter.
    expect(decide(paused, job(100, 80, 700)).states[0]!.decided).toBe('holds');
  });

  it('ends at its limits with what it could not decide', () => {
    const { states, seconds } = decide(driveOf({ levels: [{ toBytes: Infinity, rate: 300 * MB }] }), job(100, 20_000));
    expect(states[0]!.decided).toBeNull();
    expect(states[0]!.text).toBe('as far as seen it holds; its end lies beyond what may be written');
    expect(seconds).toBeLessThanOrEqual(601);
  });

  it('reads material that is there for what is to be played, and writes nothing', () => {
    const play = { ...job(200, 100), direction: 'read', act: 'play' } as Demand;
    const { states, run } = decideOn({ drive: driveOf({}), traceSeconds: 1e6, noise: 0 }, [play], 1, 50e9);
    expect(states[0]).toMatchObject({ decided: 'holds', by: 'own-bytes' });
    expect(run.markers.map(({ phase }) => phase)).toEqual(['reading', 'watching']);
    expect(run.samples.direction).not.toContain('write');
    // Half an hour of it is more than may be written, and lies there all the same.
    const long = { ...job(400, 2000), direction: 'read', act: 'play' } as Demand;
    const read = decideOn({ drive: driveOf({}), traceSeconds: 1e6, noise: 0 }, [long], 1, 900e9);
    expect(read.run.samples.direction).not.toContain('write');
  });

  it('promises nothing of reading what it has just written', () => {
    const play = { ...job(200, 100), direction: 'read', act: 'play' } as Demand;
    const { states, run } = decide(driveOf({}), play);
    expect(states[0]!.decided).toBeNull();
    expect(run.markers.map(({ phase }) => phase)).toEqual(['laying-out', 'reading']);
    const evidence = evidenceOf(run, 'read')!;
    expect(evidence.doubts.map(({ code }) => code)).toContain('read-from-write-cache');
    expect(judgeRun(play, evidence, DEFAULT_POLICY).wouldProve).toMatchObject({ recipe: 'existing-material' });
    // What breaks all the same is told: a cache only makes it look better.
    const slow = driveOf({ levels: [{ toBytes: Infinity, rate: 100 * MB }] });
    expect(decide(slow, play).states[0]!.decided).toBe('breaks');
  });

  it('never says that a job holds or breaks that does not, but for stops that did not come while it looked', () => {
    const { all, stops } = decidedTable(Array.from({ length: 12 }, (_, index) => decidedCase(index + 1)));
    expect(all!.wrongBreaks).toEqual([]);
    expect(all!.wrongHolds.filter((seed) => !stops!.wrongHolds.includes(seed))).toEqual([]);
    expect(all!.decided / all!.jobs).toBeGreaterThan(0.7);
  });
});
