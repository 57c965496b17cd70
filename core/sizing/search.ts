import type { Demand } from '#core/demand/demand.ts';
import { bindingHop } from '#core/links/connection.ts';
import { judgeComposed, ratedDemands, supplyOfDrive } from '#core/sizing/composed.ts';
import { LAYOUTS, enduranceYears, layoutById, takes, usableBytes, type LayoutId } from '#core/sizing/layouts.ts';
import { fillTimeline, type FillTimeline } from '#core/sizing/material.ts';
import type { Sizing } from '#core/sizing/project.ts';
import type { Supply } from '#core/supply/profile.ts';

/** A storage set-up. Numbers are places in the lists of the project. */
export interface Build {
  drive: number;
  count: number;
  layout: LayoutId;
  spares: number;
  enclosure: number;
  connection: number;
}

/** Why a build is ruled out, in the order in which it is asked. */
export const CONSTRAINTS = [
  'redundancy',
  'slots',
  'budget',
  'capacity',
  'loudness',
  'endurance',
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
  /** A sample of feasible builds for a picture, spread over all of them. */
  sample: { cost: number; margin: number }[];
}

/** How many data drives a drive needs behind a ceiling for the workload to hold; Infinity when none are enough. */
interface Needs {
  write: number;
  read: number;
}

/** What a search works with: looked up once, asked a million times. */
export interface SearchBench {
  sizing: Sizing;
  timeline: FillTimeline;
  needsOf(drive: number, ceiling: number): Needs;
}

const MOST_DATA_DRIVES = 36;
const SAMPLE_BUILDS = 4000;

export function searchBench(sizing: Sizing): SearchBench {
  const { policy, days, materials } = sizing;
  const timeline = fillTimeline(materials, days, policy.growthShare);
  const demands = ratedDemands(sizing.workload);
  const supplies = sizing.drives.map(supplyOfDrive);
  const known = new Map<string, Needs>();
  return {
    sizing,
    timeline,
    needsOf(drive, ceiling) {
      const key = `${drive} ${ceiling}`;
      const found = known.get(key);
      if (found) return found;
      const needs = {
        write: leastDataDrives(supplies[drive]!, demands, 'write', policy, ceiling),
        read: leastDataDrives(supplies[drive]!, demands, 'read', policy, ceiling),
      };
      known.set(key, needs);
      return needs;
    },
  };
}

/** By halving: one data drive more never makes a verdict worse. */
function leastDataDrives(
  supply: Supply,
  all: readonly Demand[],
  direction: 'write' | 'read',
  { efficiency, headroomShare, needsProof }: Sizing['policy'],
  ceiling: number,
): number {
  const demands = all.filter((demand) => demand.direction === direction);
  const holds = (count: number): boolean =>
    judgeComposed(supply, demands, { write: count, read: count }, efficiency, ceiling, headroomShare).every(
      ({ verdict, floorCarries }) =>
        verdict.verdict === 'holds' || (!needsProof && verdict.verdict === 'not-proven' && floorCarries),
    );
  if (demands.length === 0) return 0;
  if (!holds(MOST_DATA_DRIVES)) return Infinity;
  let [tooFew, enough] = [0, MOST_DATA_DRIVES];
  while (enough - tooFew > 1) {
    const middle = Math.floor((tooFew + enough) / 2);
    if (holds(middle)) enough = middle;
    else tooFew = middle;
  }
  return enough;
}

const ceilingOf = (sizing: Sizing, connection: number): number =>
  bindingHop({ hops: sizing.connections[connection]!.hops })?.ceilingBytesPerSecond ?? Infinity;

/** Drives that stand together are louder: ten times as many by ten decibels. */
export const loudnessOf = (decibels: number, drives: number): number => decibels + 10 * Math.log10(drives);

/** Share of the fullest day that is left over. */
const spareRoom = (usable: number, peakBytes: number): number => (peakBytes > 0 ? usable / peakBytes - 1 : Infinity);

/** Share of the data drives that are needed that there is beside them, in the direction that has less. */
const spareRate = (data: number, { write, read }: Needs): number =>
  Math.min(write > 0 ? data / write - 1 : Infinity, read > 0 ? data / read - 1 : Infinity);

