import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { bindingHop, type Hop } from '#core/2-trade/links/connection.ts';
import type { Build, Stack } from '#core/5-answers/sizing/builds.ts';
import { kindsOf, stackSize } from '#core/5-answers/sizing/builds.ts';
import {
  composedSupply,
  judgeComposed,
  ratedDemands,
  supplyOfDrive,
  type ComposedVerdict,
  type InStepEachWay,
} from '#core/5-answers/sizing/composed.ts';
import { copiedDay, copyTime, type CopyTime } from '#core/5-answers/sizing/copy-time.ts';
import { thereOn } from '#core/5-answers/sizing/drive-choice.ts';
import { attached, layoutById, type Layout } from '#core/5-answers/sizing/layouts.ts';
import { fillTimeline, materialsOn, writtenPerDay, type FillTimeline } from '#core/5-answers/sizing/material.ts';
import { isShare, type Sizing } from '#core/5-answers/sizing/project.ts';
import { COPY_STORES, type CopyStoreId, type StoreId } from '#core/5-answers/sizing/stores.ts';
import { supplyBehind } from '#core/4-runs/supply/behind.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';

/** Whether a build is quick enough, and by how much; a share of what is asked for with its headroom. */
export interface RateCheck {
  constraint: 'writing' | 'reading' | null;
  spare: number;
}

/** What has to be copied to a store on the day on which most has to. */
export interface DayToCopy {
  store: CopyStoreId;
  bytes: number;
}

/** What the storage of one store is searched with: looked up once, asked a million times. */
export interface SearchBasis {
  store: StoreId;
  /** The project as this store sees it: its own material, its own drives that may fail. */
  sizing: Sizing;
  timeline: FillTimeline;
  /** What may be spent on this store; null for any. */
  budget: number | null;
  /** What one drive of each kind of a stack does in its slot. */
  members(build: Build): { supply: Supply; count: number }[];
  /** What drives of a layout behind slots and a link do together. @param share of the rate, with a drive gone */
  composed(build: Build, share?: number, directions?: readonly Direction[]): Supply;
  /** Verdicts on what is recorded and played; empty for copies. */
  verdicts(build: Build, share?: number): ComposedVerdict[];
  /** How long a day's copies take on the day on which most comes; null where nothing is copied there, or no rate known. */
  copies(build: Build, share?: number): CopyTime | null;
  /** What goes from here to other stores on the day on which most does; of working storage only. */
  readonly copiedFrom: readonly DayToCopy[];
  check(build: Build, share?: number): RateCheck;
}

/** What drives do in slots, kept: what is worked out of it serves the next search too. */
const inSlots = new WeakMap<Supply, Map<number, Supply>>();

function behindSlot(supply: Supply, slot: Hop): Supply {
  const known = inSlots.get(supply) ?? new Map<number, Supply>();
  inSlots.set(supply, known);
  const found = known.get(slot.ceilingBytesPerSecond) ?? supplyBehind(supply, { hops: [slot] });
  known.set(slot.ceilingBytesPerSecond, found);
  return found;
}

const ceilingOf = (sizing: Sizing, connection: number): number =>
  bindingHop({ hops: sizing.connections[connection]!.hops })?.ceilingBytesPerSecond ?? Infinity;

const slotOf = (sizing: Sizing, enclosure: number): number =>
  sizing.enclosures[enclosure]!.slot?.ceilingBytesPerSecond ?? Infinity;

/** What so many drives in a layout do each way, with all of them or with a share of the rate left. */
export function togetherIn(layout: Layout, drives: number, share = 1): InStepEachWay {
  const dataDrives = attached(layout, layout.data(drives));
  return {
    write: { dataDrives: dataDrives * share, waitedFor: attached(layout, drives) },
    // One stream is read from the drives that hold its data; copies and parity are left alone.
    read: { dataDrives: dataDrives * share, waitedFor: dataDrives },
  };
}

/**
 * The project as one of its stores sees it: its own material, and the drives that are there for it. Working storage is
 * one volume; copies may lie on separate drives.
 */
function storeSizing(project: Sizing, store: StoreId): Sizing {
  const { policy } = project;
  if (store === 'working') {
    return { ...project, policy: { ...policy, layouts: policy.layouts.filter((id) => id !== 'separate') } };
  }
  return {
    ...project,
    materials: materialsOn(store, project.materials),
    drives: project.drives.map((drive) => ({ ...drive, there: thereOn(store, drive) })),
    workload: null,
    policy: { ...policy, survives: policy.copySurvives },
  };
}

function daysToCopy({ materials, days, policy }: Sizing): DayToCopy[] {
  return COPY_STORES.map((store) => ({
    store,
    bytes: Math.max(...writtenPerDay(materialsOn(store, materials), days, policy.growthShare)),
  })).filter(({ bytes }) => bytes > 0);
}

