import { stackSize, type Build } from '#core/5-answers/sizing/builds.ts';
import { dayText } from '#core/5-answers/sizing/calendar.ts';
import { copiedDay } from '#core/5-answers/sizing/copy-time.ts';
import { buildName, constraintWords, explainBuild, type ExplainedBuild } from '#core/5-answers/sizing/explain.ts';
import { MOST_OF_A_BOX } from '#core/5-answers/sizing/parts.ts';
import { materialsOn, storedBytes } from '#core/5-answers/sizing/material.ts';
import { MOST_DRIVES, type Sizing, type SizingPolicy } from '#core/5-answers/sizing/project.ts';
import { searchProject, type ProjectResult, type StoreResult } from '#core/5-answers/sizing/project-search.ts';
import { CONSTRAINTS, faultsOf, judgeBuild, type Constraint, type JudgedBuild } from '#core/5-answers/sizing/search.ts';
import type { ComposedVerdict } from '#core/5-answers/sizing/composed.ts';
import type { SearchBasis } from '#core/5-answers/sizing/search-basis.ts';
import { STORE_WORDS, type StoreId } from '#core/5-answers/sizing/stores.ts';
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

/** How far a build is from what is asked, as shares of money, room and rate together; for builds with as many faults. */
function missingShare(basis: SearchBasis, build: Build): number {
  const { judged } = judgeBuild(basis, build);
  const { budget, timeline } = basis;
  const money = budget === null ? 0 : Math.max(0, judged.cost - budget) / Math.max(1, budget);
  const room = Math.max(0, timeline.peakBytes / judged.usableBytes - 1);
  return money + room + Math.max(0, -basis.check(build).spare);
}

/** Of each store that nothing can be built for what came nearest; with a budget, what only that is against counts too. */
export function nearestBuilds(project: Sizing, { stores }: ProjectResult): NearestBuild[] {
  const isOpen = stores.some(({ result }) => result.feasible === 0);
  const unbound =
    isOpen && project.policy.budget !== null ? searchProject(withPolicy(project, { budget: null })) : null;
  return stores.flatMap((store, index) => {
    const affordable = unbound?.front[0]?.builds[index];
    return nearestBuild(store, affordable ? [affordable] : []) ?? [];
  });
}

/**
 * The build with the fewest reasons against it, and of those the closest; null where something can be built.
 * @param others that are looked at beside the most tempting ones
 */
export function nearestBuild(
  { store, basis, result }: StoreResult,
  others: readonly JudgedBuild[] = [],
): NearestBuild | null {
  if (result.feasible > 0) return null;
  const candidates = [...CONSTRAINTS.flatMap((constraint) => result.tempting[constraint] ?? []), ...others];
  const tempting = candidates.map((build) => ({
    build,
    faults: faultsOf(basis, build),
    missing: missingShare(basis, build),
  }));
  const [nearest] = tempting.sort((a, b) => a.faults.length - b.faults.length || a.missing - b.missing);
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
  const price = `${formatNumber(cost, 'full')} ${currency}`.trim();
  const tell = proof === null ? '' : ` What would tell: ${proof}`;
  return `${where}: ${name} for ${price}. It ${reasons.join('; it ')}.${tell}`;
}

function reasonText(fault: Constraint, basis: SearchBasis, build: Build, explained: ExplainedBuild): string {
  const { sizing, timeline, budget } = basis;
  const { policy, currency, units, startsOn } = sizing;
  const money = (amount: number) => `${formatNumber(amount, 'full')} ${currency}`.trim();
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
  sizing: Sizing;
  text: (found: ProjectResult) => string;
}

const MOST_WAYS = 6;

/**
 * Changes each of which by itself would let something be built, cheapest first: money, room, days to keep, drives, links,
 * headroom, what has to survive, times allowed. Every one is searched, so that what is said of it is so.
 * @param found of the plan as it is; empty where something can be built
 */
export function waysToFit(project: Sizing, found: ProjectResult): WayToFit[] {
  if (found.front.length > 0) return [];
  const ways: WayToFit[] = [];
  for (const { sizing, text } of changesOf(project, found)) {
    const then = searchProject(sizing);
    const [cheapest] = then?.front ?? [];
    if (!then || !cheapest) continue;
    const builds = cheapest.builds
      .map((build, index) => buildName(then.stores[index]!.basis.sizing, build))
      .join('; and ');
    const price = `${formatNumber(cheapest.cost, 'full')} ${project.currency}`.trim();
    ways.push({ text: `${text(then)}: ${builds} for ${price}.`, cost: cheapest.cost });
  }
  return ways.sort((a, b) => a.cost - b.cost).slice(0, MOST_WAYS);
}

