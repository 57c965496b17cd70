import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { profileRunOf } from '#core/4-runs/supply/profile.ts';
import type { Evidence } from '#core/4-runs/supply/evidence.ts';
import { demandFrom } from '#core/testing/curves.ts';
import { framesOf } from '#core/4-runs/trace/frames.ts';
import { judgeRun } from '#core/5-answers/verdict/judge.ts';
import { DEFAULT_POLICY, type Verdict } from '#core/5-answers/verdict/verdict.ts';
import { canHold, makeThrottledDevice } from '../../support/throttled-device.ts';
import { ONCE_MORE, printSecondTries } from '../once-more.ts';

/**
 * The verdict from a Long fill against the job done, on real devices. A run beside which the processor was busy proves
 * no break, so nothing that computes runs meanwhile; three such devices side by side mostly wait.
 */
const MB = 1e6;
export const FRAME_BYTES = 1024 * 1024;

/** A device that the kernel holds to a rate, and to another after so many bytes; MB/s and MB. */
export interface Held {
  fast: number;
  slow: number;
  after: number;
}

/** Frames of a mebibyte a second, and the program's buffer in seconds. */
export interface Job {
  frames: number;
  buffer: number;
}

/** What the program says of a run when the machine was in its way. */
const MACHINE_DOUBTS = new Set(['busy-processor', 'held-up']);

/** What is written of a device behind the turn, in bytes: ten seconds of it. */
const behindBytes = ({ slow }: Held): number => 10 * slow * MB;

export type Rig = ReturnType<typeof rigOf>;

function rigOf(device: ReturnType<typeof makeThrottledDevice>) {
  /** Turns the rate down once after so many bytes of whatever goes on; says at how many it really was. */
  function turnDown({ fast, slow, after }: Held): { end: () => Promise<number> } {
    device.limit(fast * MB);
    const begin = device.writtenBytes();
    let over = false;
    const turning = (async () => {
      while (!over && device.writtenBytes() - begin < after * MB) await wait(5);
      device.limit(slow * MB);
      return device.writtenBytes() - begin;
    })();
    return {
      end: () => {
        over = true;
        return turning;
      },
    };
  }

  return {
    device,
    turnDown,
    /**
     * A Long fill of it. One of which the program itself says that the machine held it up is measured once more, and it
     * is printed; what speaks against the run is told where the verdict is another than expected.
     */
    async fill(held: Held, ...args: string[]): Promise<{ evidence: Evidence; turned: number; doubts: string }> {
      for (let tries = 1; ; tries += 1) {
        const turn = turnDown(held);
        const run = await device.measure(
          ...['--recipe', 'long-fill', '--size', `${(held.after * MB + behindBytes(held)) / 1e9}GB`],
          ...['--until-floor', 'no', '--block', '1MiB', ...args],
        );
        const turned = await turn.end();
        const { traces, doubts } = profileRunOf(run);
        if (tries > 1 || !doubts.some(({ code }) => MACHINE_DOUBTS.has(code)))
          return { evidence: traces[0]!, turned, doubts: JSON.stringify(doubts) };
        console.log(`measured once more: ${doubts.map(({ evidence }) => evidence).join(' ')}`);
      }
    },
    record: ({ frames, buffer }: Job, seconds: number) =>
      device.measure(
        ...['--recipe', 'paced-frames', '--stream', `record 1MiB ${frames}`, '--seconds', `${seconds}`],
        ...['--buffer', `${buffer}s`],
      ),
  };
}

/** From when to when a verdict says that the first frame is lost, seconds; the same where it knows the moment. */
export const breakOf = ({ breaksAtSeconds, breaksAtLatestSeconds }: Verdict): [number, number] => [
  breaksAtSeconds!,
  breaksAtLatestSeconds ?? breaksAtSeconds!,
];

export const inSeconds = (from: number, to: number): string =>
  from === to ? `${from.toFixed(2)} s` : `${from.toFixed(2)} to ${to.toFixed(2)} s`;

