import { stackSize, type Build } from '#core/5-answers/sizing/builds.ts';
import { dayText } from '#core/5-answers/sizing/calendar.ts';
import { copiedDay } from '#core/5-answers/sizing/copy-time.ts';
import { buildName, constraintWords, explainBuild, type ExplainedBuild } from '#core/5-answers/sizing/explain.ts';
import { MOST_OF_A_BOX } from '#core/5-answers/sizing/parts.ts';
import { storedBytes } from '#core/5-answers/sizing/material.ts';
import { MOST_DRIVES, type Sizing, type SizingPolicy } from '#core/5-answers/sizing/project.ts';
import { searchProject, type ProjectResult, type StoreResult } from '#core/5-answers/sizing/project-search.ts';
import { CONSTRAINTS, judgeBuild, type Constraint, type JudgedBuild } from '#core/5-answers/sizing/judge-build.ts';
import type { StagedAnswer } from '#core/5-answers/sizing/staged-buying.ts';
import type { ComposedVerdict } from '#core/5-answers/sizing/composed.ts';
import type { SearchBasis } from '#core/5-answers/sizing/search-basis.ts';
import { STORE_WORDS, type StoreId } from '#core/5-answers/sizing/stores.ts';
import { moneyText } from '#core/1-ground/units/money.ts';
import { bytesText, formatDuration, formatNumber, formatShare, rateText } from '#core/1-ground/units/format.ts';
import { provingWords } from '#core/5-answers/verdict/proving-words.ts';

/** Where nothing does what is asked: what came nearest and why not, and what would have to change for something to. */

export interface NearestBuild {
  store: StoreId;
  build: Build;
  name: string;
  cost: number;
  /** Every reason, in numbers: “costs 5,310 EUR, 310 over the budget”. */
  reasons: string[];
  /** A run that would tell, where it is only not proven; null else. */
  proof: string | null;
}

/** One change that by itself lets something be built, and the cheapest that can be then. */
export interface WayToFit {
  text: string;
  cost: number;
}

/** What can be said where nothing fits; all of it empty where something does. */
export interface NothingFits {
  /** Of each store that nothing can be built for what came nearest. */
  nearest: NearestBuild[];
  /** Cheapest first. */
  ways: WayToFit[];
}

/**
 * What came nearest, and changes each of which by itself would let something be built: money, room, days to keep, drives,
 * links, headroom, what has to survive, times allowed. Every one is searched, so that what is said of it is so.
 * @param found of the plan as it is
 * @param staged what buying it in stages comes to; null where that is not planned, or not to be had
 */
export function whereNothingFits(project: Sizing, found: ProjectResult, staged: StagedAnswer | null): NothingFits {
  if (found.front.length > 0) return { nearest: [], ways: [] };
  const { budget } = project.policy;
  const unbound = budget === null ? null : searchProject(withPolicy(project, { budget: null }));
  return {
    // What only the budget is against counts too.
    nearest: found.stores.flatMap((store, index) => nearestBuild(store, unbound?.front[0]?.builds[index]) ?? []),
    ways: waysToFit(project, found, unbound, staged),
  };
}

/** How far a build is from what is asked, as shares of money, room and rate together; for builds with as many faults. */
function missingShare(basis: SearchBasis, judged: JudgedBuild): number {
  const { budget, timeline } = basis;
  const { cost, usableBytes } = judged;
  const money = budget === null ? 0 : Math.max(0, cost - budget) / Math.max(1, budget);
  const room = Math.max(0, timeline.peakBytes / usableBytes - 1);
  return money + room + Math.max(0, -basis.check(judged).spare);
}

/** The build with the fewest reasons against it, and of those the closest; null where something can be built. */
function nearestBuild({ store, basis, result }: StoreResult, other: JudgedBuild | undefined): NearestBuild | null {
  if (result.feasible > 0) return null;
  const tempting = CONSTRAINTS.flatMap((constraint) => result.tempting[constraint] ?? []);
  const candidates = [...tempting, ...(other ? [other] : [])].map((build) => {
    const { judged, faults } = judgeBuild(basis, build);
    return { build, faults, missing: missingShare(basis, judged) };
  });
  const [nearest] = candidates.sort((a, b) => a.faults.length - b.faults.length || a.missing - b.missing);
  if (!nearest) return null;
  const explained = explainBuild(basis, nearest.build);
  return {
    store,
    build: nearest.build,
    name: explained.name,
    cost: explained.cost,
    reasons: nearest.faults.map((fault) => reasonText(fault, basis, nearest.build, explained)),
    proof: proofOf(basis, nearest.build),
  };
}

/** “Nearest: 2 × Shuttle, mirror, Dock for 1,060 EUR. It is full on day 31 of 60, 3.2 TB short; it costs …” */
export function nearestText(
  { store, name, cost, reasons, proof }: NearestBuild,
  currency: string,
  isOnly: boolean,
): string {
  const where = isOnly ? 'Nearest' : `${STORE_WORDS[store]}, nearest`;
  const tell = proof === null ? '' : ` What would tell: ${proof}`;
  return `${where}: ${name} for ${moneyText(cost, currency)}. It ${reasons.join('; it ')}.${tell}`;
}

