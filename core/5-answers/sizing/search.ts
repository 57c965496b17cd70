import { layoutsOf, sparesOf, stackSize, stacksOf } from '#core/5-answers/sizing/builds.ts';
import {
  CONSTRAINTS,
  enclosuresOf,
  layoutFacts,
  ratesOf,
  ruledOutByFacts,
  ruledOutByRates,
  spareFacts,
  type Constraint,
  type JudgedBuild,
  type Rates,
} from '#core/5-answers/sizing/judge-build.ts';
import { takes } from '#core/5-answers/sizing/layouts.ts';
import { priceWith, sharedParts, type SharedParts } from '#core/5-answers/sizing/parts.ts';
import type { SearchBasis } from '#core/5-answers/sizing/search-basis.ts';

/** Efficient builds that have the same shared parts. */
export interface SharedFront {
  shared: SharedParts;
  front: JudgedBuild[];
}

export interface SizingResult {
  /** All builds that were looked at, and how many of them each constraint rules out first. */
  builds: number;
  feasible: number;
  ruledOut: Record<Constraint, number>;
  /** Of each constraint the cheapest build that it, of those asked so far, is the first to rule out; of room the closest. */
  tempting: Partial<Record<Constraint, JudgedBuild>>;
  cheapest: JudgedBuild | null;
  /** No other build costs as little and has as much to spare; cheapest first. */
  front: JudgedBuild[];
  /** The same by what of a build other stores can share: of those that share alike none beats another. */
  fronts: SharedFront[];
  /** A sample of feasible builds for a picture, spread over all of them. */
  sample: JudgedBuild[];
}

const SAMPLE_BUILDS = 4000;

/** Builds that share alike, while they are searched. */
type Group = SharedFront & { waiting: JudgedBuild[] };

/** Builds that cost as little and have as much to spare as no other; cheapest first. */
export function efficientFront<One extends { cost: number; margin: number }>(builds: readonly One[]): One[] {
  const front: One[] = [];
  for (const build of [...builds].sort((a, b) => a.cost - b.cost || b.margin - a.margin)) {
    if (front.length === 0 || build.margin > front.at(-1)!.margin) front.push(build);
  }
  return front;
}

/** Too little room tempts by how little is missing, everything else by its price. */
function isMoreTempting(constraint: Constraint, build: JudgedBuild, known: JudgedBuild): boolean {
  if (constraint === 'capacity' && build.usableBytes !== known.usableBytes)
    return build.usableBytes > known.usableBytes;
  return build.cost < known.cost;
}

/**
 * Told with the share done, and asked with what was found so far, often enough to be shown; false ends the search.
 * @param soFar makes a result of what was found until now
 */
export type OnProgress = (share: number, soFar: () => SizingResult) => boolean;

/**
 * All builds of one store, exactly: the cheapest, the efficient front, and why the others fail. What does not depend on
 * enclosure and connection is worked out once for all of them; rates are asked for only where nothing else rules out.
 * @param basis kept, where the builds found are explained afterwards: what was looked up stays
 */