/** What was read of a fill, for a failure's message. */
const levelsOf = ({ parted }: Evidence): string => `read of the fill: ${JSON.stringify(parted?.[0]?.levels)}`;

export const firstDropped = (run: RunDocument): number | null => framesOf(run)!.streams[0]!.firstDroppedSeconds;

export function demandOf({ frames, buffer }: Job, more: Partial<Demand>): Demand {
  const bytesPerSecond = frames * FRAME_BYTES;
  return demandFrom({ bytesPerSecond, streams: 1, bufferBytes: buffer * bytesPerSecond, ...more });
}

/** A device with what is tried on it; what was told and what happened is printed at the end. */
export function onHeldDevice(name: string, tests: (rig: () => Rig, tell: (line: string) => void) => void): void {
  describe.skipIf(!canHold)(`a real device that the kernel slows after so many bytes: ${name}`, ONCE_MORE, () => {
    printSecondTries();
    const told: string[] = [];
    let rig: Rig;
    beforeAll(() => {
      rig = rigOf(makeThrottledDevice(name));
    });
    afterAll(() => {
      rig.device.remove();
      console.log(told.join('\n'));
    });
    tests(
      () => rig,
      (line) => told.push(line),
    );
  });
}

/**
 * Of each device a job that breaks on it, and one that holds. From run to run the kernel lets some 10 MB more or less
 * through (seen: 12): what breaks asks for 70 MB/s and more above the slow level, so that this moves its break by less
 * than 0.2 s. Nearer to that level it would move it by more than what is asked of the verdict.
 */
export function jobsOnLevels(
  name: string,
  devices: readonly { held: Held; breaking: [number, number]; holding: [number, number] }[],
): void {
  onHeldDevice(name, (rig, tell) => {
    describe.each(devices)('with $held', ({ held, breaking, holding }) => {
      let fill: Awaited<ReturnType<Rig['fill']>>;
      beforeAll(async () => {
        fill = await rig().fill(held);
      }, 300_000);

      it('loses its first frame when the Long fill said', async () => {
        const job = { frames: breaking[0], buffer: breaking[1] };
        const bytesPerSecond = job.frames * FRAME_BYTES;
        const takeSeconds = (0.95 * fill.evidence.provenBytes) / bytesPerSecond;
        const predicted = judgeRun(demandOf(job, { takeSeconds }), fill.evidence, DEFAULT_POLICY);
        expect(predicted, fill.doubts).toMatchObject({ verdict: 'breaks', reason: 'too-slow' });
        const [from, to] = breakOf(predicted);
        const turn = rig().turnDown(held);
        const dropped = firstDropped(await rig().record(job, Math.ceil(to + 3)))!;
        const turned = await turn.end();
        // The turn is made by a watcher that looks every few milliseconds; where it came in each run is known.
        const shift = (turned - fill.turned) / bytesPerSecond;
        tell(`breaks: said ${inSeconds(from, to)}, lost at ${dropped.toFixed(2)} s`);
        const slack = Math.max(0.03 * dropped, 2 / job.frames) + 0.1;
        expect(dropped, levelsOf(fill.evidence)).toBeGreaterThanOrEqual(from + shift - slack);
        expect(dropped, levelsOf(fill.evidence)).toBeLessThanOrEqual(to + shift + slack);
      });

      it('loses none where the Long fill said so', async () => {
        const job = { frames: holding[0], buffer: holding[1] };
        // Long enough to be most of its time behind the turn.
        const takeSeconds = Math.floor((0.95 * fill.evidence.provenBytes) / (job.frames * FRAME_BYTES));
        const predicted = judgeRun(demandOf(job, { takeSeconds }), fill.evidence, DEFAULT_POLICY);
        expect(['holds', 'tight'], fill.doubts).toContain(predicted.verdict);
        const turn = rig().turnDown(held);
        const run = await rig().record(job, takeSeconds);
        await turn.end();
        const { frames, dropped } = framesOf(run)!;
        tell(`${predicted.verdict}: ${frames} frames in ${takeSeconds} s, ${dropped} lost`);
        expect(dropped).toBe(0);
      });
    });
  });
}