function reasonText(fault: Constraint, basis: SearchBasis, build: Build, explained: ExplainedBuild): string {
  const { sizing, timeline, budget } = basis;
  const { policy, currency, units, startsOn } = sizing;
  const money = (amount: number) => moneyText(amount, currency);
  switch (fault) {
    case 'redundancy':
      return `survives ${explained.mayFail === 0 ? 'no failed drive' : `${explained.mayFail} failed`}, and ${policy.survives} may fail`;
    case 'slots':
      return `takes ${stackSize(build) + build.spares} slots, more than there are`;
    case 'budget':
      return `costs ${money(explained.cost)}, ${money(explained.cost - budget!)} more than may be spent on it`;
    case 'capacity':
      return `is full on ${dayText(explained.fullOnDay ?? timeline.peakDay, startsOn)} of ${sizing.days}: ${bytesText(timeline.peakBytes - explained.usableBytes, 'picture', units)} are missing on the fullest day`;
    case 'loudness':
      return `is ${formatNumber(explained.decibels!)} dB(A) loud, and ${formatNumber(policy.mostDecibels!)} are allowed`;
    case 'endurance':
      return `is worn out after ${formatNumber(explained.enduranceYears!)} years, and has to last ${formatNumber(policy.leastYears!)}`;
    case 'writing':
    case 'reading':
    case 'degraded':
      return rateReason(fault, basis, build, explained);
    default:
      return constraintWords(fault, basis, policy);
  }
}

/** The demand that misses most of what it needs with its headroom. */
function worstOf(basis: SearchBasis, build: Build): ComposedVerdict | undefined {
  return basis
    .verdicts(build)
    .reduce<ComposedVerdict | undefined>(
      (worst, one) => (worst === undefined || one.spare < worst.spare ? one : worst),
      undefined,
    );
}

function rateReason(fault: Constraint, basis: SearchBasis, build: Build, explained: ExplainedBuild): string {
  const { policy } = basis.sizing;
  if (explained.copies !== null) {
    const { seconds } = copiedDay(explained.copies, null);
    const isLate = seconds * (1 + policy.headroomShare) > policy.copySeconds;
    if (isLate) {
      return `copies a day in ${formatDuration(seconds)}, and with ${formatShare(policy.headroomShare)} headroom it has ${formatDuration(policy.copySeconds / (1 + policy.headroomShare))}`;
    }
  }
  const worst = fault === 'degraded' ? undefined : worstOf(basis, build);
  if (worst === undefined || worst.spare >= 0) return constraintWords(fault, basis, policy);
  const asked = worst.demand.bytesPerSecond * (1 + policy.headroomShare);
  const act = worst.demand.direction === 'write' ? 'recording' : 'playing';
  const carried = asked * (1 + worst.spare);
  return `carries ${rateText(carried)} of the ${rateText(asked)} that ${act} needs with ${formatShare(policy.headroomShare)} headroom`;
}

function proofOf(basis: SearchBasis, build: Build): string | null {
  const open = basis
    .verdicts(build)
    .find(({ verdict, spare }) => spare >= 0 && verdict.verdict === 'not-proven' && verdict.wouldProve);
  return open?.verdict.wouldProve ? provingWords(open.verdict.wouldProve) : null;
}

/** A plan changed in one respect, and how it is said once it is known what can be built then. */
interface Change {
  then: () => ProjectResult | null;
  text: (found: ProjectResult) => string;
}

const MOST_WAYS = 6;

/** @param unbound what can be built without a budget; null where there is none */
function waysToFit(
  project: Sizing,
  found: ProjectResult,
  unbound: ProjectResult | null,
  staged: StagedAnswer | null,
): WayToFit[] {
  const ways = changesOf(project, found, unbound).flatMap(({ then: search, text }): WayToFit[] => {
    const then = search();
    const [cheapest] = then?.front ?? [];
    if (!then || !cheapest) return [];
    const builds = cheapest.builds.map((build, index) => buildName(then.stores[index]!.basis.sizing, build));
    const price = moneyText(cheapest.cost, project.currency);
    return [{ text: `${text(then)}: ${builds.join('; and ')} for ${price}.`, cost: cheapest.cost }];
  });
  return [...ways, ...inStages(project, staged)].sort((a, b) => a.cost - b.cost).slice(0, MOST_WAYS);
}

/** Bought by and by it may be within a budget that all at once is not. */
function inStages(project: Sizing, staged: StagedAnswer | null): WayToFit[] {
  if (!staged?.isWithinBudget) return [];
  const { cost } = staged.buying;
  return [{ text: `Bought in stages, as below: ${moneyText(cost, project.currency)}.`, cost }];
}

const withPolicy = (project: Sizing, policy: Partial<SizingPolicy>): Sizing => ({
  ...project,
  policy: { ...project.policy, ...policy },
});