export function searchBuilds(basis: SearchBasis, onProgress: OnProgress = () => true): SizingResult | null {
  const { sizing, budget } = basis;
  const { drives, enclosures, connections, policy } = sizing;
  const found = emptyResult();
  const groups = new Map<string, Group>();
  const groupOf = (shared: SharedParts) => {
    const key = Object.keys(shared).sort().join('\n');
    const known = groups.get(key) ?? { shared, front: [], waiting: [] };
    groups.set(key, known);
    return known;
  };
  // Of each enclosure with each connection, in which group its builds are; a share has no enclosure.
  const groupAt = enclosures.flatMap((enclosure) =>
    connections.map((connection) => groupOf(sharedParts(enclosure, connection))),
  );
  const groupAlone = connections.map((connection) => groupOf(sharedParts(connection)));
  let waiting = 0;
  let every = 1;
  const settle = () => {
    for (const group of groups.values()) {
      group.front = efficientFront([...group.front, ...group.waiting]);
      group.waiting = [];
    }
    waiting = 0;
    found.fronts = [...groups.values()].map(({ shared, front }) => ({ shared, front }));
    found.front = efficientFront(found.fronts.flatMap(({ front }) => front));
  };
  const soFar = (): SizingResult => {
    settle();
    return { ...found, ruledOut: { ...found.ruledOut }, tempting: { ...found.tempting }, sample: [...found.sample] };
  };
  const tempt = (constraint: Constraint, build: JudgedBuild) => {
    const known = found.tempting[constraint];
    if (!known || isMoreTempting(constraint, build, known)) found.tempting[constraint] = build;
  };
  const take = (build: JudgedBuild, group: Group) => {
    const { cheapest, sample } = found;
    const { cost, margin } = build;
    if (cheapest === null || cost < cheapest.cost || (cost === cheapest.cost && margin > cheapest.margin)) {
      found.cheapest = build;
    }
    if (found.feasible % every === 0) {
      sample.push(build);
      if (sample.length > SAMPLE_BUILDS) {
        every *= 2;
        found.sample = sample.filter((_, index) => index % 2 === 0);
      }
    }
    group.waiting.push(build);
    waiting += 1;
    if (waiting > 2000) settle();
  };
  const layouts = layoutsOf(sizing);
  for (const stack of stacksOf(sizing)) {
    if (!onProgress((stack.drive + (stack.count - 1) / policy.mostDrives) / drives.length, soFar)) return null;
    for (const layout of layouts) {
      if (!takes(layout, stackSize(stack))) continue;
      const facts = layoutFacts(basis, stack, layout);
      const rates: (Rates | undefined)[] = [];
      const groupsHere = facts.isAlone ? groupAlone : groupAt;
      for (const spares of sparesOf(sizing, stack)) {
        const spare = spareFacts(basis, stack, layout, spares);
        // A share stands by itself.
        const boxes = (facts.isAlone ? enclosures.slice(0, 1) : enclosures).map((one) =>
          enclosuresOf(facts, spare, one),
        );
        const links = connections.map((one) => priceWith(one, facts.drives + spares));
        for (const [enclosure, [count, boxesPrice]] of boxes.entries()) {
          for (let connection = 0; connection < connections.length; connection += 1) {
            found.builds += 1;
            const cost = spare.price + boxesPrice + links[connection]!;
            let constraint = ruledOutByFacts(facts, spare, count, cost, budget);
            if (constraint !== null && isHopeless(constraint, found, cost, facts.usable)) continue;
            const build: JudgedBuild = {
              drive: stack.drive,
              count: stack.count,
              other: stack.other,
              otherCount: stack.otherCount,
              layout: layout.id,
              spares,
              enclosure,
              connection,
              cost,
              usableBytes: facts.usable,
              margin: facts.room,
            };
            const at = enclosure * connections.length + connection;
            if (constraint === null) {
              const rate = (rates[at] ??= ratesOf(basis, build));
              constraint = ruledOutByRates(rate);
              build.margin = Math.min(facts.room, rate.whole.spare);
              if (constraint !== null && isHopeless(constraint, found, cost, facts.usable)) continue;
            }
            if (constraint === null) {
              found.feasible += 1;
              take(build, groupsHere[at]!);
            } else tempt(constraint, build);
          }
        }
      }
    }
  }
  settle();
  onProgress(1, soFar);
  return found;
}

const emptyResult = (): SizingResult => ({
  builds: 0,
  feasible: 0,
  ruledOut: Object.fromEntries(CONSTRAINTS.map((one) => [one, 0])) as Record<Constraint, number>,
  tempting: {},
  cheapest: null,
  front: [],
  fronts: [],
  sample: [],
});

/** Counts a build that is ruled out, and says whether it need not be looked at as the one that tempts most. */
function isHopeless(constraint: Constraint, { ruledOut, tempting }: SizingResult, cost: number, usable: number) {
  ruledOut[constraint] += 1;
  const known = tempting[constraint];
  if (!known) return false;
  return constraint === 'capacity' ? known.usableBytes > usable : known.cost < cost;
}
