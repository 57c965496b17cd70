import type { Command } from 'commander';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import { textOf } from '#cli/files.ts';
import { endWith, note, print, printJson, tableLines } from '#cli/output.ts';
import { addPlanOptions, hasPlan, sizingFromFlags, type PlanFlags } from '#cli/plan-flags.ts';
import { moneyText } from '#core/1-ground/units/money.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { efficientBuildsCsv } from '#core/5-answers/sizing/builds-csv.ts';
import { copiedDays } from '#core/5-answers/sizing/copied-day.ts';
import { buildName, constraintWords, explainBuild, type ExplainedBuild } from '#core/5-answers/sizing/explain.ts';
import { nearestText, whereNothingFits } from '#core/5-answers/sizing/fitting.ts';
import { moveAnswers } from '#core/5-answers/sizing/moves.ts';
import { parseSizing, type Sizing } from '#core/5-answers/sizing/project.ts';
import {
  searchProject,
  type BuildSet,
  type ProjectResult,
  type StoreResult,
} from '#core/5-answers/sizing/project-search.ts';
import { CONSTRAINTS, type JudgedBuild } from '#core/5-answers/sizing/judge-build.ts';
import { shoppingCsv, shoppingList, boughtOnce, type ShoppingLine } from '#core/5-answers/sizing/shopping.ts';
import { stagedAnswer, stagedCsv, type StagedAnswer } from '#core/5-answers/sizing/staged-buying.ts';
import { STORE_WORDS } from '#core/5-answers/sizing/stores.ts';
import { bytesText, formatNumber, formatShare } from '#core/1-ground/units/format.ts';

export function addSizeCommand(program: Command): void {
  const command = program
    .command('size')
    .description('which storage a project needs: cheapest builds, efficient ones, and why the others fail')
    .argument('[file]', 'a sizing as JSON, see docs/formats/sizing.schema.json; without it the plan is typed')
    .option('--json', 'print JSON')
    .option('--csv', 'print the efficient builds of each store for a spreadsheet')
    .option('--what-if', 'also print what five more days, one more camera and half the size would come to')
    .option(
      '--to-buy',
      'print what the cheapest takes to buy, as a table for a spreadsheet; in stages where some is bought later',
    );
  addPlanOptions(command).action(size);
}

interface SizeFlags {
  json?: boolean;
  csv?: boolean;
  toBuy?: boolean;
  whatIf?: boolean;
}

async function size(
  path: string | undefined,
  { json, csv, toBuy, whatIf, ...plan }: SizeFlags & PlanFlags,
): Promise<void> {
  if (path !== undefined && hasPlan(plan)) {
    throw badInput('file', 'file: a plan is in it already. Type the plan, or name a file of one.');
  }
  const sizing =
    path === undefined ? await sizingFromFlags(plan) : parseSizing(readJson(await textOf(path, 'file'), 'file'));
  const found = searchProject(sizing)!;
  const staged = stagedAnswer(sizing, found);
  if (csv) process.stdout.write(efficientBuildsCsv(found.stores));
  else if (toBuy) {
    const list = staged ? stagedCsv(staged.buying, sizing) : shoppingCsv(cheapestOf(found), sizing.currency);
    process.stdout.write(list);
  } else if (json) {
    const moves = whatIf ? { whatIf: moveAnswers(sizing, found).map(({ label, text }) => ({ label, text })) } : {};
    printJson({
      ...asJson(sizing, found, staged),
      stages: staged && { ...staged.buying, summary: staged.summary },
      ...moves,
    });
  } else {
    printFound(sizing, found, staged);
    if (staged) printStaged(staged);
    else if (sizing.stages.length > 0) print('Nothing can be bought in stages that does all of it.');
    if (whatIf) tableLines(moveAnswers(sizing, found).map(({ label, text }) => [label, text])).forEach(print);
  }
  if (!found.front[0] && !staged?.isWithinBudget) endWith(3);
}

function printStaged({ lines, summary }: StagedAnswer): void {
  print('Bought in stages:');
  tableLines(lines.map(({ when, text }) => [when, text])).forEach(print);
  print(summary);
}

/** What is bought of each store for the cheapest of all; a store of which nothing does it has none. */
const cheapestOf = ({ stores, front }: ProjectResult) =>
  boughtOnce(
    stores.flatMap(({ store, basis, result }, index) => {
      const build = front[0]?.builds[index] ?? result.cheapest;
      return build ? [{ store, lines: shoppingList(basis.sizing, build) }] : [];
    }),
  );

/** The builds that each constraint rules out first, and the one among them that tempts most. */
function failingOf({ basis, result }: StoreResult) {
  return CONSTRAINTS.filter((one) => result.ruledOut[one] > 0).map((constraint) => {
    const tempting = result.tempting[constraint];
    return {
      constraint,
      builds: result.ruledOut[constraint],
      tempting: tempting ? explainBuild(basis, tempting) : null,
    };
  });
}

