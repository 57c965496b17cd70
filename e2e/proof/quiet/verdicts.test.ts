import { statfsSync } from 'node:fs';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Demand } from '#core/demand/demand.ts';
import type { RunDocument } from '#core/run/run-document.ts';
import { profileRunOf } from '#core/supply/profile.ts';
import type { Evidence } from '#core/supply/evidence.ts';
import { usableBytes } from '#core/supply/room.ts';
import { demandFrom, supplyFrom } from '#core/testing/curves.ts';
import { framesOf } from '#core/trace/frames.ts';
import { judge, judgeRun } from '#core/verdict/judge.ts';
import { DEFAULT_POLICY } from '#core/verdict/verdict.ts';
import { ONCE_MORE, printSecondTries } from '../once-more.ts';
import { canHold, makeThrottledDevice } from '../../support/throttled-device.ts';

/**
 * The verdict from a Long fill against the job done, on a real device. A run beside which the processor was busy
 * proves no break, so nothing else runs meanwhile.
 */
const MB = 1e6;
const FRAME_BYTES = 1024 * 1024;

/** A device that the kernel holds to a rate, and to another after so many bytes. */
interface Device {
  fast: number;
  slow: number;
  after: number;
}

/** Frames of a mebibyte a second, and the program's buffer in seconds. */
interface Job {
  frames: number;
  buffer: number;
}

