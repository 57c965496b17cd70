import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Demand } from '#core/demand/demand.ts';
import type { RunDocument } from '#core/run/run-document.ts';
import { profileRunOf } from '#core/supply/profile.ts';
import { demandFrom } from '#core/testing/curves.ts';
import { framesOf } from '#core/trace/frames.ts';
import { judgeRun } from '#core/verdict/judge.ts';
import { DEFAULT_POLICY } from '#core/verdict/verdict.ts';
import { ONCE_MORE, printSecondTries } from '../once-more.ts';
import { canHold, makeThrottledDevice } from '../../support/throttled-device.ts';

/**
 * The verdict from a Long fill against the job done, on a real device. A run beside which the processor was busy
 * proves no break, so nothing else runs meanwhile.
 */
const MB = 1e6;

describe.skipIf(!canHold)('a real device that the kernel slows after so many bytes', ONCE_MORE, () => {
  printSecondTries();
  let rig: ReturnType<typeof makeThrottledDevice>;
  beforeAll(() => {
    rig = makeThrottledDevice('verdicts');
  });
  afterAll(() => rig.remove());

  /** Measures with the rate turned down after so many bytes; says at how many it really was. */
  async function withKnee(
    fast: number,
    slow: number,
    after: number,
    ...args: string[]
  ): Promise<{ run: RunDocument; turned: number }> {
    rig.limit(fast);
    const begin = rig.writtenBytes();
    let turned = 0;
    let over = false;
    const turning = (async () => {
      while (!over && rig.writtenBytes() - begin < after) await wait(5);
      rig.limit(slow);
      turned = rig.writtenBytes() - begin;
    })();
    const run = await rig.measure(...args);
    over = true;
    await turning;
    return { run, turned };
  }

  it.each([
    { fast: 300 * MB, slow: 90 * MB, after: 1.2e9, frames: 150, buffer: 1 },
    { fast: 240 * MB, slow: 70 * MB, after: 1.0e9, frames: 120, buffer: 1.5 },
    { fast: 350 * MB, slow: 120 * MB, after: 1.5e9, frames: 200, buffer: 1 },
  ])('loses its first frame when the Long fill said: %j', async ({ fast, slow, after, frames, buffer }) => {
    const size = `${after / 1e9 + 0.9}GB`;
    const fill = await withKnee(
      fast,
      slow,
      after,
      '--recipe',
      'long-fill',
      '--size',
      size,
      '--until-floor',
      'no',
      '--block',
      '1MiB',
    );
    const [write] = profileRunOf(fill.run).traces;
    const bytesPerSecond = frames * 1024 * 1024;
    const demand: Demand = demandFrom({
      bytesPerSecond,
      streams: 1,
      takeSeconds: (0.95 * write!.provenBytes) / bytesPerSecond,
      bufferBytes: buffer * bytesPerSecond,
    });
    const predicted = judgeRun(demand, write!, DEFAULT_POLICY);
    expect(predicted).toMatchObject({ verdict: 'breaks', reason: 'too-slow' });
    const seconds = `${Math.ceil(predicted.breaksAtSeconds! + 3)}`;
    const stream = `record 1MiB ${frames}`;
    const done = await withKnee(
      fast,
      slow,
      after,
      '--recipe',
      'paced-frames',
      '--stream',
      stream,
      '--seconds',
      seconds,
      '--buffer',
      `${buffer}s`,
    );
    const dropped = framesOf(done.run)!.streams[0]!.firstDroppedSeconds!;
    // The turn is made by a watcher that looks every few milliseconds; where it came in each run is known.
    const shift = (done.turned - fill.turned) / bytesPerSecond;
    console.log(
      `said ${predicted.breaksAtSeconds!.toFixed(2)} s, lost at ${dropped.toFixed(2)} s; turned at ${fill.turned / 1e9} and ${done.turned / 1e9} GB`,
    );
    const slack = Math.max(0.03 * dropped, 2 / frames) + 0.1;
    expect(Math.abs(predicted.breaksAtSeconds! + shift - dropped)).toBeLessThanOrEqual(slack);
  });
});
