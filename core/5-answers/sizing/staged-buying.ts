import { layoutsOf, sparesOf, stackSize, standsAlone, type Build } from '#core/5-answers/sizing/builds.ts';
import { dayDate, dayText } from '#core/5-answers/sizing/calendar.ts';
import { buildName } from '#core/5-answers/sizing/explain.ts';
import { layoutFacts, mayBeBuilt } from '#core/5-answers/sizing/judge-build.ts';
import { layoutById, takes, type Layout } from '#core/5-answers/sizing/layouts.ts';
import { fullOnDay } from '#core/5-answers/sizing/material.ts';
import { isShare, type Sizing } from '#core/5-answers/sizing/project.ts';
import type { ProjectResult } from '#core/5-answers/sizing/project-search.ts';
import type { SearchBasis } from '#core/5-answers/sizing/search-basis.ts';
import { boughtOnce, shoppingList, type ShoppingLine } from '#core/5-answers/sizing/shopping.ts';
import { priceThenText, type Stage } from '#core/5-answers/sizing/stages.ts';
import { STORE_WORDS, type StoreId } from '#core/5-answers/sizing/stores.ts';
import { csvText } from '#core/1-ground/csv.ts';
import { bytesText, formatNumber } from '#core/1-ground/units/format.ts';
import { moneyText } from '#core/1-ground/units/money.ts';
import { capitalized } from '#core/1-ground/words.ts';

/** What has to be bought by which day where not all is bought at the beginning, and for what. */

export interface StagedBuy {
  onDay: number;
  /** What a drive costs then, of its price today. */
  priceShare: number;
  /** What stands there from that day on. */
  build: Build;
  name: string;
  /** What is bought by that day; empty where what is there is enough. */
  lines: ShoppingLine[];
  sum: number;
  usableBytes: number;
  /** The day on which it would be full without what is bought later; null for never. */
  fullOnDay: number | null;
}

export interface StagedStore {
  store: StoreId;
  /** From the beginning on, in the order of the days; a day on which nothing is needed is among them. */
  buys: StagedBuy[];
  sum: number;
}

export interface StagedBuying {
  stores: StagedStore[];
  /** Of all stores; parts that they share are bought once. */
  cost: number;
}

/** Builds that grow into each other: the same in everything but the number of drives. */
interface Family extends Pick<Build, 'drive' | 'spares' | 'enclosure' | 'connection'> {
  layout: Layout;
}

/**
 * The cheapest way to buy each store in stages, each store for itself: of one kind of drive in one layout, in one kind
 * of enclosure behind one connection, as many drives from each day on as its material until the next day needs. Fewer
 * drives than that do not do, and more at a time do not cost less but where drives become dearer: then they are bought
 * while they are cheaper. All that a build has to do it has to do in every stage. What it costs in all is within no budget.
 * @returns null where nothing is bought later, or a store cannot be built so
 */
export function stagedBuying(bases: readonly SearchBasis[], stages: readonly Stage[]): StagedBuying | null {
  if (stages.length === 0) return null;
  const stores = bases.map((basis) => cheapestInStages(basis, stages));
  if (!stores.every((one) => one !== null)) return null;
  // What is shared is bought with the first store that needs it, at the beginning.
  const once = boughtOnce(stores.map(({ store, buys }) => ({ store, lines: buys[0]!.lines })));
  const shared = stores.map((store, at): StagedStore => {
    const [first, ...later] = store.buys as [StagedBuy, ...StagedBuy[]];
    const lines = once[at]!.lines.filter(({ sum, price }) => sum > 0 || price === 0);
    const buys = [{ ...first, lines, sum: sumOf(lines) }, ...later];
    return { ...store, buys, sum: buys.reduce((sum, buy) => sum + buy.sum, 0) };
  });
  return { stores: shared, cost: shared.reduce((sum, one) => sum + one.sum, 0) };
}

const sumOf = (lines: readonly ShoppingLine[]): number => lines.reduce((all, { sum }) => all + sum, 0);

