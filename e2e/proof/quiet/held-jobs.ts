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
import { TRIED_AGAIN, printFurtherTries } from '../../support/tried-again.ts';
import { extent } from '../extent.ts';

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

/** What a device does of what it is held to where nothing else is in its way: the kernel gives it by the tenth of a second. */
const LEAST_HELD = 0.97;

/** The kernel lets the next bytes through within this. */
const MOST_STOOD_SECONDS = 0.3;

/** Tries to get a device that did what it was held to; a shared machine stops for a second now and then. */
const MOST_TRIES = 5;

/** What is written of a device behind the turn, in bytes: ten seconds of it. */
const behindBytes = ({ slow }: Held): number => 10 * slow * MB;

/** What the kernel's own counter says of a device that was turned down. */
interface Turned {
  /** Bytes at which it really was. */
  bytes: number;
  /** Shares of what the device was held to, that it did until the turn and from there on. */
  before: number;
  behind: number;
  /** Longest that nothing came to it, seconds. */
  stoodSeconds: number;
}

export type Rig = ReturnType<typeof rigOf>;

function rigOf(device: ReturnType<typeof makeThrottledDevice>) {
  /**
   * Turns the rate down once after so many bytes of whatever goes on; says at how many it really was, and from the
   * device's counter how well it was held, looking at the first bytes of it where a number is given.
   */
  function turnDown({ fast, slow, after }: Held): { end: (lookedAtBytes?: number) => Promise<Turned> } {
    device.limit(fast * MB);
    const begin = device.writtenBytes();
    const seen: { seconds: number; bytes: number }[] = [];
    let over = false;
    const look = (): number => {
      const bytes = device.writtenBytes() - begin;
      if (bytes !== seen.at(-1)?.bytes) seen.push({ seconds: performance.now() / 1000, bytes });
      return bytes;
    };
    const watching = (async () => {
      while (!over && look() < after * MB) await wait(5);
      device.limit(slow * MB);
      const turned = look();
      while (!over) {
        look();
        await wait(5);
      }
      return turned;
    })();
    return {
      async end(lookedAtBytes = Infinity) {
        over = true;
        const bytes = await watching;
        // What a filesystem writes of its own accord before and after is less than this.
        const first = seen.findIndex((one) => one.bytes > MB);
        const turn = seen.findIndex((one) => one.bytes >= bytes);
        const last = seen.findIndex((one) => one.bytes >= Math.min(lookedAtBytes, seen.at(-1)!.bytes - 2 * MB));
        const share = (from: number, to: number, held: number): number =>
          to <= from
            ? 1
            : (seen[to]!.bytes - seen[from]!.bytes) / (seen[to]!.seconds - seen[from]!.seconds) / (held * MB);
        let stoodSeconds = 0;
        for (let at = first + 1; at <= last; at += 1) {
          stoodSeconds = Math.max(stoodSeconds, seen[at]!.seconds - seen[at - 1]!.seconds);
        }
        return { bytes, before: share(first, turn, fast), behind: share(turn, last, slow), stoodSeconds };
      },
    };
  }

  /** Does it until nothing was in the device's way; every other try is printed. */
  async function undisturbed<Done>(what: string, attempt: () => Promise<{ done: Done; inTheWay: string[] }>) {
    for (let tries = 1; ; tries += 1) {
      const { done, inTheWay } = await attempt();
      if (inTheWay.length === 0) return done;
      console.log(`${what} once more: ${inTheWay.join(' ')}`);
      if (tries === MOST_TRIES) throw new Error(`${what}: in ${tries} tries something was in the way of the device`);
    }
  }

  const record = ({ frames, buffer }: Job, seconds: number) =>
    device.measure(
      ...['--recipe', 'paced-frames', '--stream', `record 1MiB ${frames}`, '--seconds', `${seconds}`],
      ...['--buffer', `${buffer}s`],
    );

  const shareText = (share: number): string => `The device did ${(100 * share).toFixed(1)} % of what it was held to.`;

  return {
    device,
    turnDown,
    /**
     * A Long fill of it. Where the program itself says that the machine held it up, or the device's counter that the
     * kernel did not give what it was told to, it is measured once more; what speaks against the run is told where the
     * verdict is another than expected.
     */
    fill: (held: Held, ...args: string[]): Promise<{ evidence: Evidence; turned: number; doubts: string }> =>
      undisturbed('measured', async () => {
        const size = held.after * MB + behindBytes(held);
        const turn = turnDown(held);
        const run = await device.measure(
          ...['--recipe', 'long-fill', '--size', `${size / 1e9}GB`],
          ...['--until-floor', 'no', '--block', '1MiB', ...args],
        );
        const turned = await turn.end(0.98 * size);
        const { traces, doubts } = profileRunOf(run);
        return {
          done: { evidence: traces[0]!, turned: turned.bytes, doubts: JSON.stringify(doubts) },
          inTheWay: [
            ...doubts.filter(({ code }) => MACHINE_DOUBTS.has(code)).map(({ evidence }) => evidence),
            ...[turned.before, turned.behind].filter((share) => share < LEAST_HELD).map(shareText),
            ...(turned.stoodSeconds > MOST_STOOD_SECONDS ? [`It stood for ${turned.stoodSeconds.toFixed(2)} s.`] : []),
          ],
        };
      }),
    /** A recording that asks for more than the device gives behind the turn; done anew where the device did not give that. */
    breakingRecord: (held: Held, job: Job, seconds: number): Promise<{ run: RunDocument; turned: number }> =>
      undisturbed('recorded', async () => {
        const turn = turnDown(held);
        const run = await record(job, seconds);
        const { bytes, behind } = await turn.end();
        return { done: { run, turned: bytes }, inTheWay: behind < LEAST_HELD ? [shareText(behind)] : [] };
      }),
    record,
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
  describe.skipIf(!canHold)(`a real device that the kernel slows after so many bytes: ${name}`, TRIED_AGAIN, () => {
    printFurtherTries();
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
    describe.each(extent(devices, devices.slice(0, 1)))('with $held', ({ held, breaking, holding }) => {
      let fill: Awaited<ReturnType<Rig['fill']>>;
      beforeAll(async () => {
        fill = await rig().fill(held);
      }, 300_000);

      /** What is tried again begins with a fill of its own: it may have been at fault. */
      const filledAnew = () => {
        let tries = 0;
        return async () => {
          tries += 1;
          if (tries > 1) fill = await rig().fill(held);
        };
      };
      const beforeBreaking = filledAnew();
      const beforeHolding = filledAnew();

      it('loses its first frame when the Long fill said', async () => {
        await beforeBreaking();
        const job = { frames: breaking[0], buffer: breaking[1] };
        const bytesPerSecond = job.frames * FRAME_BYTES;
        const takeSeconds = (0.95 * fill.evidence.provenBytes) / bytesPerSecond;
        const predicted = judgeRun(demandOf(job, { takeSeconds }), fill.evidence, DEFAULT_POLICY);
        expect(predicted, fill.doubts).toMatchObject({ verdict: 'breaks', reason: 'too-slow' });
        const [from, to] = breakOf(predicted);
        const { run, turned } = await rig().breakingRecord(held, job, Math.ceil(to + 3));
        const dropped = firstDropped(run)!;
        // The turn is made by a watcher that looks every few milliseconds; where it came in each run is known.
        const shift = (turned - fill.turned) / bytesPerSecond;
        tell(`breaks: said ${inSeconds(from, to)}, lost at ${dropped.toFixed(2)} s`);
        const slack = Math.max(0.03 * dropped, 2 / job.frames) + 0.1;
        expect(dropped, levelsOf(fill.evidence)).toBeGreaterThanOrEqual(from + shift - slack);
        expect(dropped, levelsOf(fill.evidence)).toBeLessThanOrEqual(to + shift + slack);
      });

      it('loses none where the Long fill said so', async () => {
        await beforeHolding();
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
