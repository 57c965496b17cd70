import { drivesPrice, kindsOf, stackSize, standsAlone, type Build, type Stack } from '#core/5-answers/sizing/builds.ts';
import { attached, enduranceYears, layoutById, usableBytes, type Layout } from '#core/5-answers/sizing/layouts.ts';
import { enclosuresFor, priceWith, type SizingEnclosure } from '#core/5-answers/sizing/parts.ts';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import { leastOf, type RateCheck, type SearchBasis } from '#core/5-answers/sizing/search-basis.ts';

/** What one build comes to, and what rules it out. */

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
export interface LayoutFacts {
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

export function layoutFacts(basis: SearchBasis, stack: Stack, layout: Layout): LayoutFacts {
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
export interface SpareFacts {
  spares: number;
  price: number;
  quiet: Kept;
}

export function spareFacts({ sizing }: SearchBasis, stack: Stack, layout: Layout, spares: number): SpareFacts {
  const { mostDecibels } = sizing.policy;
  const decibels = mostDecibels === null ? null : loudnessOf(sizing, stack, layout, spares);
  return {
    spares,
    price: drivesPrice(sizing.drives, stack, spares),
    quiet: keptIf(mostDecibels, decibels, (known, limit) => known <= limit),
  };
}

/** How a stack in a layout does behind an enclosure and a connection, worked out when it is asked for. */
export interface Rates {
  whole: RateCheck;
  degraded: RateCheck | null;
}

export function ratesOf(basis: SearchBasis, build: Build): Rates {
  const whole = basis.check(build);
  if (!basis.sizing.policy.holdsDegraded || whole.constraint !== null) return { whole, degraded: null };
  return { whole, degraded: basis.check(build, layoutById(build.layout).degradedShare(stackSize(build))) };
}

/** What is known of a build before rates are asked for; they are the dearest to know. */
type Facts = readonly [
  facts: LayoutFacts,
  spare: SpareFacts,
  /** Null where no number of its enclosures would do. */
  boxes: number | null,
  cost: number,
  budget: number | null,
];

const faultOf = <Word extends 'redundancy' | 'loudness' | 'endurance'>(kept: Kept, word: Word) =>
  kept === 'kept' ? null : kept === 'broken' ? word : (`${word}-unknown` as const);

/** What can rule a build out before its rates, in the order in which it is asked. */
const CHECKS: readonly ((...facts: Facts) => Constraint | null)[] = [
  ({ survives }) => faultOf(survives, 'redundancy'),
  (_facts, _spare, boxes) => (boxes === null ? 'slots' : null),
  (_facts, _spare, _boxes, cost, budget) => (budget !== null && cost > budget ? 'budget' : null),
  ({ tooSmall }) => (tooSmall ? 'capacity' : null),
  (_facts, { quiet }) => faultOf(quiet, 'loudness'),
  ({ lasts }) => faultOf(lasts, 'endurance'),
];

/** The first constraint that fails before rates are asked for; asked a million times, so without a list of its own. */
export function ruledOutByFacts(
  facts: LayoutFacts,
  spare: SpareFacts,
  boxes: number | null,
  cost: number,
  budget: number | null,
): Constraint | null {
  for (const check of CHECKS) {
    const fault = check(facts, spare, boxes, cost, budget);
    if (fault !== null) return fault;
  }
  return null;
}

export function ruledOutByRates({ whole, degraded }: Rates): Constraint | null {
  if (whole.constraint !== null) return whole.constraint;
  return degraded !== null && degraded.constraint !== null ? 'degraded' : null;
}

/** All that a search knows of one build, and what rules it out. */
export interface Judgement {
  judged: JudgedBuild;
  /** The first that rules it out; null when it may be built. */
  constraint: Constraint | null;
  /** Everything that does, in the order in which it is asked. */
  faults: Constraint[];
}

/** What is known of a build before its rates are asked for. */
function factsOf(basis: SearchBasis, build: Build): Facts {
  const { sizing, budget } = basis;
  const layout = layoutById(build.layout);
  const facts = layoutFacts(basis, build, layout);
  const spare = spareFacts(basis, build, layout, build.spares);
  const [boxes, boxesPrice] = enclosuresOf(facts, spare, sizing.enclosures[build.enclosure]!);
  const cost = spare.price + boxesPrice + priceWith(sizing.connections[build.connection]!, facts.drives + spare.spares);
  return [facts, spare, boxes, cost, budget];
}

/** Whether nothing rules a build out; its rates are asked for only where nothing else does. */
export const mayBeBuilt = (basis: SearchBasis, build: Build): boolean =>
  ruledOutByFacts(...factsOf(basis, build)) === null && ruledOutByRates(ratesOf(basis, build)) === null;

export function judgeBuild(basis: SearchBasis, build: Build): Judgement {
  const known = factsOf(basis, build);
  const [facts, , , cost] = known;
  const rates = ratesOf(basis, build);
  const faults = [...CHECKS.map((check) => check(...known)), ruledOutByRates(rates)].filter((fault) => fault !== null);
  return {
    judged: { ...build, cost, usableBytes: facts.usable, margin: Math.min(facts.room, rates.whole.spare) },
    constraint: faults[0] ?? null,
    faults,
  };
}

/** How many enclosures of a kind a build takes, null where no number would do, and what they cost; none for a share. */
export function enclosuresOf(
  { isAlone, slots, drives }: LayoutFacts,
  { spares }: SpareFacts,
  enclosure: SizingEnclosure,
): [count: number | null, price: number] {
  if (isAlone) return [0, 0];
  const count = enclosuresFor(enclosure, slots + spares);
  return [count, priceWith(enclosure, drives + spares, count ?? 1)];
}