function cheapestInStages(basis: SearchBasis, stages: readonly Stage[]): StagedStore | null {
  const all: Stage[] = [{ onDay: 1, priceShare: 1 }, ...stages];
  // What lies there at most from each day on until more can be bought.
  const windows = all.map(({ onDay }, at): SearchBasis => {
    const days = basis.timeline.total.slice(onDay - 1, (all[at + 1]?.onDay ?? basis.sizing.days + 1) - 1);
    return { ...basis, budget: null, timeline: { ...basis.timeline, peakBytes: Math.max(0, ...days) } };
  });
  let best: StagedStore | null = null;
  for (const family of familiesOf(basis.sizing)) {
    const builds = leastBuilds(windows, family);
    if (builds === null) continue;
    const buys = buysOf(basis, all, builds);
    const sum = buys.reduce((total, buy) => total + buy.sum, 0);
    if (best === null || sum < best.sum) best = { store: basis.store, buys, sum };
  }
  return best;
}

function* familiesOf(sizing: Sizing): Generator<Family> {
  const { drives, enclosures, connections } = sizing;
  for (let drive = 0; drive < drives.length; drive += 1) {
    const one = { drive, count: 1, other: null, otherCount: 0 };
    for (const layout of layoutsOf(sizing)) {
      for (const spares of sparesOf(sizing, one)) {
        for (let enclosure = 0; enclosure < (standsAlone(sizing, one) ? 1 : enclosures.length); enclosure += 1) {
          for (let connection = 0; connection < connections.length; connection += 1) {
            yield { drive, layout, spares, enclosure, connection };
          }
        }
      }
    }
  }
}

/** Of each stage the build with the fewest drives that does all that is asked, and no fewer than before; null for none. */
function leastBuilds(windows: readonly SearchBasis[], family: Family): Build[] | null {
  const builds: Build[] = [];
  let count = 1;
  for (const basis of windows) {
    const { policy, drives } = basis.sizing;
    const most = isShare(drives[family.drive]!) ? 1 : policy.mostDrives;
    while (count <= most && !doesAll(basis, buildIn(family, count))) count += 1;
    if (count > most) return null;
    builds.push(buildIn(family, count));
  }
  return builds;
}

const buildIn = ({ layout, ...family }: Family, count: number): Build => ({
  ...family,
  count,
  other: null,
  otherCount: 0,
  layout: layout.id,
});

function doesAll(basis: SearchBasis, build: Build): boolean {
  const isToBeHad = [...sparesOf(basis.sizing, build)].includes(build.spares);
  return takes(layoutById(build.layout), stackSize(build)) && isToBeHad && mayBeBuilt(basis, build);
}

/** What is bought by each day; drives on the day until then on which they cost least. */
function buysOf(basis: SearchBasis, stages: readonly Stage[], builds: readonly Build[]): StagedBuy[] {
  const { sizing, timeline } = basis;
  const buys = stages.map(({ onDay, priceShare }, at): StagedBuy => {
    const { usable } = layoutFacts(basis, builds[at]!, layoutById(builds[at]!.layout));
    return {
      ...{ onDay, priceShare, build: builds[at]!, name: buildName(sizing, builds[at]!), lines: [], sum: 0 },
      usableBytes: usable,
      fullOnDay: fullOnDay(timeline, usable),
    };
  });
  let before: ShoppingLine[] = [];
  for (const [at, build] of builds.entries()) {
    const list = shoppingList(sizing, build);
    for (const [place, line] of list.entries()) {
      const count = boughtOf(line) - boughtOf(before.find(({ what }) => what === line.what));
      if (count <= 0) continue;
      // Of one kind of drive the first line is the drive. Of days with the same price the last: nothing is paid early.
      const until = stages.slice(0, at + 1).map(({ priceShare }) => priceShare);
      const on = place === 0 ? until.lastIndexOf(Math.min(...until)) : at;
      add(buys[on]!.lines, { ...line, count, there: 0, price: line.price * (place === 0 ? until[on]! : 1) });
    }
    before = list;
  }
  for (const buy of buys) buy.sum = sumOf(buy.lines);
  return buys;
}

const boughtOf = (line: ShoppingLine | undefined): number => (line ? line.count - line.there : 0);

function add(lines: ShoppingLine[], line: ShoppingLine): void {
  const at = lines.findIndex(({ what }) => what === line.what);
  const count = line.count + (lines[at]?.count ?? 0);
  lines.splice(at < 0 ? lines.length : at, 1, { ...line, count, sum: count * line.price });
}

/** Everything that is told of buying in stages. */
export interface StagedAnswer {
  buying: StagedBuying;
  lines: StagedText[];
  summary: string;
  isWithinBudget: boolean;
}