describe.skipIf(!canHold)('a real device that the kernel slows after so many bytes', ONCE_MORE, () => {
  printSecondTries();
  let rig: ReturnType<typeof makeThrottledDevice>;
  beforeAll(() => {
    rig = makeThrottledDevice('verdicts');
  });
  afterAll(() => rig.remove());

  /** Turns the rate down once after so many bytes of whatever goes on; says at how many it really was. */
  function turnDown({ fast, slow, after }: Device): { end: () => Promise<number> } {
    rig.limit(fast);
    const begin = rig.writtenBytes();
    let over = false;
    const turning = (async () => {
      while (!over && rig.writtenBytes() - begin < after) await wait(5);
      rig.limit(slow);
      return rig.writtenBytes() - begin;
    })();
    return {
      end: () => {
        over = true;
        return turning;
      },
    };
  }

  async function fillOf(device: Device, ...args: string[]): Promise<{ evidence: Evidence; turned: number }> {
    const turn = turnDown(device);
    const size = `${device.after / 1e9 + 0.9}GB`;
    const run = await rig.measure(
      ...['--recipe', 'long-fill', '--size', size, '--until-floor', 'no', '--block', '1MiB'],
      ...args,
    );
    return { evidence: profileRunOf(run).traces[0]!, turned: await turn.end() };
  }

  const record = ({ frames, buffer }: Job, seconds: number) =>
    rig.measure(
      ...['--recipe', 'paced-frames', '--stream', `record 1MiB ${frames}`, '--seconds', `${seconds}`],
      ...['--buffer', `${buffer}s`],
    );
  const firstDropped = (run: RunDocument) => framesOf(run)!.streams[0]!.firstDroppedSeconds;

  function demandOf({ frames, buffer }: Job, more: Partial<Demand>): Demand {
    const bytesPerSecond = frames * FRAME_BYTES;
    return demandFrom({ bytesPerSecond, streams: 1, bufferBytes: buffer * bytesPerSecond, ...more });
  }

  const told: string[] = [];
  afterAll(() => console.log(told.join('\n')));

  describe.each([
    { device: { fast: 300 * MB, slow: 90 * MB, after: 1.2e9 }, breaking: [150, 1], holding: [75, 1] },
    { device: { fast: 240 * MB, slow: 70 * MB, after: 1.0e9 }, breaking: [120, 1.5], holding: [60, 0.5] },
    { device: { fast: 350 * MB, slow: 120 * MB, after: 1.5e9 }, breaking: [200, 1], holding: [100, 1] },
    { device: { fast: 420 * MB, slow: 60 * MB, after: 0.8e9 }, breaking: [120, 1.5], holding: [50, 2] },
  ] as const)('with $device', ({ device, breaking, holding }) => {
    let fill: Awaited<ReturnType<typeof fillOf>>;
    beforeAll(async () => {
      fill = await fillOf(device);
    }, 300_000);

    it('loses its first frame when the Long fill said', async () => {
      const job = { frames: breaking[0], buffer: breaking[1] };
      const bytesPerSecond = job.frames * FRAME_BYTES;
      const takeSeconds = (0.95 * fill.evidence.provenBytes) / bytesPerSecond;
      const predicted = judgeRun(demandOf(job, { takeSeconds }), fill.evidence, DEFAULT_POLICY);
      expect(predicted).toMatchObject({ verdict: 'breaks', reason: 'too-slow' });
      const said = predicted.breaksAtSeconds!;
      const turn = turnDown(device);
      const dropped = firstDropped(await record(job, Math.ceil(said + 3)))!;
      const turned = await turn.end();
      // The turn is made by a watcher that looks every few milliseconds; where it came in each run is known.
      const shift = (turned - fill.turned) / bytesPerSecond;
      told.push(`breaks: said ${said.toFixed(2)} s, lost at ${dropped.toFixed(2)} s`);
      const slack = Math.max(0.03 * dropped, 2 / job.frames) + 0.1;
      expect(Math.abs(said + shift - dropped)).toBeLessThanOrEqual(slack);
    });

    it('loses none where the Long fill said so', async () => {
      const job = { frames: holding[0], buffer: holding[1] };
      // Long enough to be most of its time behind the turn.
      const takeSeconds = Math.floor((0.95 * fill.evidence.provenBytes) / (job.frames * FRAME_BYTES));
      const predicted = judgeRun(demandOf(job, { takeSeconds }), fill.evidence, DEFAULT_POLICY);
      expect(['holds', 'tight']).toContain(predicted.verdict);
      const turn = turnDown(device);
      const run = await record(job, takeSeconds);
      await turn.end();
      told.push(
        `${predicted.verdict}: ${framesOf(run)!.frames} frames in ${takeSeconds} s, ${framesOf(run)!.dropped} lost`,
      );
      expect(framesOf(run)!.dropped).toBe(0);
    });
  });

  it('loses it in the second of two takes when said, and promises nothing of a gap between them', async () => {
    const device = { fast: 300 * MB, slow: 80 * MB, after: 1.2e9 };
    const job = { frames: 150, buffer: 1 };
    const fill = await fillOf(device, '--recovery', '5s');
    const takeSeconds = 6;
    const takesWith = (gapSeconds: number) =>
      judgeRun(demandOf(job, { takeSeconds, takes: 2, gapSeconds, between: 'stay' }), fill.evidence, DEFAULT_POLICY);
    const predicted = takesWith(0);
    expect(predicted).toMatchObject({ verdict: 'breaks', breaksInTake: 2 });
    // The rest that was measured gave nothing back, but another one may.
    expect(fill.evidence.recovery[0]!.regainedBytes).toBe(0);
    expect(takesWith(5.1)).toMatchObject({ verdict: 'not-proven', reason: 'later-takes', unknownFromTake: 2 });
    const turn = turnDown(device);
    const first = await record(job, takeSeconds);
    const second = await record(job, takeSeconds);
    const turned = await turn.end();
    expect(framesOf(first)!.dropped).toBe(0);
    const dropped = firstDropped(second)!;
    const shift = (turned - fill.turned) / (job.frames * FRAME_BYTES);
    told.push(`breaks: said ${predicted.breaksAtSeconds!.toFixed(2)} s into take 2, lost at ${dropped.toFixed(2)} s`);
    const slack = Math.max(0.03 * dropped, 2 / job.frames) + 0.15;
    expect(Math.abs(predicted.breaksAtSeconds! + shift - dropped)).toBeLessThanOrEqual(slack);
  });

  it('is full when said: a take that ends before fits, and one that ends after is refused', async () => {
    rig.limit(2000 * MB);
    const fill = await rig.measure('--recipe', 'long-fill', '--size', '1GB', '--until-floor', 'no', '--block', '1MiB');
    const { bavail, bsize } = statfsSync(rig.mountPoint);
    const job = { frames: 400, buffer: 2 };
    const demand = demandOf(job, { takeSeconds: 60 });
    const predicted = judge(demand, supplyFrom(profileRunOf(fill).traces), DEFAULT_POLICY, usableBytes(bavail * bsize));
    expect(predicted).toMatchObject({ verdict: 'breaks', reason: 'full' });
    const full = predicted.breaksAtSeconds!;
    told.push(`full: said ${full.toFixed(2)} s`);
    expect(framesOf(await record(job, Math.floor(full - 0.2)))!.frames).toBe(400 * Math.floor(full - 0.2));
    await expect(record(job, Math.ceil(full + 0.2))).rejects.toThrow(/free|room|fit/);
  });
});
