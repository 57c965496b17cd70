import type { Command } from 'commander';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import { runOf, textOf } from '#cli/files.ts';
import { endWith, exitCodeOf, print, printJson, tableLines } from '#cli/output.ts';
import { BETWEEN, type Between, type Demand } from '#core/3-jobs/demand/demand.ts';
import { parseWorkload } from '#core/3-jobs/demand/workload.ts';
import { badInput } from '#core/1-ground/problem.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { parseProfile, profileRunOf, supplyOf } from '#core/4-runs/supply/profile.ts';
import { roomBytes } from '#core/4-runs/supply/room.ts';
import {
  parseBuffer,
  parseBytes,
  parseCount,
  parseDuration,
  parseRate,
  parseShare,
} from '#core/1-ground/units/quantity.ts';
import { rateText } from '#core/1-ground/units/format.ts';
import {
  highestRate,
  leastBuffer,
  longestTake,
  mostTakes,
  verdictOn,
  type TriedOn,
} from '#core/5-answers/verdict/furthest.ts';
import { judgeWorkload, withSentence, type JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import type { Verdict } from '#core/5-answers/verdict/verdict.ts';

interface FitFlags {
  columns?: string;
  trace?: string;
  profile?: string;
  workload?: string;
  direction?: string;
  demand?: string;
  buffer?: string;
  duration?: string;
  headroom: string;
  free?: string;
  takes: string;
  gap: string;
  between: string;
  takeOff?: string;
  useAll?: boolean;
  json?: boolean;
}

export function addFitCommand(program: Command): void {
  program
    .command('fit')
    .description('whether a trace carries a demand, or a drive’s profile a workload')
    .option('--trace <file>', 'CSV with the header seconds,bytes (cumulative), or a run as JSON')
    .option('--direction <write|read>', 'which way the demand goes')
    .option('--demand <rate>', 'such as 530MB/s or 4.4Gb/s')
    .option('--buffer <size>', 'of the program, such as 530MB or 2s; one second of the demand when not given')
    .option('--duration <time>', 'of a take, such as 2h or 40min')
    .option('--takes <n>', 'number of takes', '1')
    .option('--gap <time>', 'between takes, such as 10min', '0')
    .option(
      '--between <stay|take-off>',
      'what becomes of a take before the next: stays on the drive, or is taken off',
      'stay',
    )
    .option('--take-off <time>', 'how long taking off one take takes; before the next one when not given')
    .option('--free <size>', 'free space, such as 800GB')
    .option('--use-all', 'nothing else is kept on the drive: it may be filled to its end')
    .option('--headroom <share>', 'that must be left over for Holds', '25%')
    .option('--columns <names>', 'of a table that does not say it: “Elapsed in ms; Write in MB/s”')
    .option('--profile <file>', 'profile of a drive, as exported')
    .option('--workload <file>', 'workload, as exported')
    .option('--json', 'print JSON')
    .action(async (flags: FitFlags) => {
      if (flags.profile !== undefined || flags.workload !== undefined) await fitWorkload(flags);
      else await fitTrace(flags);
    });
}

/** What is printed of a verdict. */
const printed = (verdict: Verdict, sentence: string) => ({
  verdict: verdict.verdict,
  reason: verdict.reason,
  breaksInTake: verdict.verdict === 'breaks' ? (verdict.breaksInTake ?? 1) : null,
  breaksAtSeconds: verdict.breaksAtSeconds,
  breaksAtLatestSeconds: verdict.breaksAtLatestSeconds,
  breaksAtBytes: verdict.breaksAtBytes,
  guaranteedBytesPerSecond: verdict.guaranteedBytesPerSecond,
  rateSeenBytesPerSecond: verdict.rateSeenBytesPerSecond,
  leastBufferBytes: verdict.leastBufferBytes,
  provenBytes: verdict.provenBytes,
  provenSeconds: verdict.provenSeconds,
  continued: verdict.continued,
  sentence,
});

const policyOf = ({ headroom }: FitFlags) => ({ headroomShare: parseShare(headroom, 'headroom') });
const roomOf = ({ free, useAll }: FitFlags): number | null =>
  free === undefined ? null : roomBytes({ freeBytes: parseBytes(free, 'free'), usesAll: useAll });

async function fitTrace(flags: FitFlags): Promise<void> {
  for (const name of ['trace', 'direction', 'demand', 'duration'] as const) {
    if (flags[name] === undefined) {
      throw badInput(
        name,
        `${name}: is missing. Give --trace, --direction, --demand and --duration, or --profile and --workload.`,
      );
    }
  }
  const { direction } = flags;
  if (direction !== 'write' && direction !== 'read') {
    throw badInput('direction', `direction: “${direction}” is not known. Type write or read.`);
  }
  const demand = demandFrom(flags, direction);
  const run = await runOf(flags.trace!, 'trace', direction, flags.columns);
  if (!run.samples.direction.includes(direction)) {
    throw badInput('direction', `direction: the run in ${flags.trace} did not ${direction}.`);
  }
  const supply = supplyOf({ drive: run.drive, runs: [profileRunOf(run)] });
  const on: TriedOn = { supply, policy: policyOf(flags), roomBytes: roomOf(flags) };
  const { verdict, sentence } = withSentence(demand, verdictOn(demand, on), supply);
  if (flags.json)
    printJson({ ...printed(verdict, sentence), howFar: howFar(demand, on, bufferIsSeconds(flags.buffer)) });
  else print(`${verdict.verdict}: ${sentence}`);
  endWith(exitCodeOf([verdict.verdict]));
}

/** How far each thing could go with everything else as it is; null where not even the least of it holds. */
const howFar = (demand: Demand, on: TriedOn, inSeconds: boolean) => ({
  longestTakeSeconds: longestTake(demand, on),
  mostTakes: mostTakes(demand, on),
  highestBytesPerSecond: highestRate(demand, on, inSeconds),
  leastBufferBytes: leastBuffer(demand, on),
});

function demandFrom(flags: FitFlags, direction: Direction): Demand {
  const bytesPerSecond = parseRate(flags.demand!, 'demand');
  if (!(bytesPerSecond > 0))
    throw badInput('demand', `demand: “${flags.demand}” is nothing. Type a rate such as 530MB/s.`);
  const takeSeconds = parseDuration(flags.duration!, 'duration');
  if (!(takeSeconds > 0))
    throw badInput('duration', `duration: “${flags.duration}” is no time. Type one such as 40min.`);
  return {
    itemId: 'demand',
    name: 'Demand',
    direction,
    act: direction === 'write' ? 'record' : 'play',
    bytesPerSecond,
    peakBytesPerSecond: bytesPerSecond,
    burstBytes: 0,
    curve: null,
    framesPerSecond: null,
    bytesPerFrame: bytesPerSecond / 10,
    streams: 1,
    isSum: false,
    parts: [],
    takeSeconds,
    takes: parseCount(flags.takes, 'takes'),
    gapSeconds: parseDuration(flags.gap, 'gap'),
    between: betweenFrom(flags.between),
    takeOffSeconds: flags.takeOff === undefined ? null : parseDuration(flags.takeOff, 'take-off'),
    bufferBytes: bufferFrom(flags.buffer, bytesPerSecond),
    formatText: rateText(bytesPerSecond),
  };
}

function betweenFrom(text: string): Between {
  const found = BETWEEN.find((one) => one === text);
  if (found === undefined) {
    throw badInput(
      'between',
      `between: “${text}” is not known. Type stay, or take-off when takes are taken off in between.`,
    );
  }
  return found;
}

const bufferIsSeconds = (text: string | undefined): boolean =>
  text === undefined || parseBuffer(text).unit === 'seconds';

/** In bytes, or in seconds of the demand; one second of it when not given. */
function bufferFrom(text: string | undefined, bytesPerSecond: number): number {
  if (text === undefined) return bytesPerSecond;
  const { unit, amount } = parseBuffer(text);
  return unit === 'seconds' ? amount * bytesPerSecond : amount;
}

async function fitWorkload(flags: FitFlags): Promise<void> {
  for (const name of ['profile', 'workload'] as const) {
    if (flags[name] === undefined) throw badInput(name, `${name}: is missing. Give both --profile and --workload.`);
  }
  const profile = parseProfile(readJson(await textOf(flags.profile!, 'profile'), 'profile'));
  const workload = parseWorkload(readJson(await textOf(flags.workload!, 'workload'), 'workload'));
  if (workload.items.length === 0)
    throw badInput('workload', `workload: ${workload.name} asks for nothing. Add an item to it.`);
  const judged = judgeWorkload(workload, supplyOf(profile), policyOf(flags), roomOf(flags));
  const { oneAfterTheOther } = judged;
  const all = [...judged.items, judged.together, oneAfterTheOther].filter((one) => one !== null);
  const items = judged.items.map(row);
  const together = judged.together && row(judged.together);
  const inTurn = oneAfterTheOther && row(oneAfterTheOther);
  if (flags.json) {
    printJson({ drive: profile.drive, workload: workload.name, items, together, oneAfterTheOther: inTurn });
  } else {
    const rows = [...items, together, inTurn].filter((one) => one !== null);
    tableLines(rows.map((one) => [one.name, one.verdict, one.sentence])).forEach(print);
  }
  endWith(exitCodeOf(all.map(({ verdict }) => verdict.verdict)));
}

const row = ({ demand, verdict, sentence }: JudgedItem) => ({
  itemId: demand.itemId,
  name: demand.name,
  bytesPerSecond: demand.bytesPerSecond,
  ...printed(verdict, sentence),
});