/** @param found of the plan as it is; null where nothing is bought later, or nothing can be built so */
export function stagedAnswer(sizing: Sizing, { stores, front }: ProjectResult): StagedAnswer | null {
  const buying = stagedBuying(
    stores.map(({ basis }) => basis),
    sizing.stages,
  );
  if (buying === null) return null;
  const { budget } = sizing.policy;
  return {
    buying,
    lines: stagedTexts(buying, sizing),
    summary: stagedSummary(buying, sizing, front[0]?.cost ?? null),
    isWithinBudget: budget === null || buying.cost <= budget,
  };
}

/** What is bought by which day, as a table for a spreadsheet: a line a thing, and the sum last. */
export function stagedCsv({ stores, cost }: StagedBuying, { currency, startsOn }: Sizing): string {
  const rows = stores.flatMap(({ store, buys }) =>
    buys.flatMap(({ onDay, lines }) =>
      lines.map(({ what, count, price, sum }) => [
        ...[onDay, startsOn === null ? '' : dayDate(onDay, startsOn), STORE_WORDS[store], what],
        ...[count, price, sum, currency],
      ]),
    ),
  );
  return csvText(
    ['by_day', 'date', 'store', 'what', 'to_buy', 'price', 'sum', 'currency'],
    [...rows, [null, '', 'in all', '', null, null, cost, currency]],
  );
}

/** One line of what is bought in stages, as it is told: when, what, and what it is enough for. */
export interface StagedText {
  when: string;
  text: string;
}

/** What is bought by which day in every store, line by line. */
function stagedTexts({ stores }: StagedBuying, sizing: Sizing): StagedText[] {
  const { currency, startsOn, units } = sizing;
  return stores.flatMap(({ store, buys }) =>
    buys.map(({ onDay, priceShare, lines, sum, name, usableBytes, fullOnDay: full }, at): StagedText => {
      const where = stores.length > 1 ? `${STORE_WORDS[store]}, ` : '';
      const day = at === 0 ? 'at the beginning' : `by ${dayText(onDay, startsOn)}`;
      const bought = lines.map(({ what, count, price }) => `${count} × ${what} at ${formatNumber(price, 'full')}`);
      const then = at > 0 && lines.length > 0 && priceShare !== 1 ? `, drives at ${priceThenText(priceShare)}` : '';
      const isEnough = full === null ? 'enough to the end' : `enough until ${dayText(full - 1, startsOn)}`;
      return {
        when: capitalized(`${where}${day}`),
        text:
          lines.length === 0
            ? `nothing: ${name} is ${isEnough}.`
            : `${bought.join(', ')}${then}: ${moneyText(sum, currency)}. Then ${name} with ${bytesText(usableBytes, 'picture', units)}, ${isEnough}.`,
      };
    }),
  );
}

/**
 * What it comes to, against what is cheapest where all is bought at the beginning, and what is taken for granted.
 * @param atOnce cost of that; null where nothing does it
 */
function stagedSummary({ stores, cost }: StagedBuying, sizing: Sizing, atOnce: number | null): string {
  const { currency, policy, stages } = sizing;
  const more = atOnce === null ? 0 : cost - atOnce;
  const against =
    atOnce === null
      ? ''
      : more === 0
        ? ', as much as all at once'
        : `, ${moneyText(Math.abs(more), currency)} ${more < 0 ? 'less' : 'more'} than the cheapest bought all at once`;
  const over =
    policy.budget !== null && cost > policy.budget
      ? ` That is ${moneyText(cost - policy.budget, currency)} over the budget.`
      : '';
  const typed = stages.some(({ priceShare }) => priceShare !== 1)
    ? 'What drives cost later is as typed, and everything else as today.'
    : 'Later prices are taken as those of today.';
  const growing = [
    ...new Set(
      stores.flatMap(({ buys }) => {
        const counts = new Set(buys.map(({ build }) => build.count));
        const layout = layoutById(buys[0]!.build.layout);
        return counts.size > 1 && layout.isTogether ? [layout.label] : [];
      }),
    ),
  ];
  const grows =
    growing.length > 0
      ? ` That ${growing.join(' and ')} can take more drives while its material lies on it is taken for granted: ask before buying.`
      : '';
  return `In all ${moneyText(cost, currency)}${against}.${over} ${typed}${grows}`;
}