function changesOf(project: Sizing, { stores }: ProjectResult, unbound: ProjectResult | null): Change[] {
  const { policy, currency, enclosures, connections } = project;
  const isFull = stores.some(isTooSmall);
  const areCopiesOpen = stores.some(({ store, result }) => store !== 'working' && result.feasible === 0);
  const changed = (to: Partial<Sizing>, text: string): Change => ({
    then: () => searchProject({ ...project, ...to }),
    text: () => text,
  });
  /** A part of the policy, where it asks for anything. */
  const policyTo = (asks: boolean, to: Partial<SizingPolicy>, text: string): Change[] =>
    asks ? [changed(withPolicy(project, to), text)] : [];
  return [
    ...(unbound === null ? [] : [{ then: () => unbound, text: budgetText }]),
    ...policyTo(
      isFull && policy.fillLimit < 1,
      { fillLimit: 1 },
      `Filled to the last byte instead of ${formatShare(policy.fillLimit)}`,
    ),
    ...policyTo(
      isFull && policy.growthShare > 0,
      { growthShare: 0 },
      `Without the growth reserve of ${formatShare(policy.growthShare)}`,
    ),
    ...(isFull ? keptLess(project, stores) : []),
    ...(policy.mostDrives < MOST_DRIVES
      ? [
          changed(
            {
              ...withPolicy(project, { mostDrives: MOST_DRIVES }),
              enclosures: enclosures.map((one) => ({ ...one, most: MOST_OF_A_BOX })),
            },
            `With up to ${MOST_DRIVES} drives, in as many enclosures as they take`,
          ),
        ]
      : []),
    ...policyTo(
      policy.headroomShare > 0,
      { headroomShare: 0 },
      `Without the ${formatShare(policy.headroomShare)} of headroom`,
    ),
    ...(connections.every(({ hops }) => hops.length > 0)
      ? [
          changed(
            { connections: connections.map((one) => ({ ...one, hops: [] })) },
            'Over a link that holds no drive back, at its present price',
          ),
        ]
      : []),
    ...policyTo(policy.survives > 0, { survives: 0 }, 'Where no drive has to be allowed to fail'),
    ...policyTo(policy.copySurvives > 0, { copySurvives: 0 }, 'Where no drive of a copy has to be allowed to fail'),
    ...policyTo(policy.leastSpares > 0, { leastSpares: 0 }, 'Without a hot spare'),
    ...policyTo(
      policy.needsProof,
      { needsProof: false },
      'Where what is not proven counts by the floors that were seen',
    ),
    ...policyTo(policy.mostDecibels !== null, { mostDecibels: null }, 'However loud it is'),
    ...policyTo(policy.leastYears !== null, { leastYears: null }, 'However long it lasts'),
    ...(areCopiesOpen ? copiedSlower(project) : []),
  ];

  function budgetText({ front }: ProjectResult): string {
    const { cost } = front[0]!;
    return `With a budget of ${moneyText(cost, currency)}, ${formatNumber(cost - policy.budget!, 'full')} more`;
  }
}

/** Whether nothing can be built for a store, and room has to do with it. */
const isTooSmall = ({ result }: StoreResult): boolean =>
  result.feasible === 0 && result.tempting.capacity !== undefined;

const DAY_SECONDS = 86_400;

/** A day for a day’s copies, and what that has to be then; how long they may take is an assumption of the plan. */
function copiedSlower(project: Sizing): Change[] {
  const { copySeconds, headroomShare } = project.policy;
  if (copySeconds >= DAY_SECONDS) return [];
  return [
    {
      then: () => searchProject(withPolicy(project, { copySeconds: DAY_SECONDS })),
      text({ stores, front }) {
        const needed = stores.map(({ store, basis }, index) => {
          const copies = store === 'working' ? null : basis.copies(front[0]!.builds[index]!);
          return copies === null ? 0 : copiedDay(copies, null).seconds * (1 + headroomShare);
        });
        return `With ${formatDuration(Math.max(...needed))} for a day’s copies instead of ${formatDuration(copySeconds)}`;
      },
    },
  ];
}

/** The most days for which the material that takes up most can be kept, where keeping it a shorter time is enough. */
function keptLess(project: Sizing, stores: readonly StoreResult[]): Change[] {
  const full = stores.find(isTooSmall);
  if (full?.store !== 'working') return [];
  const { peakDay } = full.basis.timeline;
  const stored = project.materials.map((one) => storedBytes(one, peakDay));
  const largest = stored.indexOf(Math.max(...stored));
  const { name, fromDay, keepDays } = project.materials[largest]!;
  const search = (days: number) =>
    searchProject({
      ...project,
      materials: project.materials.map((one, at) => (at === largest ? { ...one, keepDays: days } : one)),
    });
  const fits = (days: number) => (search(days)?.front.length ?? 0) > 0;
  let [fitting, tooLong] = [1, keepDays ?? project.days - fromDay];
  // What is deleted on the day it comes was not kept at all.
  if (tooLong <= 1 || !fits(1)) return [];
  while (tooLong - fitting > 1) {
    const middle = (fitting + tooLong) >> 1;
    if (fits(middle)) fitting = middle;
    else tooLong = middle;
  }
  const now = keepDays === null ? 'to the end' : `${keepDays} days`;
  return [{ then: () => search(fitting), text: () => `With “${name}” kept ${fitting} days instead of ${now}` }];
}
