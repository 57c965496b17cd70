import type { Command } from 'commander';
import { runOf } from '#cli/files.ts';
import { print, printJson, tableLines } from '#cli/output.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { bytesText, orDash, rateText } from '#core/1-ground/units/format.ts';

export function addAnalyseCommand(program: Command): void {
  program
    .command('analyse')
    .description('levels, knee, floor and doubts of a trace')
    .argument('<file>', 'a run as JSON, or a table of time and bytes or rates')
    .option('--columns <names>', 'of a table that does not say it: “Elapsed in ms; Write in MB/s”')
    .option('--json', 'print JSON')
    .action(async (path: string, { columns, json = false }: { columns?: string; json?: boolean }) => {
      const analysis = analysisOf(await runOf(path, 'file', 'write', columns));
      if (json) printJson(analysis);
      else show(analysis);
    });
}

function analysisOf(run: RunDocument) {
  const { figures, doubts } = summaryOf(run);
  const direction = DIRECTIONS.find((one) => figures[one] !== null);
  const own = direction && figures[direction];
  if (!own) {
    const { recipe } = run;
    throw badInput(
      'file',
      `file: this run of ${recipe} has no trace of writing or reading whose levels could be read.`,
    );
  }
  const { reading } = own;
  const whole = { fromBytes: 0, toBytes: own.longestPassBytes, bytesPerSecond: own.medianBytesPerSecond };
  return {
    direction,
    openingBytesPerSecond: reading ? reading.openingBytesPerSecond : own.medianBytesPerSecond,
    kneeBytes: reading?.kneeBytes ?? null,
    floorBytesPerSecond: reading?.floorBytesPerSecond ?? null,
    worstSecondBytesPerSecond: own.worstSecondBytesPerSecond,
    levels: (reading?.levels ?? [whole]).map(({ fromBytes, toBytes, bytesPerSecond }) => ({
      fromBytes,
      toBytes,
      bytesPerSecond,
    })),
    sawtooth: reading?.sawtooth ?? null,
    slope: reading?.slope ?? null,
    doubts: doubts.map(({ code, evidence, advice, effect }) => ({ code, evidence, advice, effect })),
  };
}

function show(analysis: ReturnType<typeof analysisOf>): void {
  tableLines([
    ['opening', orDash(analysis.openingBytesPerSecond, rateText)],
    ['knee', orDash(analysis.kneeBytes, bytesText)],
    ['floor', orDash(analysis.floorBytesPerSecond, rateText)],
    ['worst second', orDash(analysis.worstSecondBytesPerSecond, rateText)],
  ]).forEach(print);
  for (const { fromBytes, toBytes, bytesPerSecond } of analysis.levels) {
    print(`${bytesText(fromBytes)} – ${bytesText(toBytes)}: ${rateText(bytesPerSecond)}`);
  }
  for (const { code, evidence, advice } of analysis.doubts) print(`${code}: ${evidence} ${advice}`);
}
