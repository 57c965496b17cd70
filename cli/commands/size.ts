import type { Command } from 'commander';
import { readFile } from 'node:fs/promises';
import { note, print, printJson, tableLines } from '#cli/output.ts';
import { badInput } from '#core/problem.ts';
import { CONSTRAINT_WORDS, buildName, buildsCsv, explainBuild } from '#core/sizing/explain.ts';
import { parseSizing, type Sizing } from '#core/sizing/project.ts';
import { CONSTRAINTS, searchBench, searchBuilds } from '#core/sizing/search.ts';
import { bytesText, formatNumber, formatShare } from '#core/units/format.ts';

/** A plan with millions of lines is none. */
const LARGEST_PLAN_BYTES = 64e6;

export function addSizeCommand(program: Command): void {
  program
    .command('size')
    .description('which storage a project needs: cheapest build, efficient ones, and why the others fail')
    .argument('<file>', 'a sizing as JSON, see docs/formats/sizing.schema.json')
    .option('--json', 'print JSON')
    .option('--csv', 'print the efficient builds for a spreadsheet')
    .action(async (path: string, options: { json?: boolean; csv?: boolean }) => size(await sizingFrom(path), options));
}

async function sizingFrom(path: string): Promise<Sizing> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw badInput('file', `file: ${path} cannot be read. Name a sizing as JSON.`);
  });
  if (text.length > LARGEST_PLAN_BYTES) throw badInput('file', `file: ${path} is larger than 64 MB.`);
  let document: unknown;
  try {
    document = JSON.parse(text);
  } catch (error) {
    throw badInput('file', `file: ${path} is no JSON: ${(error as Error).message}.`);
  }
  return parseSizing(document);
}

function size(sizing: Sizing, { json = false, csv = false }: { json?: boolean; csv?: boolean }): void {
  const bench = searchBench(sizing);
  const result = searchBuilds(sizing, undefined, bench)!;
  const { cheapest, front, tempting } = result;
  if (csv) {
    process.stdout.write(buildsCsv(bench, front));
    return;
  }
  const failing = CONSTRAINTS.filter((one) => result.ruledOut[one] > 0).map((constraint) => ({
    constraint,
    builds: result.ruledOut[constraint],
    tempting: tempting[constraint] ? explainBuild(bench, tempting[constraint]) : null,
  }));
  if (json) {
    printJson({
      builds: result.builds,
      feasible: result.feasible,
      peakBytes: bench.timeline.peakBytes,
      peakDay: bench.timeline.peakDay,
      cheapest: cheapest && explainBuild(bench, cheapest),
      front: front.map((build) => ({ name: buildName(bench, build), ...build })),
      ruledOut: failing,
    });
    return;
  }
  note(
    `${formatNumber(result.builds, 'full')} builds looked at, ${formatNumber(result.feasible, 'full')} can be built.`,
  );
  if (cheapest) {
    const explained = explainBuild(bench, cheapest);
    print(`Cheapest: ${explained.name}`);
    explained.sentences.forEach(print);
    const rows = front
      .slice(0, 12)
      .map((build) => [
        buildName(bench, build),
        formatNumber(build.cost, 'full'),
        bytesText(build.usableBytes),
        Number.isFinite(build.margin) ? formatShare(build.margin) : '–',
      ]);
    tableLines([['more to spare for more money', 'cost', 'usable', 'to spare'], ...rows]).forEach(print);
  } else print('No build does what is asked.');
  for (const { constraint, builds, tempting: one } of failing) {
    const name = one ? `, among them ${one.name} for ${formatNumber(one.cost, 'full')}` : '';
    print(`${formatNumber(builds, 'full')}: it ${CONSTRAINT_WORDS[constraint]}${name}`);
  }
}