function asJson(sizing: Sizing, { stores, front }: ProjectResult, staged: StagedAnswer | null) {
  const named = (build: JudgedBuild) => ({ name: buildName(sizing, build), ...build });
  const setOf = ({ cost, margin, builds }: BuildSet) => ({
    cost,
    margin,
    builds: boughtOnce(
      builds.map((build, index) => ({
        store: stores[index]!.store,
        lines: shoppingList(stores[index]!.basis.sizing, build),
      })),
    ).map(({ store, lines }, index) => ({ store, ...named(builds[index]!), shopping: lines })),
  });
  const { nearest, ways } = whereNothingFits(sizing, { stores, front }, staged);
  return {
    cheapest: front[0] ? setOf(front[0]) : null,
    nearest,
    waysToFit: ways,
    front: front.map(setOf),
    stores: stores.map((one) => ({
      store: one.store,
      builds: one.result.builds,
      feasible: one.result.feasible,
      peakBytes: one.basis.timeline.peakBytes,
      peakDay: one.basis.timeline.peakDay,
      cheapest: one.result.cheapest && explainBuild(one.basis, one.result.cheapest),
      front: one.result.front.map(named),
      ruledOut: failingOf(one),
    })),
  };
}

function printFound(sizing: Sizing, { stores, front }: ProjectResult, staged: StagedAnswer | null): void {
  const count = (of: (one: StoreResult) => number) =>
    formatNumber(
      stores.reduce((sum, one) => sum + of(one), 0),
      'full',
    );
  note(
    `${count(({ result }) => result.builds)} builds looked at, ${count(({ result }) => result.feasible)} can be built.`,
  );
  const several = stores.length > 1;
  if (front[0]) {
    const { builds, cost } = front[0];
    if (several) print(`Cheapest together: ${moneyText(cost, sizing.currency)}`);
    const explained = stores.map(({ basis }, index) => explainBuild(basis, builds[index]!));
    const lists = boughtOnce(
      stores.map(({ store, basis }, index) => ({ store, lines: shoppingList(basis.sizing, builds[index]!) })),
    );
    stores.forEach((store, index) => printStore(store, lists[index]!.lines, explained[index]!, { sizing, several }));
    const chosen = stores.map(({ store }, index) => ({ store, build: explained[index]! }));
    for (const { sentence } of copiedDays(chosen, sizing.policy)) print(sentence);
  } else {
    print(several ? 'No builds of all stores together do what is asked.' : 'No build does what is asked.');
    const { nearest, ways } = whereNothingFits(sizing, { stores, front }, staged);
    for (const one of nearest) print(nearestText(one, sizing.currency, !several));
    if (ways.length > 0) print('What by itself would make it fit:');
    for (const { text } of ways) print(`- ${text}`);
    // What works is told where only another store has no answer.
    for (const store of stores) {
      const { basis, result } = store;
      if (!result.cheapest) continue;
      const bought = shoppingList(basis.sizing, result.cheapest);
      printStore(store, bought, explainBuild(basis, result.cheapest), { sizing, several });
    }
  }
  for (const store of stores) {
    for (const { constraint, builds, tempting } of failingOf(store)) {
      const name = tempting ? `, among them ${tempting.name} for ${formatNumber(tempting.cost, 'full')}` : '';
      const where = several ? `${STORE_WORDS[store.store]}: ` : '';
      print(`${where}${formatNumber(builds, 'full')}: it ${constraintWords(constraint, store, sizing.policy)}${name}`);
    }
  }
}

function printStore(
  { store, result }: StoreResult,
  toBuy: readonly ShoppingLine[],
  explained: ExplainedBuild,
  { sizing, several }: { sizing: Sizing; several: boolean },
): void {
  print(`${several ? STORE_WORDS[store] : 'Cheapest'}: ${explained.name}`);
  explained.sentences.forEach(print);
  const bought = toBuy.map(({ what, count, there, price, sum }) => [
    there > 0 ? `${what} (${there} there)` : what,
    `${count} × ${formatNumber(price, 'full')}`,
    formatNumber(sum, 'full'),
  ]);
  tableLines([['to buy', '', 'cost'], ...bought]).forEach(print);
  const rows = result.front
    .slice(0, 12)
    .map((one) => [
      buildName(sizing, one),
      formatNumber(one.cost, 'full'),
      bytesText(one.usableBytes, 'picture', sizing.units),
      Number.isFinite(one.margin) ? formatShare(one.margin) : '–',
    ]);
  tableLines([['more to spare for more money', 'cost', 'usable', 'to spare'], ...rows]).forEach(print);
}