const withPolicy = (project: Sizing, policy: Partial<SizingPolicy>): Sizing => ({
  ...project,
  policy: { ...project.policy, ...policy },
});

function changesOf(project: Sizing, { stores }: ProjectResult): Change[] {
  const { policy, currency } = project;
  const plainly = (change: Partial<SizingPolicy>, text: string): Change => ({
    sizing: withPolicy(project, change),
    text: () => text,
  });
  const changes: Change[] = [];
  if (policy.budget !== null) {
    changes.push({
      sizing: withPolicy(project, { budget: null }),
      text({ front }) {
        const { cost } = front[0]!;
        return `With a budget of ${formatNumber(cost, 'full')} ${currency}, ${formatNumber(cost - policy.budget!, 'full')} more`;
      },
    });
  }
  const isFull = stores.some(({ result }) => result.feasible === 0 && result.tempting.capacity !== undefined);
  if (isFull && policy.fillLimit < 1)
    changes.push(plainly({ fillLimit: 1 }, `Filled to the last byte instead of ${formatShare(policy.fillLimit)}`));
  if (isFull && policy.growthShare > 0)
    changes.push(plainly({ growthShare: 0 }, `Without the growth reserve of ${formatShare(policy.growthShare)}`));
  if (isFull) changes.push(...keptLess(project, stores));
  if (policy.mostDrives < MOST_DRIVES) {
    changes.push({
      sizing: {
        ...withPolicy(project, { mostDrives: MOST_DRIVES }),
        enclosures: project.enclosures.map((one) => ({ ...one, most: MOST_OF_A_BOX })),
      },
      text: () => `With up to ${MOST_DRIVES} drives, in as many enclosures as they take`,
    });
  }
  if (policy.headroomShare > 0)
    changes.push(plainly({ headroomShare: 0 }, `Without the ${formatShare(policy.headroomShare)} of headroom`));
  if (project.connections.every(({ hops }) => hops.length > 0)) {
    changes.push({
      sizing: { ...project, connections: project.connections.map((one) => ({ ...one, hops: [] })) },
      text: () => 'Over a link that holds no drive back, at its present price',
    });
  }
  if (policy.survives > 0) changes.push(plainly({ survives: 0 }, 'Where no drive has to be allowed to fail'));
  if (policy.copySurvives > 0)
    changes.push(plainly({ copySurvives: 0 }, 'Where no drive of a copy has to be allowed to fail'));
  if (policy.leastSpares > 0) changes.push(plainly({ leastSpares: 0 }, 'Without a hot spare'));
  if (policy.needsProof)
    changes.push(plainly({ needsProof: false }, 'Where what is not proven counts by the floors that were seen'));
  if (policy.mostDecibels !== null) changes.push(plainly({ mostDecibels: null }, 'However loud it is'));
  if (policy.leastYears !== null) changes.push(plainly({ leastYears: null }, 'However long it lasts'));
  if (stores.some(({ store, result }) => store !== 'working' && result.feasible === 0))
    changes.push(...copiedSlower(project));
  return changes;
}

const DAY_SECONDS = 86_400;

/** A day for a day’s copies, and what that has to be then; how long they may take is an assumption of the plan. */
function copiedSlower(project: Sizing): Change[] {
  const { copySeconds, headroomShare } = project.policy;
  if (copySeconds >= DAY_SECONDS) return [];
  return [
    {
      sizing: withPolicy(project, { copySeconds: DAY_SECONDS }),
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
  const full = stores.find(({ result }) => result.feasible === 0 && result.tempting.capacity !== undefined);
  if (full?.store !== 'working') return [];
  const { peakDay } = full.basis.timeline;
  const stored = project.materials.map((one) =>
    materialsOn('working', [one]).reduce((sum, there) => sum + storedBytes(there, peakDay), 0),
  );
  const largest = stored.indexOf(Math.max(...stored));
  const { name, fromDay, keepDays } = project.materials[largest]!;
  const withKept = (days: number): Sizing => ({
    ...project,
    materials: project.materials.map((one, at) => (at === largest ? { ...one, keepDays: days } : one)),
  });
  const fits = (days: number) => (searchProject(withKept(days))?.front.length ?? 0) > 0;
  let [fitting, tooLong] = [1, keepDays ?? project.days - fromDay];
  // What is deleted on the day it comes was not kept at all.
  if (tooLong <= 1 || !fits(1)) return [];
  while (tooLong - fitting > 1) {
    const middle = (fitting + tooLong) >> 1;
    if (fits(middle)) fitting = middle;
    else tooLong = middle;
  }
  const now = keepDays === null ? 'to the end' : `${keepDays} days`;
  return [{ sizing: withKept(fitting), text: () => `With “${name}” kept ${fitting} days instead of ${now}` }];
}
