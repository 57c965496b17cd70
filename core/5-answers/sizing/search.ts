import {
  drivesPrice,
  kindsOf,
  layoutsOf,
  sparesOf,
  stackSize,
  stacksOf,
  standsAlone,
  type Build,
  type Stack,
} from '#core/5-answers/sizing/builds.ts';
import {
  attached,
  enduranceYears,
  layoutById,
  takes,
  usableBytes,
  type Layout,
} from '#core/5-answers/sizing/layouts.ts';
import {
  enclosuresFor,
  enclosuresPrice,
  priceWith,
  sharedParts,
  type SharedParts,
} from '#core/5-answers/sizing/parts.ts';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import { leastOf, type RateCheck, type SearchBasis } from '#core/5-answers/sizing/search-basis.ts';

/** Why a build is ruled out, in the order in which it is asked. */
export const CONSTRAINTS = [
  'redundancy',
  'redundancy-unknown',
  'slots',
  'budget',
  'capacity',
  'loudness',
  'loudness-unknown',
  'endurance',
  'endurance-unknown',
  'writing',
  'reading',
  'degraded',
] as const;
export type Constraint = (typeof CONSTRAINTS)[number];

export interface JudgedBuild extends Build {
  cost: number;
  usableBytes: number;
  /** Least of what it has to spare: room over the fullest day, and rate over the demand with its headroom. */
  margin: number;
}

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

/** Drives that stand together are louder: their powers add up. Null where that of one is not known. */
export function loudnessOf(sizing: Sizing, stack: Stack, layout: Layout, spares: number): number | null {
  let [power, loudest] = [0, 0];
  for (const { drive, count, spares: own } of kindsOf(sizing.drives, stack, spares)) {
    if (drive.loudnessDecibels === null) return null;
    loudest = Math.max(loudest, drive.loudnessDecibels);
    power += (count + own) * 10 ** (drive.loudnessDecibels / 10);
  }
  // Drives used one after the other are as loud as the loudest of them.
  return layout.isTogether ? 10 * Math.log10(power) : loudest;
}

/** Share of the fullest day that is left over. */
const spareRoom = (usable: number, peakBytes: number): number => (peakBytes > 0 ? usable / peakBytes - 1 : Infinity);

/** Smallest drive of a stack: a layout takes as much of each. */
const driveBytes = (sizing: Sizing, stack: Stack): number =>
  leastOf(sizing, stack, ({ capacityBytes }) => capacityBytes)!;

/** Years until the first drive of a stack is written through, redundancy included; null where a card does not say it. */
export function yearsOf({ sizing, timeline }: SearchBasis, stack: Stack, layout: Layout): number | null {
  const drives = stackSize(stack);
  const written = timeline.writtenBytesPerDay * (drives / layout.data(drives));
  return enduranceYears(
    written,
    drives,
    sizing.policy.amplification,
    leastOf(sizing, stack, ({ enduranceBytes }) => enduranceBytes),
  );
}

/** What a stack in a layout comes to, whatever is around it. */
interface LayoutFacts {
  usable: number;
  room: number;
  drives: number;
  /** Slots that are taken at once, spares aside. */
  slots: number;
  survives: Kept;
  /** It needs no enclosure. */
  isAlone: boolean;
  tooSmall: boolean;
  lasts: Kept;
}

/** Whether a limit is kept; unknown where a card does not say it. */
type Kept = 'kept' | 'broken' | 'unknown';

function keptIf(limit: number | null, known: number | null, isKept: (known: number, limit: number) => boolean): Kept {
  if (limit === null) return 'kept';
  if (known === null) return 'unknown';
  return isKept(known, limit) ? 'kept' : 'broken';
}

function survivesEnough(survived: number, asked: number, isAlone: boolean): Kept {
  if (survived >= asked) return 'kept';
  return isAlone ? 'unknown' : 'broken';
}

function layoutFacts(basis: SearchBasis, stack: Stack, layout: Layout): LayoutFacts {
  const { sizing, timeline } = basis;
  const { policy } = sizing;
  const drives = stackSize(stack);
  const isAlone = standsAlone(sizing, stack);
  const usable = usableBytes(layout, drives, driveBytes(sizing, stack), policy);
  const years = policy.leastYears === null ? null : yearsOf(basis, stack, layout);
  return {
    usable,
    room: spareRoom(usable, timeline.peakBytes),
    drives,
    slots: attached(layout, drives),
    survives: survivesEnough(layout.survives(drives), policy.survives, isAlone),
    isAlone,
    tooSmall: usable < timeline.peakBytes,
    lasts: keptIf(policy.leastYears, years, (known, limit) => known >= limit),
  };
}

/** What hot spares add to it. */
interface SpareFacts {
  spares: number;
  price: number;
  quiet: Kept;
}

function spareFacts({ sizing }: SearchBasis, stack: Stack, layout: Layout, spares: number): SpareFacts {
  const { mostDecibels } = sizing.policy;
  const decibels = mostDecibels === null ? null : loudnessOf(sizing, stack, layout, spares);
  return {
    spares,
    price: drivesPrice(sizing.drives, stack, spares),
    quiet: keptIf(mostDecibels, decibels, (known, limit) => known <= limit),
  };
}

/** How a stack in a layout does behind an enclosure and a connection, worked out when it is asked for. */
interface Rates {
  whole: RateCheck;
  degraded: RateCheck | null;
}

