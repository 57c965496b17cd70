import { bindingHop, bothWaysCeiling, type Connection } from '#core/links/connection.ts';
import type { Evidence } from '#core/supply/evidence.ts';
import type { Supply } from '#core/supply/profile.ts';
import { partedOf } from '#core/supply/transfers.ts';
import { cappedLevels, lossBehindCeiling, type LevelsAndLoss } from '#core/trace/levels-and-loss.ts';
import { CORNER, type SupplyCurve } from '#core/trace/supply-curve.ts';

/** The same drive behind another connection: what it would do there, from what it did here. */

/** A drive that comes this near to its ceiling may do more behind a wider one. */
const AT_CEILING = 0.93;

/**
 * A curve that never goes faster than a ceiling; what it did more slowly stays as slow. It goes on as it did: what is
 * repeated f times slower takes at most f times as long behind the ceiling, so that is never too quick; only what would
 * be repeated quicker is left out.
 */
export function cappedCurve(curve: SupplyCurve, ceilingBytesPerSecond: number): SupplyCurve {
  const { kinds, bytes } = curve;
  const seconds = new Array<number>(kinds.length);
  let atSeconds = 0;
  let lastSeconds = 0;
  let lastBytes = 0;
  for (let corner = 0; corner < kinds.length; corner += 1) {
    const second = curve.seconds[corner]!;
    const moved = bytes[corner]!;
    if (kinds[corner] === CORNER.window) {
      // What is kept of a stretch beside its ends is a window of so many bytes in so many seconds.
      seconds[corner] = Math.max(second, moved / ceilingBytesPerSecond);
      continue;
    }
    const at = atSeconds + Math.max(second - lastSeconds, (moved - lastBytes) / ceilingBytesPerSecond);
    seconds[corner] = at;
    // Highs and lows of a stretch lie beside the trace: from the next point on they count for nothing.
    if (kinds[corner] !== CORNER.point) continue;
    atSeconds = at;
    lastSeconds = second;
    lastBytes = moved;
  }
  const { continuation } = curve;
  const goesOn = continuation !== null && continuation.slower.every((factor) => factor >= 1);
  return { kinds, seconds, bytes, continuation: goesOn ? continuation : null };
}

const peaks = new WeakMap<SupplyCurve, number>();

/** The quickest that a curve is from one of its corners to the next. */
function peakOf(curve: SupplyCurve): number {
  const known = peaks.get(curve);
  if (known !== undefined) return known;
  const { kinds, seconds, bytes } = curve;
  let peak = 0;
  let lastSeconds = 0;
  let lastBytes = 0;
  for (let corner = 0; corner < kinds.length; corner += 1) {
    const isWindow = kinds[corner] === CORNER.window;
    const moved = bytes[corner]! - (isWindow ? 0 : lastBytes);
    if (moved > 0) peak = Math.max(peak, moved / (seconds[corner]! - (isWindow ? 0 : lastSeconds)));
    if (kinds[corner] !== CORNER.point) continue;
    lastSeconds = seconds[corner]!;
    lastBytes = bytes[corner]!;
  }
  peaks.set(curve, peak);
  return peak;
}

/** A parted trace behind a ceiling: no level above it, and what is lost there. */
function partedBehind(parted: LevelsAndLoss, ceiling: number): LevelsAndLoss {
  const { levels, behind, fastestBytesPerSecond } = parted;
  return {
    levels: cappedLevels(levels, ceiling),
    ...lossBehindCeiling(parted, ceiling),
    swingFromBytes: parted.swingFromBytes,
    behind: behind.filter((one) => one.ceilingBytesPerSecond < ceiling),
    fastestBytesPerSecond: Math.min(fastestBytesPerSecond, ceiling),
  };
}

/** What a run would testify behind a ceiling: the same, where it never came so far. */
export function evidenceBehind(evidence: Evidence, ceilingBytesPerSecond: number): Evidence {
  if (evidence.curves.every((curve) => peakOf(curve) <= ceilingBytesPerSecond)) return evidence;
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