/** What a build costs, holds and has to spare. */
export function costAndRoom(bench: SearchBench, build: Build): JudgedBuild {
  const { sizing, timeline } = bench;
  const drive = sizing.drives[build.drive]!;
  const layout = layoutById(build.layout);
  const cost =
    (build.count + build.spares) * drive.price +
    sizing.enclosures[build.enclosure]!.price +
    sizing.connections[build.connection]!.price;
  const usable = usableBytes(layout, build.count, drive.capacityBytes, sizing.policy);
  const needs = bench.needsOf(build.drive, ceilingOf(sizing, build.connection));
  const margin = Math.min(spareRoom(usable, timeline.peakBytes), spareRate(layout.data(build.count), needs));
  return { ...build, cost, usableBytes: usable, margin };
}

/** The first constraint that rules a build out; null when it may be built. */
export function ruledOutBy(
  bench: SearchBench,
  build: Build,
  { cost, usableBytes: usable }: JudgedBuild,
): Constraint | null {
  const { sizing, timeline } = bench;
  const { policy } = sizing;
  const drive = sizing.drives[build.drive]!;
  const layout = layoutById(build.layout);
  if (layout.survives < policy.survives) return 'redundancy';
  const together = build.count + build.spares;
  if (together > sizing.enclosures[build.enclosure]!.slots) return 'slots';
  if (policy.budget !== null && cost > policy.budget) return 'budget';
  if (usable < timeline.peakBytes) return 'capacity';
  if (policy.mostDecibels !== null && drive.loudnessDecibels !== null) {
    if (loudnessOf(drive.loudnessDecibels, together) > policy.mostDecibels) return 'loudness';
  }
  if (policy.leastYears !== null) {
    // Redundancy is written too: raw ÷ data times what the project writes.
    const written = timeline.writtenBytesPerDay * (build.count / layout.data(build.count));
    const years = enduranceYears(written, build.count, policy.amplification, drive.enduranceBytes);
    if (years !== null && years < policy.leastYears) return 'endurance';
  }
  const needs = bench.needsOf(build.drive, ceilingOf(sizing, build.connection));
  const data = layout.data(build.count);
  if (data < needs.write) return 'writing';
  if (data < needs.read) return 'reading';
  if (policy.holdsDegraded && data * layout.degradedShare(build.count) < Math.max(needs.write, needs.read))
    return 'degraded';
  return null;
}

/** Every build of a project, in the order in which a search looks at them. */
export function* buildsOf({ drives, enclosures, connections, policy }: Sizing): Generator<Build> {
  const layouts = LAYOUTS.filter(({ id }) => policy.layouts.includes(id));
  for (let drive = 0; drive < drives.length; drive += 1) {
    for (const layout of layouts) {
      for (let count = 1; count <= policy.mostDrives; count += 1) {
        if (!takes(layout, count)) continue;
        for (let spares = 0; spares <= policy.mostSpares; spares += 1) {
          for (let enclosure = 0; enclosure < enclosures.length; enclosure += 1) {
            for (let connection = 0; connection < connections.length; connection += 1) {
              yield { drive, count, layout: layout.id, spares, enclosure, connection };
            }
          }
        }
      }
    }
  }
}

/** Builds that cost as little and have as much to spare as no other; cheapest first. */
export function efficientFront(builds: readonly JudgedBuild[]): JudgedBuild[] {
  const front: JudgedBuild[] = [];
  for (const build of [...builds].sort((a, b) => a.cost - b.cost || b.margin - a.margin)) {
    if (front.length === 0 || build.margin > front.at(-1)!.margin) front.push(build);
  }
  return front;
}

/** Too little room tempts by how little is missing, everything else by its price. */
function isMoreTempting(constraint: Constraint, build: JudgedBuild, known: JudgedBuild): boolean {
  if (constraint === 'capacity' && build.usableBytes !== known.usableBytes)
    return build.usableBytes > known.usableBytes;
  return build.cost < known.cost || (build.cost === known.cost && build.margin > known.margin);
}

/**
 * All builds, exactly: the cheapest, the efficient front, and why the others fail. What does not depend on
 * enclosure and connection is worked out once for all of them.
 * @param onProgress told with the share done, often enough to be shown; false ends the search
 * @param bench of the same project, where the builds found are explained afterwards: what was looked up is kept
 */
