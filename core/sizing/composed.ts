import type { Demand } from '#core/demand/demand.ts';
import { demandsOf } from '#core/demand/items.ts';
import type { Workload } from '#core/demand/workload.ts';
import { bareEvidence } from '#core/sizing/typed-supply.ts';
import type { SizingDrive } from '#core/sizing/project.ts';
import { evidenceBehind } from '#core/supply/behind.ts';
import type { Evidence } from '#core/supply/evidence.ts';
import { supplyOf, type Supply } from '#core/supply/profile.ts';
import type { SupplyCurve } from '#core/trace/supply-curve.ts';
import { judge } from '#core/verdict/judge.ts';
import type { Verdict } from '#core/verdict/verdict.ts';

/** What several drives together do: the traces of one, as many times as wide, and no wider than their link. */

/** A curve of so many drives that each keep a share of their rate: more bytes, in more time. */
function widened(curve: SupplyCurve, drives: number, efficiency: number): SupplyCurve {
  return {
    kinds: [...curve.kinds],
    seconds: curve.seconds.map((second) => second / efficiency),
    bytes: curve.bytes.map((bytes) => bytes * drives),
    continuation: curve.continuation,
  };
}

/** The evidence of a layout out of that of one of its drives; its cache ends at as many times the bytes. */
export function composedEvidence(
  evidence: Evidence,
  dataDrives: number,
  efficiency: number,
  ceilingBytesPerSecond: number,
): Evidence {
  const rate = (bytesPerSecond: number) => bytesPerSecond * dataDrives * efficiency;
  const wide: Evidence = {
    ...evidence,
    curves: evidence.curves.map((curve) => widened(curve, dataDrives, efficiency)),
    provenBytes: evidence.provenBytes * dataDrives,
    continuedBytes: evidence.continuedBytes === null ? null : evidence.continuedBytes * dataDrives,
    levelEnds: evidence.levelEnds.map((bytes) => bytes * dataDrives),
    kneeBytes: evidence.kneeBytes === null ? null : evidence.kneeBytes * dataDrives,
    swingsFrom: evidence.swingsFrom && {
      bytes: evidence.swingsFrom.bytes * dataDrives,
      seconds: evidence.swingsFrom.seconds / efficiency,
    },
    recovery: evidence.recovery.map((point) => ({ ...point, regainedBytes: point.regainedBytes * dataDrives })),
    medianBytesPerSecond: rate(evidence.medianBytesPerSecond),
    span: {
      worstSecondBytesPerSecond: rate(evidence.span.worstSecondBytesPerSecond),
      floorBytesPerSecond: rate(evidence.span.floorBytesPerSecond),
      openingBytesPerSecond: rate(evidence.span.openingBytesPerSecond),
    },
  };
  return wide.span.openingBytesPerSecond <= ceilingBytesPerSecond ? wide : evidenceBehind(wide, ceilingBytesPerSecond);
}

/** What is known of one drive: its runs, or what was typed of it, which it is taken to hold for ever. */
export function supplyOfDrive(drive: SizingDrive): Supply {
  if (drive.profile) return supplyOf(drive.profile);
  const typed = [
    ['write', drive.writeBytesPerSecond],
    ['read', drive.readBytesPerSecond],
  ] as const;
  return {
    medium: 'flash',
    traces: typed.flatMap(([direction, rate]) => (rate === null ? [] : [bareEvidence(drive.id, direction, rate)])),
    paced: [],
    random: [],
    requests: { rungs: [], operationSeconds: null, ceilingBytesPerSecond: null },
  };
}

/** Everything a workload records and plays, in demands of a rate. */
export const ratedDemands = (workload: Workload | null): Demand[] =>
  workload === null ? [] : workload.items.flatMap((item) => (item.kind === 'load' ? [] : demandsOf(item)));

/** The verdict on each demand of a layout of drives behind a link, and whether the least floor that was seen would carry it. */
export function judgeComposed(
  supply: Supply,
  demands: readonly Demand[],
  dataDrives: { write: number; read: number },
  efficiency: number,
  ceilingBytesPerSecond: number,
  headroomShare: number,
): { demand: Demand; verdict: Verdict; floorCarries: boolean }[] {
  const composed: Supply = {
    ...supply,
    traces: supply.traces.map((trace) =>
      composedEvidence(trace, dataDrives[trace.direction], efficiency, ceilingBytesPerSecond),
    ),
    // Frames that one drive kept at their pace prove nothing of several.
    paced: [],
    random: supply.random.map((one) => ({ ...one, bytesPerSecond: one.bytesPerSecond * dataDrives[one.direction] })),
  };
  return demands.map((demand) => {
    const floors = composed.traces
      .filter((one) => one.direction === demand.direction)
      .map((one) => one.span.floorBytesPerSecond);
    const asked = demand.bytesPerSecond * (1 + headroomShare);
    return {
      demand,
      verdict: judge(demand, composed, { headroomShare }, null),
      floorCarries: floors.length > 0 && Math.min(...floors) >= asked,
    };
  });
}
