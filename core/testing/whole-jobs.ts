import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { progressBytes, progressDuration, type Progress } from '#core/1-ground/curves/progress.ts';
import { evidenceBehind } from '#core/4-runs/supply/behind.ts';
import { runOfTrace } from '#core/4-runs/supply/bare-trace.ts';
import { evidenceOf } from '#core/4-runs/supply/evidence.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { passesOf } from '#core/4-runs/trace/passes.ts';
import {
  doJob,
  madeCase,
  traceOf,
  type Happened,
  type MadeCase,
  type MadeItem,
  type MadeKind,
} from '#core/testing/job-oracle.ts';
import { demandFrom, supplyFrom } from '#core/testing/curves.ts';
import { summedDemand } from '#core/5-answers/verdict/together.ts';
import { judge } from '#core/5-answers/verdict/judge.ts';
import { DEFAULT_POLICY, type Verdict } from '#core/5-answers/verdict/verdict.ts';

/** What was said of a made job against what happened when it was done. */
export interface Told {
  made: MadeCase;
  verdict: Verdict;
  demand: Demand;
  supply: Supply;
  /** Done on a drive a little quicker than the made one, and on one a little slower: what stays the same is certain. */
  quick: () => Happened[];
  slow: () => Happened[];
}

const PHASES = 8;
const MARGIN = 0.006;

export function demandOfItem({ curve, bufferBytes }: MadeItem, { job }: MadeCase, index: number): Demand {
  const constant = curve.seconds.length === 2;
  const bytesPerSecond = progressBytes(curve) / progressDuration(curve);
  return demandFrom({
    itemId: `item-${index}`,
    direction: job.direction,
    bytesPerSecond,
    peakBytesPerSecond: bytesPerSecond,
    burstBytes: 0,
    curve: constant ? null : curve,
    streams: 1,
    takeSeconds: progressDuration(curve),
    takes: job.takes,
    gapSeconds: job.gapSeconds,
    between: job.between,
    takeOffSeconds: job.takeOffSeconds,
    bufferBytes,
  });
}

/** What is known of a made drive from its trace. */
export function supplyOfMade(made: MadeCase, seed: number): Supply {
  const { drive, job, traceSeconds, noise } = made;
  const run = runOfTrace(traceOf(drive, traceSeconds, noise, seed), job.direction);
  const { ceiling, regainPerSecond } = drive;
  // Links are only looked at where there is one: that is most of what a run costs.
  const evidence = evidenceOf(run, job.direction, summaryOf(run), passesOf(run), ceiling === null ? [] : undefined)!;
  return supplyFrom(
    [evidence].map((trace) => {
      const rested =
        regainPerSecond === null
          ? []
          : [1, 10, 20, 40, 80].map((restSeconds) => ({
              restSeconds,
              regainedBytes: regainPerSecond * restSeconds,
              atLeast: false,
            }));
      const own = { ...trace, recovery: rested };
      return ceiling === null ? own : evidenceBehind(own, ceiling);
    }),
    { medium: run.drive.medium },
  );
}

export function tellAndDo(kind: MadeKind, seed: number): Told {
  const made = madeCase(kind, seed);
  const { drive, job, traceSeconds } = made;
  const demands = job.items.map((item, index) => demandOfItem(item, made, index));
  const demand = summedDemand(demands, job.direction)!;
  const supply = supplyOfMade(made, seed);
  const verdict = judge(demand, supply, DEFAULT_POLICY, job.roomBytes);
  const scaled = (by: number) => ({
    ...drive,
    levels: drive.levels.map(({ toBytes, rate }) => ({ toBytes: toBytes * by, rate: rate * by })),
    slope: drive.slope && { ...drive.slope, endBytes: drive.slope.endBytes * by },
    swing: drive.swing && {
      ...drive.swing,
      fromBytes: drive.swing.fromBytes * by,
      period: drive.swing.by === 'bytes' ? drive.swing.period * by : drive.swing.period,
    },
    stopsAtBytes: drive.stopsAtBytes.map(({ at, seconds }) => ({ at: at * by, seconds })),
    ceiling: drive.ceiling === null ? null : drive.ceiling * by,
    regainPerSecond: drive.regainPerSecond === null ? null : drive.regainPerSecond * by,
  });
  const trace = job.direction === 'read' ? traceOf(drive, traceSeconds, 0, seed) : { seconds: [0], bytes: [0] };
  const truths = (by: number) =>
    job.direction === 'read'
      ? startsOf(made, trace).map((row) =>
          doJob(scaled(by), job, trace.seconds[row]!, traceSeconds, {
            bytes: trace.bytes[row]! * by,
            seenBytes: trace.bytes.at(-1)! * by,
          }),
        )
      : Array.from({ length: PHASES }, (_, phase) =>
          doJob(scaled(by), job, (phase * traceSeconds) / PHASES, traceSeconds),
        );
  return { made, verdict, demand, supply, quick: () => truths(1 + MARGIN), slow: () => truths(1 - MARGIN) };
}

