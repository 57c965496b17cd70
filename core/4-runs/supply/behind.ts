import { bindingHop, bothWaysCeiling, type Connection } from '#core/2-trade/links/connection.ts';
import type { Evidence } from '#core/4-runs/supply/evidence.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { partedOf } from '#core/4-runs/supply/transfers.ts';
import { cappedLevels, lossBehindCeiling, type LevelsAndLoss } from '#core/4-runs/trace/levels-and-loss.ts';
import type { SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';

/** The same drive behind another connection: what it would do there, from what it did here. */

/** A drive that comes this near to its ceiling may do more behind a wider one. */
const AT_CEILING = 0.93;

/**
 * A curve that never goes faster than a ceiling; what it did more slowly stays as slow. It goes on as it did: what is
 * repeated f times slower takes at most f times as long behind the ceiling, so that is never too quick; only what would
 * be repeated quicker is left out.
 */
export function cappedCurve(curve: SupplyCurve, ceilingBytesPerSecond: number): SupplyCurve {
  const seconds = [curve.seconds[0] ?? 0];
  for (let point = 1; point < curve.seconds.length; point += 1) {
    const least = (curve.bytes[point]! - curve.bytes[point - 1]!) / ceilingBytesPerSecond;
    seconds.push(seconds[point - 1]! + Math.max(curve.seconds[point]! - curve.seconds[point - 1]!, least));
  }
  const { continuation } = curve;
  const goesOn = continuation !== null && continuation.slower.every((factor) => factor >= 1);
  return { seconds, bytes: curve.bytes, continuation: goesOn ? continuation : null };
}

/** A parted trace behind a ceiling: no level above it, and what is lost there. */
function partedBehind(parted: LevelsAndLoss, ceiling: number): LevelsAndLoss {
  const { levels, behind, fastestBytesPerSecond } = parted;
  return {
    withoutBursts: null,
    levels: cappedLevels(levels, ceiling),
    ...lossBehindCeiling(parted, ceiling),
    swingFromBytes: parted.swingFromBytes,
    behind: behind.filter((one) => one.ceilingBytesPerSecond < ceiling),
    fastestBytesPerSecond: Math.min(fastestBytesPerSecond, ceiling),
  };
}

/** The quickest that a trace was from one sample to the next, or in a second where that is not known. */
const quickestOf = ({ behind, fastestBytesPerSecond }: LevelsAndLoss): number =>
  behind.at(-1)?.ceilingBytesPerSecond ?? fastestBytesPerSecond;

/** What a run would testify behind a ceiling: the same, where it never came so far. */
export function evidenceBehind(evidence: Evidence, ceilingBytesPerSecond: number): Evidence {
  const known = keptBehind.get(evidence) ?? new Map<number, Evidence>();
  keptBehind.set(evidence, known);
  const found = known.get(ceilingBytesPerSecond) ?? putBehind(evidence, ceilingBytesPerSecond);
  if (known.size >= MOST_KEPT) known.clear();
  known.set(ceilingBytesPerSecond, found);
  return found;
}

/** Kept: what was judged of it is remembered with it. */
const keptBehind = new WeakMap<Evidence, Map<number, Evidence>>();
const MOST_KEPT = 100;

function putBehind(evidence: Evidence, ceilingBytesPerSecond: number): Evidence {
  if (partedOf(evidence).every((one) => quickestOf(one) <= ceilingBytesPerSecond)) return evidence;
  const { span, medianBytesPerSecond, continuedBytes, provenBytes } = evidence;
  const least = (rate: number) => Math.min(rate, ceilingBytesPerSecond);
  const curves = evidence.curves.map((curve) => cappedCurve(curve, ceilingBytesPerSecond));
  const goesOn = curves.every(({ continuation }, index) => continuation === evidence.curves[index]!.continuation);
  return {
    ...evidence,
    curves,
    parted: partedOf(evidence).map((one) => partedBehind(one, ceilingBytesPerSecond)),
    continuedBytes: continuedBytes === null || goesOn ? continuedBytes : provenBytes,
    medianBytesPerSecond: least(medianBytesPerSecond),
    span: {
      worstSecondBytesPerSecond: least(span.worstSecondBytesPerSecond),
      floorBytesPerSecond: least(span.floorBytesPerSecond),
      openingBytesPerSecond: least(span.openingBytesPerSecond),
    },
  };
}

/** What is known of a drive, as it would be behind a connection. */
export function supplyBehind(supply: Supply, connection: Connection): Supply {
  const ceiling = bindingHop(connection)?.ceilingBytesPerSecond;
  if (ceiling === undefined) return supply;
  return {
    ...supply,
    traces: supply.traces.map((trace) => evidenceBehind(trace, ceiling)),
    // Frames that were kept at their pace prove nothing of another link.
    paced: [],
    bothWaysBytesPerSecond: bothWaysCeiling(connection),
    requests: { ...supply.requests, ceilingBytesPerSecond: ceiling },
  };
}

/** Whether a rate is held back by the connection it was measured over, so that a wider one may give more. */
export function isHeldByLink(bytesPerSecond: number, connection: Connection): boolean {
  const hop = bindingHop(connection);
  return hop !== null && bytesPerSecond >= AT_CEILING * hop.ceilingBytesPerSecond;
}
