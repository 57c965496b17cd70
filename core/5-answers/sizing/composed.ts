import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import { secondsAt } from '#core/1-ground/curves/progress.ts';
import { demandsOf } from '#core/3-jobs/demand/items.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { memberPath, stripedPath, widenedCurve, type MemberPath } from '#core/5-answers/sizing/striped.ts';
import { bareEvidence } from '#core/4-runs/supply/bare-evidence.ts';
import type { SizingDrive } from '#core/5-answers/sizing/project.ts';
import { evidenceBehind } from '#core/4-runs/supply/behind.ts';
import { furthestReaching, reachOf, soundOf, type Evidence } from '#core/4-runs/supply/evidence.ts';
import { seeks, supplyOf, type Profile, type Supply } from '#core/4-runs/supply/profile.ts';
import { knownLevelsOf, partedOf } from '#core/4-runs/supply/transfers.ts';
import { levelsAndLossOf, widened, type LevelsAndLoss } from '#core/4-runs/trace/levels-and-loss.ts';
import type { Closeness } from '#core/4-runs/trace/lost-time.ts';
import { continued, longestCurve, type SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';
import { judge } from '#core/5-answers/verdict/judge.ts';
import type { Verdict } from '#core/5-answers/verdict/verdict.ts';

/** What several drives together do, out of the traces of each, and no more than their link. */

/** Drives that work in step in one direction. */
export interface InStep {
  /** Worth of data in all of them: what one moves is moved as often. */
  dataDrives: number;
  /** Drives that each stretch waits for. */
  waitedFor: number;
}

/** What a layout of so many drives does each way. */
export type InStepEachWay = Record<Direction, InStep>;

/** Drives of one kind in a build. */
export interface SupplyMembers {
  supply: Supply;
  count: number;
}

interface EvidenceMembers {
  evidence: Evidence;
  count: number;
}

const paths = new WeakMap<SupplyCurve, MemberPath>();

function pathOf(curve: SupplyCurve, evidence: Evidence): MemberPath {
  const known = paths.get(curve) ?? memberPath(curve, evidence);
  paths.set(curve, known);
  return known;
}

/** How much longer drives together take over a stretch of their own bytes than the slowest of them alone. */
function slowdown(
  members: readonly EvidenceMembers[],
  striped: { seconds: Float64Array; bytes: Float64Array },
): { all: number; last: number } {
  const end = striped.bytes.at(-1)!;
  const total = striped.seconds.at(-1)!;
  const ratio = (from: number, to: number): number => {
    const own = Math.max(
      ...members.map(({ evidence }) => {
        const path = pathOf(longestCurve(evidence.curves), evidence);
        return secondsAt(path, to) - secondsAt(path, from);
      }),
    );
    const took = secondsAt(striped, to) - secondsAt(striped, from);
    return own > 0 ? Math.max(1, took / own) : 1;
  };
  const lastFrom = Math.max(0, ...members[0]!.evidence.levelEnds.filter((level) => level < 0.98 * end));
  return { all: total > 0 ? ratio(0, end) : 1, last: ratio(lastFrom, end) };
}

/**
 * The evidence of drives that work in step, out of that of one of each kind; a cache ends at as many times the bytes.
 * Kinds go as far together as the one that was measured least, and prove what all of them prove.
 */
export function composedEvidence(
  members: readonly EvidenceMembers[],
  together: InStep,
  efficiency: number,
  ceilingBytesPerSecond: number,
): Evidence {
  const composed = unboundEvidence(members, together, efficiency);
  // Moments above the level at which it begins are no more than its noise, which a link evens out.
  return composed.span.openingBytesPerSecond <= ceilingBytesPerSecond
    ? composed
    : evidenceBehind(composed, ceilingBytesPerSecond);
}

/** What drives of one kind do without a link, kept: a search asks for it behind one link after the other. */
const unbound = new WeakMap<Evidence, Map<string, Evidence>>();

function unboundEvidence(members: readonly EvidenceMembers[], together: InStep, efficiency: number): Evidence {
  if (members.length > 1) return inStep(members, together, efficiency);
  const [{ evidence }] = members as [EvidenceMembers];
  const known = unbound.get(evidence) ?? new Map<string, Evidence>();
  unbound.set(evidence, known);
  const key = `${together.dataDrives} ${together.waitedFor} ${efficiency}`;
  const found = known.get(key) ?? inStep(members, together, efficiency);
  if (known.size >= MOST_KEPT) known.clear();
  known.set(key, found);
  return found;
}

const MOST_KEPT = 400;

function inStep(members: readonly EvidenceMembers[], { dataDrives, waitedFor }: InStep, efficiency: number): Evidence {
  const [{ evidence: first }] = members as [EvidenceMembers];
  const all = members.map(({ evidence }) => evidence);
  const isAlone = waitedFor <= 1 && members.length === 1;
  const counts = sharesOf(members, waitedFor);
  const others = all.slice(1).map((evidence, other) => ({
    path: pathOf(longestCurve(evidence.curves), evidence),
    count: counts[other + 1]!,
  }));
  const stripes = isAlone
    ? null
    : first.curves.map((curve) => stripedPath([{ path: pathOf(curve, first), count: counts[0]! }, ...others]));
  // Of several kinds each goes on in a way of its own: what was seen of them has to do.
  const goesOn = (curve: SupplyCurve) => (members.length > 1 ? null : pathOf(curve, first).goesOn);
  // Levels are read on the longest curve; the others are one piece.
  const striped = stripes?.[first.curves.indexOf(longestCurve(first.curves))];
  const slower = striped ? slowdown(members, striped) : { all: 1, last: 1 };
  const least = (of: (evidence: Evidence) => number) => Math.min(...all.map(of));
  const rate = (of: (evidence: Evidence) => number, by = 1) => (least(of) * dataDrives * efficiency) / by;
  const wide = (bytes: number) => bytes * dataDrives;
  // As far as one of them was seen, and as far as they were followed together.
  const followed = striped ? striped.bytes.at(-1)! : Infinity;
  const curves = first.curves.map((curve, index) =>
    stripes
      ? widenedCurve(stripes[index]!, goesOn(curve), dataDrives, efficiency)
      : widenedAlone(curve, dataDrives, efficiency),
  );
  const isForEver = !Number.isFinite(least(reachOf));
  const knees = all.flatMap(({ kneeBytes }) => kneeBytes ?? []);
  const swings = all.map(({ swingsFrom }) => swingsFrom).filter((one) => one !== null);
  const swing = swings.length > 0 ? swings.reduce((a, b) => (a.bytes <= b.bytes ? a : b)) : null;
  return {
    ...first,
    curves,
    // Together they lose time in other ways than one alone.
    parted: first.curves.map((_, index) =>
      widened(stripes ? partedStripe(stripes[index]!, members) : partedOf(first)[index]!, dataDrives, efficiency),
    ),
    provenBytes: wide(
      Math.min(
        followed,
        least(({ provenBytes }) => provenBytes),
      ),
    ),
    continuedBytes: isForEver ? null : Math.max(...curves.map((curve) => continued(curve).bytes.at(-1)!)),
    levelEnds: [...new Set(all.flatMap(({ levelEnds }) => levelEnds))].sort((a, b) => a - b).map(wide),
    kneeBytes: knees.length > 0 ? wide(Math.min(...knees)) : null,
    swingsFrom: swing && { bytes: wide(swing.bytes), seconds: swing.seconds / efficiency },
    recovery:
      members.length > 1
        ? []
        : first.recovery.map((point) => ({ ...point, regainedBytes: point.regainedBytes * dataDrives })),
    mayProveHolds: all.every(({ mayProveHolds }) => mayProveHolds),
    mayProveBreaks: all.every(({ mayProveBreaks }) => mayProveBreaks),
    ...(all.some(({ isPromise }) => isPromise) ? { isPromise: true as const } : {}),
    medianBytesPerSecond: rate(({ medianBytesPerSecond }) => medianBytesPerSecond, slower.all),
    span: {
      worstSecondBytesPerSecond: rate(({ span }) => span.worstSecondBytesPerSecond),
      floorBytesPerSecond: rate(({ span }) => span.floorBytesPerSecond, slower.last),
      openingBytesPerSecond: rate(({ span }) => span.openingBytesPerSecond),
    },
  };
}

const partedStripes = new WeakMap<Float64Array, LevelsAndLoss>();

/** A search asks for many: they are looked at less closely than a run, on the safe side. */
const STRIPES: Closeness = { growth: 1.25, mostMoments: 4000, mostPoints: 300 };

/** The path of a stripe parted into levels and lost time, before it is widened; kept, for links and layouts share it. */
function partedStripe(
  path: { seconds: Float64Array; bytes: Float64Array },
  members: readonly EvidenceMembers[],
): LevelsAndLoss {
  const known = partedStripes.get(path.bytes);
  if (known) return known;
  const [{ evidence }] = members as [EvidenceMembers];
  const levelEnds = [...new Set(members.flatMap((one) => one.evidence.levelEnds))].sort((a, b) => a - b);
  const progress = { seconds: [...path.seconds], bytes: [...path.bytes] };
  const parted = levelsAndLossOf(progress, { ...knownLevelsOf(evidence), levelEnds, swing: null }, [], STRIPES);
  partedStripes.set(path.bytes, parted);
  return parted;
}

/** Of the drives that are waited for, how many are of each kind; at least one of each. */
function sharesOf(members: readonly EvidenceMembers[], waitedFor: number): number[] {
  const total = members.reduce((sum, { count }) => sum + count, 0);
  return members.map(({ count }) => Math.max(1, Math.round((waitedFor * count) / total)));
}

/** The curve of one drive, corner by corner, as many times as wide. */
function widenedAlone(curve: SupplyCurve, dataDrives: number, efficiency: number): SupplyCurve {
  return {
    seconds: curve.seconds.map((second) => second / efficiency),
    bytes: curve.bytes.map((bytes) => bytes * dataDrives),
    continuation: curve.continuation,
  };
}

/** Kept, so that what was worked out for a drive serves the next search too. */
const supplies = new WeakMap<Profile, Supply>();

/** What is known of one drive: its runs, or what was typed of it, which it is taken to hold for ever. */
export function supplyOfDrive(
  drive: Pick<SizingDrive, 'id' | 'profile' | 'writeBytesPerSecond' | 'readBytesPerSecond'>,
): Supply {
  if (drive.profile) {
    const known = supplies.get(drive.profile) ?? supplyOf(drive.profile);
    supplies.set(drive.profile, known);
    return known;
  }
  const typed = [
    ['write', drive.writeBytesPerSecond],
    ['read', drive.readBytesPerSecond],
  ] as const;
  return {
    medium: 'flash',
    traces: typed.flatMap(([direction, rate]) => (rate === null ? [] : [bareEvidence(drive.id, direction, rate)])),
    paced: [],
    random: [],
    isPromise: true,
    bothWaysBytesPerSecond: null,
    requests: { rungs: [], operationSeconds: null, ceilingBytesPerSecond: null },
  };
}

/** Everything a workload records and plays, in demands of a rate. */
export const ratedDemands = (workload: Workload | null): Demand[] =>
  workload === null ? [] : workload.items.flatMap((item) => (item.kind === 'load' ? [] : demandsOf(item)));

/**
 * What is known of drives that work in step behind a link. Of several kinds every run of one is put beside the run of
 * the other that reaches furthest; several streams at once on heads that move stay unproven for them.
 * @param directions that are asked for; the others are left out
 */
export function composedSupply(
  members: readonly SupplyMembers[],
  eachWay: InStepEachWay,
  efficiency: number,
  ceilingBytesPerSecond: number,
  directions: readonly Direction[] = DIRECTIONS,
): Supply {
  const [{ supply: first }] = members as [SupplyMembers];
  const moving = members.find(({ supply }) => seeks(supply))?.supply;
  return {
    ...(moving ?? first),
    bothWaysBytesPerSecond: null,
    traces: directions.flatMap((direction) =>
      togetherTraces(members, direction).map((together) =>
        composedEvidence(together, eachWay[direction], efficiency, ceilingBytesPerSecond),
      ),
    ),
    // Frames that one drive kept at their pace prove nothing of several.
    paced: [],
    random:
      members.length > 1
        ? []
        : first.random.map((one) => ({
            ...one,
            bytesPerSecond: one.bytesPerSecond * eachWay[one.direction].dataDrives,
          })),
  };
}

function togetherTraces(members: readonly SupplyMembers[], direction: Direction): EvidenceMembers[][] {
  const each = members.map(({ supply, count }) => ({
    count,
    traces: supply.traces.filter((one) => one.direction === direction),
  }));
  if (each.some(({ traces }) => traces.length === 0)) return [];
  return each.flatMap(({ traces, count }, member) => {
    const others = each
      .filter((_, other) => other !== member)
      .map((one) => ({ evidence: furthestReaching(one.traces)!, count: one.count }));
    return traces.map((evidence) => [{ evidence, count }, ...others]);
  });
}

/** The verdict on a demand of drives together, and whether the least floor that was seen would carry it. */
export interface ComposedVerdict {
  demand: Demand;
  verdict: Verdict;
  floorCarries: boolean;
  /** Rate they are known to carry, or believed to by their floors, beyond what is asked with its headroom; a share. */
  spare: number;
}

/** The verdict on each demand of a layout of drives behind a link. */
export function judgeComposed(
  composed: Supply,
  demands: readonly Demand[],
  { headroomShare, needsProof }: { headroomShare: number; needsProof: boolean },
  isQuick = false,
): ComposedVerdict[] {
  return demands.map((demand) => {
    const floors = soundOf(composed.traces.filter((one) => one.direction === demand.direction)).map(
      (one) => one.span.floorBytesPerSecond,
    );
    const floor = floors.length > 0 ? Math.min(...floors) : 0;
    const asked = demand.bytesPerSecond * (1 + headroomShare);
    const verdict = judge(demand, composed, { headroomShare }, null, isQuick);
    const known = verdict.guaranteedBytesPerSecond ?? 0;
    const believed = verdict.verdict === 'not-proven' && !needsProof ? Math.max(floor, known) : known;
    return {
      demand,
      verdict,
      floorCarries: floor >= asked,
      spare: asked > 0 ? believed / asked - 1 : Infinity,
    };
  });
}
