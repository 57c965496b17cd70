import { randomFrom } from '#core/1-ground/random.ts';
import { greatest, median } from '#core/1-ground/numbers/statistics.ts';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { jobOf, untilDecidedOptionsSchema } from '#core/3-jobs/recipes/until-decided.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { emptySamples } from '#core/4-runs/run/run-document.ts';
import { runOfTrace } from '#core/4-runs/supply/bare-trace.ts';
import type { JobState } from '#core/5-answers/verdict/until-decided.ts';
import type { VerdictWord } from '#core/5-answers/verdict/verdict.ts';
import { demandFrom } from '#core/testing/curves.ts';
import { doJob, madeCase, runningDrive, type MadeDrive } from '#core/testing/job-oracle.ts';
import { untilDecided } from '#engine/recipes/until-decided.ts';
import { NOTHING_MOVED, type StepOutcome, type TransferStep } from '#engine/volumes/volume.ts';

/** The recipe *Until it is decided* on made drives of known truth, and what came of it. */

interface Made {
  drive: MadeDrive;
  /** After which what comes by the clock comes again. */
  traceSeconds: number;
  noise: number;
}

export interface DecidedRun {
  run: RunDocument;
  states: readonly JobState[];
  seconds: number;
  bytes: number;
}

const LIMIT = { bytes: 500e9, seconds: 600 };

/** Carries the recipe's own plan out on a made drive. @param existingBytes of material that is there */
export function decideOn(
  { drive, traceSeconds, noise }: Made,
  demands: readonly Demand[],
  seed: number,
  existingBytes = 0,
): DecidedRun {
  const random = randomFrom(seed);
  const going = runningDrive(drive, traceSeconds);
  const empty = runOfTrace({ seconds: [0, 1], bytes: [0, 1] }, 'write');
  const run: RunDocument = { ...empty, samples: emptySamples(), markers: [] };
  const total = { write: 0, read: 0 };
  let seconds = 0;
  let states: readonly JobState[] = [];

  function transfer(step: TransferStep): StepOutcome {
    const { direction, pass, phase } = step;
    const began = seconds;
    const base = total[direction];
    run.markers.push({ kind: 'pass', atSeconds: seconds, seconds: 0, direction, pass, phase, note: '' });
    const row = (bytes: number) => {
      run.samples.atSeconds.push(seconds);
      run.samples.cumulativeBytes.push(base + bytes);
      run.samples.direction.push(direction);
      run.samples.pass.push(pass);
      run.samples.file.push(0);
      run.samples.operations.push(16);
      run.samples.latencyMaxSeconds.push(0);
    };
    row(0);
    let [bytes, seen] = [0, 0];
    while (step.repeat || bytes < step.bytes) {
      const asked = step.pacedBytesPerSecond === null ? Infinity : step.pacedBytesPerSecond * (seconds + 0.1 - began);
      const moved = going.tenth(Math.max(0, Math.min(asked, step.repeat ? Infinity : step.bytes) - bytes));
      bytes += moved;
      seconds = Math.round((seconds + 0.1) * 10) / 10;
      // Noise is of the look at the clock: the next sample makes up for it.
      seen = Math.max(seen, bytes + noise * (random() - 0.5) * moved);
      row(seen);
      if (step.untilSeconds !== null && seconds - began >= step.untilSeconds) break;
      if (step.stopWhen?.(seconds - began, seen)) break;
    }
    total[direction] += seen;
    return { bytes: seen, transferSeconds: seconds - began, flushSeconds: 0, firstSeconds: 0 };
  }

  const options = untilDecidedOptionsSchema.cast({ jobs: demands.map(jobOf), mostBytes: LIMIT.bytes });
  const plan = untilDecided.plan(options, {
    isSimulated: true,
    room: { label: 'made', space: 'made', bytes: 4 * LIMIT.bytes, promisedBytes: 0, usesAll: false },
    targetRooms: [],
    fileSizes: [],
    run,
    tellJobs: (jobs) => (states = jobs.map((one) => ({ ...one }))),
  });
  let outcome = NOTHING_MOVED;
  for (;;) {
    const { value: step, done } = plan.next(outcome);
    if (done) break;
    if (step.kind === 'transfer') outcome = transfer(step);
    else if (step.kind === 'use-existing' && existingBytes >= step.leastBytes) {
      outcome = { ...NOTHING_MOVED, bytes: Math.min(existingBytes, step.mostBytes ?? existingBytes) };
    } else outcome = NOTHING_MOVED;
  }
  return { run, states, seconds, bytes: total.write + total.read };
}

/** Kinds of drives, by what is special about them. */
export const DRIVE_KINDS = ['steady', 'cache', 'steps', 'swings', 'slope', 'stops'] as const;
export type DriveKind = (typeof DRIVE_KINDS)[number];