/** @param budget what may be spent on this store, where that is not what may be spent on the whole project */
export function searchBasis(
  project: Sizing,
  store: StoreId = 'working',
  budget: number | null = project.policy.budget,
): SearchBasis {
  const sizing = storeSizing(project, store);
  const { policy, days } = sizing;
  const timeline = fillTimeline(sizing.materials, days, policy.growthShare);
  // Writing is reported first, and what asks for most fails first.
  const demands = ratedDemands(sizing.workload).sort(
    (a, b) => DIRECTIONS.indexOf(a.direction) - DIRECTIONS.indexOf(b.direction) || b.bytesPerSecond - a.bytesPerSecond,
  );
  const supplies = sizing.drives.map(supplyOfDrive);
  const known = new Map<string, RateCheck>();

  const supplyInSlot = (drive: number, enclosure: number): Supply => {
    const { slot } = sizing.enclosures[enclosure]!;
    return slot === null || isShare(sizing.drives[drive]!) ? supplies[drive]! : behindSlot(supplies[drive]!, slot);
  };

  const basis: SearchBasis = {
    store,
    sizing,
    timeline,
    budget,
    copiedFrom: store === 'working' ? daysToCopy(project) : [],
    members({ drive, count, other, otherCount, enclosure }) {
      const first = { supply: supplyInSlot(drive, enclosure), count };
      return other === null ? [first] : [first, { supply: supplyInSlot(other, enclosure), count: otherCount }];
    },
    composed(build, share = 1, directions = DIRECTIONS) {
      const layout = layoutById(build.layout);
      const together = togetherIn(layout, stackSize(build), share);
      // A drive by itself is in no layout that could take something.
      const efficiency = layout.isTogether ? policy.efficiency : 1;
      return composedSupply(
        basis.members(build),
        together,
        efficiency,
        ceilingOf(sizing, build.connection),
        directions,
      );
    },
    verdicts(build, share) {
      return demands.length === 0 ? [] : judgeComposed(basis.composed(build, share), demands, policy);
    },
    copies(build, share) {
      if (store === 'working' || timeline.mostPerDayBytes === 0) return null;
      const directions = policy.copyVerified ? DIRECTIONS : (['write'] as const);
      return copyTime(basis.composed(build, share, directions), timeline.mostPerDayBytes, policy.copyVerified);
    },
    check(build, share = 1) {
      if (demands.length === 0 && store === 'working') return FREE;
      const { drive, count, other, otherCount, layout, enclosure, connection } = build;
      const behind = `${slotOf(sizing, enclosure)} ${ceilingOf(sizing, connection)}`;
      const key = `${drive} ${count} ${other} ${otherCount} ${layout} ${share} ${behind}`;
      const found = known.get(key) ?? (share > 0 ? checkOf(basis, build, share, demands) : TOO_SLOW);
      known.set(key, found);
      return found;
    },
  };
  return basis;
}

const FREE: RateCheck = { constraint: null, spare: Infinity };
const TOO_SLOW: RateCheck = { constraint: 'writing', spare: -1 };

function checkOf(basis: SearchBasis, build: Build, share: number, demands: readonly Demand[]): RateCheck {
  const { headroomShare, needsProof, copySeconds } = basis.sizing.policy;
  if (demands.length === 0) {
    if (basis.timeline.mostPerDayBytes === 0) return FREE;
    const copies = basis.copies(build, share);
    const seconds = copies && copiedDay(copies, null).seconds;
    const spare = seconds === null ? -1 : copySeconds / (seconds * (1 + headroomShare)) - 1;
    const isKnown = copies !== null && (copies.isProven || !needsProof);
    return { constraint: spare >= 0 && isKnown ? null : 'writing', spare };
  }
  let spare = Infinity;
  const directions = [...new Set(demands.map(({ direction }) => direction))];
  const composed = basis.composed(build, share, directions);
  for (const demand of demands) {
    const [one] = judgeComposed(composed, [demand], basis.sizing.policy, true) as [ComposedVerdict];
    const { verdict, reason, isPromise } = one.verdict;
    spare = Math.min(spare, one.spare);
    // A floor believed in carries what was not measured long enough; slow moments that were seen it does not.
    const isOpen = verdict === 'not-proven' && reason !== 'worst-moment';
    const holds = (verdict === 'holds' && !(needsProof && isPromise)) || (!needsProof && isOpen && one.floorCarries);
    if (!holds) return { constraint: demand.direction === 'write' ? 'writing' : 'reading', spare };
  }
  return { constraint: null, spare };
}

/** Least rated drive of a stack, where all have what is asked for; null where one has not. */
export function leastOf(
  sizing: Sizing,
  stack: Stack,
  of: (drive: Sizing['drives'][number]) => number | null,
): number | null {
  const values = kindsOf(sizing.drives, stack).map(({ drive }) => of(drive));
  return values.every((value) => value !== null) ? Math.min(...values) : null;
}