/** Rows of a trace at which playing may begin: spread over it, and shortly before each stop and each level. */
function startsOf({ drive }: MadeCase, { seconds, bytes }: Progress): number[] {
  const even = Array.from({ length: 3 * PHASES }, (_, one) => Math.floor((one / PHASES / 3) * seconds.length));
  const stops = [
    ...drive.stops.map(({ at }) => seconds.findIndex((one) => one > at) - 2),
    ...[...drive.stopsAtBytes.map(({ at }) => at), ...drive.levels.map(({ toBytes }) => toBytes)].map(
      (at) => bytes.findIndex((one) => one > at) - 2,
    ),
  ];
  return [0, ...even, ...stops].filter((row) => row >= 0);
}

export type Outcome =
  | 'right'
  | 'false-holds'
  | 'false-breaks'
  | 'break-elsewhere'
  | 'holds-untold'
  | 'breaks-untold'
  | 'too-short'
  | 'undecided';

/** How what was told compares with what happened, where a little more or less speed does not change it. */
export function outcomeOf({ made, verdict, quick: doQuick, slow: doSlow }: Told): Outcome {
  const says = verdict.verdict;
  const breaks = ({ what }: Happened) => what !== 'nothing';
  if (says === 'holds' || says === 'tight') {
    const quick = doQuick();
    if (!quick.some(breaks)) return 'right';
    const slow = doSlow();
    return quick.some((one, phase) => breaks(one) && breaks(slow[phase]!)) ? 'false-holds' : 'right';
  }
  const slow = doSlow();
  const neverBreaks = !slow.some(breaks);
  if (says === 'breaks') {
    if (neverBreaks) return 'false-breaks';
    const quick = doQuick();
    const take = verdict.breaksInTake ?? 1;
    const earliest = verdict.breaksAtSeconds!;
    // Playing tells the soonest of all places where it may begin.
    const latest = verdict.breaksAtLatestSeconds ?? (made.job.direction === 'read' ? Infinity : earliest);
    const reason = verdict.reason === 'full' ? 'full' : 'lost';
    const fits = ({ what, take: inTake, seconds }: Happened) =>
      (what === reason && inTake === take && seconds >= earliest * 0.97 - 0.12 && seconds <= latest * 1.03 + 0.12) ||
      // It was told that it may be lost before.
      (what === 'lost' && verdict.unknownFromTake !== null && inTake >= verdict.unknownFromTake);
    // Only what a little more or less speed does not change is certain.
    const certain = quick.filter((one, phase) => {
      const other = slow[phase]!;
      return one.what === other.what && one.take === other.take && other.seconds > 0.97 * one.seconds;
    });
    return certain.filter(breaks).every(fits) ? 'right' : 'break-elsewhere';
  }
  if (verdict.reason === 'too-short') return 'too-short';
  if (neverBreaks) return 'holds-untold';
  return made.kind !== 'partial' && doQuick().every(breaks) ? 'breaks-untold' : 'undecided';
}

const OUTCOMES: readonly Outcome[] = [
  'right',
  'false-holds',
  'false-breaks',
  'break-elsewhere',
  'holds-untold',
  'breaks-untold',
  'too-short',
  'undecided',
];

/** Seeds of jobs of a kind by how what was told of them compares with what happened. */
export type ToldOf = Record<Outcome, number[]>;

export function toldOf(kind: MadeKind, fromSeed: number, count: number): ToldOf {
  const told = Object.fromEntries(OUTCOMES.map((outcome) => [outcome, [] as number[]])) as ToldOf;
  for (let seed = fromSeed; seed < fromSeed + count; seed += 1) told[outcomeOf(tellAndDo(kind, seed))].push(seed);
  return told;
}

/** The table of what was said against what happened, a line a kind, with the seeds of what was wrong. */
export function tableOf(all: Partial<Record<MadeKind, ToldOf>>): string {
  const lines = Object.entries(all).map(([kind, told]) => {
    const counts = OUTCOMES.map((outcome) => String(told[outcome].length).padStart(outcome.length)).join('  ');
    const wrong = (['false-holds', 'false-breaks', 'break-elsewhere'] as const).flatMap((outcome) =>
      told[outcome].map((seed) => `${outcome} ${seed}`),
    );
    return `${kind.padEnd(10)}${counts}${wrong.length > 0 ? `  (${wrong.join(', ')})` : ''}`;
  });
  return ['', `${''.padEnd(10)}${OUTCOMES.join('  ')}`, ...lines].join('\n');
}