function ratesOf(basis: SearchBasis, build: Build): Rates {
  const whole = basis.check(build);
  if (!basis.sizing.policy.holdsDegraded || whole.constraint !== null) return { whole, degraded: null };
  return { whole, degraded: basis.check(build, layoutById(build.layout).degradedShare(stackSize(build))) };
}

/** The first constraint that fails before rates are asked for; they are the dearest to know. */
function ruledOutByFacts(
  { survives, tooSmall, lasts }: LayoutFacts,
  { quiet }: SpareFacts,
  boxes: number | null,
  cost: number,
  budget: number | null,
): Constraint | null {
  if (survives !== 'kept') return survives === 'broken' ? 'redundancy' : 'redundancy-unknown';
  if (boxes === null) return 'slots';
  if (budget !== null && cost > budget) return 'budget';
  if (tooSmall) return 'capacity';
  if (quiet !== 'kept') return quiet === 'broken' ? 'loudness' : 'loudness-unknown';
  if (lasts !== 'kept') return lasts === 'broken' ? 'endurance' : 'endurance-unknown';
  return null;
}

function ruledOutByRates({ whole, degraded }: Rates): Constraint | null {
  if (whole.constraint !== null) return whole.constraint;
  return degraded !== null && degraded.constraint !== null ? 'degraded' : null;
}

/** One build, all that a search knows of it, and the first constraint that rules it out; null when it may be built. */
export function judgeBuild(basis: SearchBasis, build: Build): { judged: JudgedBuild; constraint: Constraint | null } {
  const { sizing, budget } = basis;
  const layout = layoutById(build.layout);
  const facts = layoutFacts(basis, build, layout);
  const spare = spareFacts(basis, build, layout, build.spares);
  const enclosure = sizing.enclosures[build.enclosure]!;
  const drives = facts.drives + spare.spares;
  const boxes = facts.isAlone ? 0 : enclosuresFor(enclosure, facts.slots + spare.spares);
  const cost =
    spare.price +
    (facts.isAlone ? 0 : enclosuresPrice(enclosure, boxes ?? 1, drives)) +
    priceWith(sizing.connections[build.connection]!, drives);
  const rates = ratesOf(basis, build);
  return {
    judged: { ...build, cost, usableBytes: facts.usable, margin: Math.min(facts.room, rates.whole.spare) },
    constraint: ruledOutByFacts(facts, spare, boxes, cost, budget) ?? ruledOutByRates(rates),
  };
}

/** Everything that rules a build out, in the order in which it is asked; empty where it may be built. */
export function faultsOf(basis: SearchBasis, build: Build): Constraint[] {
  const { sizing, budget } = basis;
  const layout = layoutById(build.layout);
  const facts = layoutFacts(basis, build, layout);
  const spare = spareFacts(basis, build, layout, build.spares);
  const { judged } = judgeBuild(basis, build);
  const boxes = facts.isAlone ? 0 : enclosuresFor(sizing.enclosures[build.enclosure]!, facts.slots + build.spares);
  const rates = ratesOf(basis, build);
  const faults: (Constraint | false | null)[] = [
    facts.survives === 'broken' && 'redundancy',
    facts.survives === 'unknown' && 'redundancy-unknown',
    boxes === null && 'slots',
    budget !== null && judged.cost > budget && 'budget',
    facts.tooSmall && 'capacity',
    spare.quiet === 'broken' && 'loudness',
    spare.quiet === 'unknown' && 'loudness-unknown',
    facts.lasts === 'broken' && 'endurance',
    facts.lasts === 'unknown' && 'endurance-unknown',
    ruledOutByRates(rates),
  ];
  return faults.filter((one) => typeof one === 'string');
}

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
  const groups = new Map<string, SharedFront & { waiting: JudgedBuild[] }>();
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
  const take = (build: JudgedBuild) => {
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
    const group = standsAlone(sizing, build)
      ? groupAlone[build.connection]!
      : groupAt[build.enclosure * connections.length + build.connection]!;
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
      for (const spares of sparesOf(sizing, stack)) {
        const spare = spareFacts(basis, stack, layout, spares);
        // A share stands by itself.
        const around = facts.isAlone ? enclosures.slice(0, 1) : enclosures;
        const counts = around.map((one) => (facts.isAlone ? 0 : enclosuresFor(one, facts.slots + spares)));
        const boxes = around.map((one, at) =>
          facts.isAlone ? 0 : enclosuresPrice(one, counts[at] ?? 1, facts.drives + spares),
        );
        const links = connections.map((one) => priceWith(one, facts.drives + spares));
        for (let enclosure = 0; enclosure < around.length; enclosure += 1) {
          for (let connection = 0; connection < connections.length; connection += 1) {
            found.builds += 1;
            const cost = spare.price + boxes[enclosure]! + links[connection]!;
            let constraint = ruledOutByFacts(facts, spare, counts[enclosure]!, cost, budget);
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
            if (constraint === null) {
              const at = enclosure * connections.length + connection;
              const rate = (rates[at] ??= ratesOf(basis, build));
              constraint = ruledOutByRates(rate);
              build.margin = Math.min(facts.room, rate.whole.spare);
              if (constraint !== null && isHopeless(constraint, found, cost, facts.usable)) continue;
            }
            if (constraint === null) {
              found.feasible += 1;
              take(build);
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