function kindOf({ levels, slope, swing, stops, stopsAtBytes }: MadeDrive): DriveKind {
  if (stops.length + stopsAtBytes.length > 0) return 'stops';
  if (swing) return 'swings';
  if (slope) return 'slope';
  return levels.length === 1 ? 'steady' : levels.length === 2 ? 'cache' : 'steps';
}

/** What became of the jobs on one made drive. */
export interface Decided {
  kind: DriveKind;
  seed: number;
  words: { word: VerdictWord | null; by: JobState['by']; happened: 'always' | 'sometimes' | 'never' }[];
  seconds: number;
  bytes: number;
  /** Of a fill to the longest job's bytes, or to the limit. */
  fillSeconds: number;
  fillBytes: number;
}

const PHASES = 8;

/** A random drive with three jobs on it, decided; and what happens when they are done. */
export function decidedCase(seed: number): Decided {
  const made = madeCase('single', seed);
  const random = randomFrom(seed * 977 + 5);
  const log = (low: number, high: number) => Math.exp(Math.log(low) + random() * Math.log(high / low));
  const [first] = made.job.items;
  const rate = first!.curve.bytes.at(-1)! / first!.curve.seconds.at(-1)!;
  const demands = [0, 1, 2].map((index): Demand => {
    const bytesPerSecond = index === 0 ? rate : rate * log(0.1, 1.5);
    const takeSeconds = index === 0 ? first!.curve.seconds.at(-1)! : log(20, 2400);
    const bufferBytes = index === 0 ? first!.bufferBytes : bytesPerSecond * log(0.3, 8);
    return demandFrom({
      itemId: `job-${index}`,
      name: `Job ${index}`,
      bytesPerSecond,
      takeSeconds,
      bufferBytes,
      streams: 1,
    });
  });
  const { states, seconds, bytes } = decideOn(made, demands, seed);
  const words = demands.map((demand, index) => {
    const { bytesPerSecond, takeSeconds, bufferBytes } = demand;
    const curve = { seconds: [0, takeSeconds], bytes: [0, bytesPerSecond * takeSeconds] };
    const job = { ...made.job, items: [{ curve, bufferBytes }] };
    const lost = Array.from({ length: PHASES }, (_, phase) => {
      return doJob(made.drive, job, (phase / PHASES) * made.traceSeconds, made.traceSeconds).what === 'lost';
    });
    const happened = lost.every(Boolean) ? 'always' : lost.some(Boolean) ? 'sometimes' : 'never';
    return { word: states[index]!.decided, by: states[index]!.by, happened } as const;
  });
  const fillBytes = Math.min(LIMIT.bytes, greatest(demands.map((one) => one.bytesPerSecond * one.takeSeconds)));
  const filling = runningDrive(made.drive, made.traceSeconds);
  let [fillSeconds, filled] = [0, 0];
  while (filled < fillBytes && fillSeconds < 20_000) {
    filled += filling.tenth(fillBytes - filled);
    fillSeconds += 0.1;
  }
  return { kind: kindOf(made.drive), seed, words, seconds, bytes, fillSeconds, fillBytes };
}

export interface DecidedRow {
  jobs: number;
  decided: number;
  holds: number;
  wrongHolds: number[];
  breaks: number;
  wrongBreaks: number[];
  secondsMedian: number;
  fillSecondsMedian: number;
  bytesShare: number;
  secondsShare: number;
}

/** What became of many, by kind of drive. */
export function decidedTable(cases: readonly Decided[]): Partial<Record<DriveKind | 'all', DecidedRow>> {
  const rows: Partial<Record<DriveKind | 'all', DecidedRow>> = {};
  for (const kind of [...DRIVE_KINDS, 'all'] as const) {
    const own = cases.filter((one) => kind === 'all' || one.kind === kind);
    if (own.length === 0) continue;
    const words = own.flatMap(({ seed, words: all }) => all.map((one) => ({ ...one, seed })));
    const held = words.filter(({ word }) => word === 'holds' || word === 'tight');
    const broken = words.filter(({ word }) => word === 'breaks');
    const sum = (of: (one: Decided) => number) => own.reduce((total, one) => total + of(one), 0);
    rows[kind] = {
      jobs: words.length,
      decided: words.filter(({ word }) => word !== null).length,
      holds: held.length,
      wrongHolds: held.filter(({ happened }) => happened !== 'never').map(({ seed }) => seed),
      breaks: broken.length,
      wrongBreaks: broken.filter(({ happened }) => happened === 'never').map(({ seed }) => seed),
      secondsMedian: median(own.map((one) => one.seconds)),
      fillSecondsMedian: median(own.map((one) => one.fillSeconds)),
      bytesShare: sum((one) => one.bytes) / sum((one) => one.fillBytes),
      secondsShare: sum((one) => one.seconds) / sum((one) => one.fillSeconds),
    };
  }
  return rows;
}
