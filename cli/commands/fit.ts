import type { Command } from 'commander';
import { jsonOf, textOf } from '#cli/files.ts';
import { print, printJson, tableLines } from '#cli/output.ts';
import { demandOf, type Demand } from '#core/demand/footage-demand.ts';
import { parseWorkload } from '#core/demand/workload.ts';
import { badInput } from '#core/problem.ts';
import { parseRunDocument, type Direction, type RunDocument } from '#core/run/run-document.ts';
import { runOfTrace } from '#core/supply/bare-trace.ts';
import { parseProfile, profileRunOf, supplyOf, type Supply } from '#core/supply/profile.ts';
import { usableBytes } from '#core/supply/room.ts';
import { parseTraceCsv } from '#core/trace/trace-csv.ts';
import { parseBytes, parseCount, parseDuration, parseRate, parseShare } from '#core/units/quantity.ts';
import { rateText } from '#core/units/format.ts';
import { judge } from '#core/verdict/judge.ts';
import { verdictSentence } from '#core/verdict/sentences.ts';
import { judgeTogether } from '#core/verdict/together.ts';
import type { Verdict } from '#core/verdict/verdict.ts';

interface FitFlags {
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
    .option('--free <size>', 'free space, such as 800GB')
    .option('--headroom <share>', 'that must be left over for Holds', '25%')
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
  breaksAtSeconds: verdict.breaksAtSeconds,
  breaksAtBytes: verdict.breaksAtBytes,
  guaranteedBytesPerSecond: verdict.guaranteedBytesPerSecond,
  leastBufferBytes: verdict.leastBufferBytes,
  provenBytes: verdict.provenBytes,
  provenSeconds: verdict.provenSeconds,
  continued: verdict.continued,
  sentence,
});

const policyOf = ({ headroom }: FitFlags) => ({ headroomShare: parseShare(headroom, 'headroom') });
const roomOf = ({ free }: FitFlags): number | null =>
  free === undefined ? null : usableBytes(parseBytes(free, 'free'));

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
  const run = await runFrom(flags.trace!, direction);
  const supply = supplyOf({ drive: run.drive, runs: [profileRunOf(run)] });
  const verdict = judge(demand, supply, policyOf(flags), roomOf(flags));
  const own = supply.traces.find((one) => one.direction === direction);
  const sentence = verdictSentence(demand, verdict, own?.doubts);
  if (flags.json) printJson(printed(verdict, sentence));
  else print(`${verdict.verdict}: ${sentence}`);
}

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
    bytesPerSecond,
    peakBytesPerSecond: bytesPerSecond,
    burstBytes: 0,
    curve: null,
    framesPerSecond: null,
    bytesPerFrame: bytesPerSecond / 10,
    streams: 1,
    isSum: false,
    takeSeconds,
    takes: parseCount(flags.takes, 'takes'),
    gapSeconds: parseDuration(flags.gap, 'gap'),
    bufferBytes: bufferFrom(flags.buffer, bytesPerSecond),
    formatText: rateText(bytesPerSecond),
  };
}

/** In bytes, or in seconds of the demand. */
function bufferFrom(text: string | undefined, bytesPerSecond: number): number {
  if (text === undefined) return bytesPerSecond;
  return /\d\s*(ms|s|sec|min)$/.test(text)
    ? parseDuration(text, 'buffer') * bytesPerSecond
    : parseBytes(text, 'buffer');
}

async function runFrom(path: string, direction: Direction): Promise<RunDocument> {
  const text = await textOf(path, 'trace');
  if (!text.trimStart().startsWith('{')) return runOfTrace(parseTraceCsv(text), direction);
  const run = parseRunDocument(jsonOf(text, 'trace'), 'trace');
  if (!run.samples.direction.includes(direction)) {
    throw badInput('direction', `direction: the run in ${path} did not ${direction}.`);
  }
  return run;
}

async function fitWorkload(flags: FitFlags): Promise<void> {
  for (const name of ['profile', 'workload'] as const) {
    if (flags[name] === undefined) throw badInput(name, `${name}: is missing. Give both --profile and --workload.`);
  }
  const profile = parseProfile(jsonOf(await textOf(flags.profile!, 'profile'), 'profile'));
  const workload = parseWorkload(jsonOf(await textOf(flags.workload!, 'workload'), 'workload'));
  const supply: Supply = supplyOf(profile);
  const policy = policyOf(flags);
  const demands = workload.items.map(demandOf);
  const row = (demand: Demand, verdict: Verdict) => {
    const own = supply.traces.find((one) => one.runId === verdict.runId && one.direction === demand.direction);
    return {
      itemId: demand.itemId,
      name: demand.name,
      bytesPerSecond: demand.bytesPerSecond,
      ...printed(verdict, verdictSentence(demand, verdict, own?.doubts)),
    };
  };
  const items = demands.map((demand) => row(demand, judge(demand, supply, policy, roomOf(flags))));
  const beside = demands.filter((_, index) => workload.items[index]!.together);
  const all = beside.length > 1 ? judgeTogether(beside, supply, policy, roomOf(flags)) : null;
  const together = all && row(all.demand, all.verdict);
  if (flags.json) printJson({ drive: profile.drive, workload: workload.name, items, together });
  else {
    const rows = [...items, ...(together ? [together] : [])];
    tableLines(rows.map((one) => [one.name, one.verdict, one.sentence])).forEach(print);
  }
}