export function searchBuilds(
  sizing: Sizing,
  onProgress: (share: number) => boolean = () => true,
  bench = searchBench(sizing),
): SizingResult | null {
  const { drives, enclosures, connections, policy } = sizing;
  const { peakBytes, writtenBytesPerDay } = bench.timeline;
  const layouts = LAYOUTS.filter(({ id }) => policy.layouts.includes(id));
  const ceilings = connections.map((_, connection) => ceilingOf(sizing, connection));
  const ruledOut = Object.fromEntries(CONSTRAINTS.map((one) => [one, 0])) as Record<Constraint, number>;
  const tempting: SizingResult['tempting'] = {};
  let [builds, feasible] = [0, 0];
  let cheapest: JudgedBuild | null = null;
  let front: JudgedBuild[] = [];
  let waiting: JudgedBuild[] = [];
  const sample: SizingResult['sample'] = [];
  let every = 1;
  const settle = () => {
    front = efficientFront([...front, ...waiting]);
    waiting = [];
  };
  const tempt = (constraint: Constraint, build: JudgedBuild) => {
    const known = tempting[constraint];
    if (!known || isMoreTempting(constraint, build, known)) tempting[constraint] = build;
  };
  for (let d = 0; d < drives.length; d += 1) {
    const drive = drives[d]!;
    if (!onProgress(d / drives.length)) return null;
    const needs = ceilings.map((ceiling) => bench.needsOf(d, ceiling));
    for (const layout of layouts) {
      for (let count = 1; count <= policy.mostDrives; count += 1) {
        if (!takes(layout, count)) continue;
        const usable = usableBytes(layout, count, drive.capacityBytes, policy);
        const data = layout.data(count);
        const room = spareRoom(usable, peakBytes);
        const written = writtenBytesPerDay * (count / data);
        const years = enduranceYears(written, count, policy.amplification, drive.enduranceBytes);
        const tooFragile = layout.survives < policy.survives;
        const tooSmall = usable < peakBytes;
        const tooShort = policy.leastYears !== null && years !== null && years < policy.leastYears;
        const degradedData = data * layout.degradedShare(count);
        for (let spares = 0; spares <= policy.mostSpares; spares += 1) {
          const together = count + spares;
          const drivesCost = together * drive.price;
          const tooLoud =
            policy.mostDecibels !== null &&
            drive.loudnessDecibels !== null &&
            loudnessOf(drive.loudnessDecibels, together) > policy.mostDecibels;
          for (let e = 0; e < enclosures.length; e += 1) {
            const boxCost = drivesCost + enclosures[e]!.price;
            const noSlot = together > enclosures[e]!.slots;
            for (let c = 0; c < connections.length; c += 1) {
              builds += 1;
              const cost = boxCost + connections[c]!.price;
              const { write, read } = needs[c]!;
              // In the order of CONSTRAINTS: the first that fails is the one that is told.
              const constraint: Constraint | null = tooFragile
                ? 'redundancy'
                : noSlot
                  ? 'slots'
                  : policy.budget !== null && cost > policy.budget
                    ? 'budget'
                    : tooSmall
                      ? 'capacity'
                      : tooLoud
                        ? 'loudness'
                        : tooShort
                          ? 'endurance'
                          : data < write
                            ? 'writing'
                            : data < read
                              ? 'reading'
                              : policy.holdsDegraded && degradedData < Math.max(write, read)
                                ? 'degraded'
                                : null;
              if (constraint !== null) {
                ruledOut[constraint] += 1;
                const known = tempting[constraint];
                if (known && constraint !== 'capacity' && known.cost < cost) continue;
                if (known && constraint === 'capacity' && known.usableBytes > usable) continue;
              } else feasible += 1;
              const build: JudgedBuild = {
                drive: d,
                count,
                layout: layout.id,
                spares,
                enclosure: e,
                connection: c,
                cost,
                usableBytes: usable,
                margin: Math.min(room, spareRate(data, needs[c]!)),
              };
              if (constraint !== null) {
                tempt(constraint, build);
                continue;
              }
              if (
                cheapest === null ||
                cost < cheapest.cost ||
                (cost === cheapest.cost && build.margin > cheapest.margin)
              ) {
                cheapest = build;
              }
              if (feasible % every === 0) {
                sample.push({ cost, margin: build.margin });
                if (sample.length > SAMPLE_BUILDS) {
                  every *= 2;
                  for (let kept = 0; kept < sample.length / 2; kept += 1) sample[kept] = sample[2 * kept]!;
                  sample.length = Math.floor(sample.length / 2);
                }
              }
              waiting.push(build);
              if (waiting.length > 2000) settle();
            }
          }
        }
      }
    }
  }
  settle();
  onProgress(1);
  return { builds, feasible, ruledOut, tempting, cheapest, front, sample };
}
