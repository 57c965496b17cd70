import { takeBytesOf, type Demand } from '#core/demand/demand.ts';
import type { Evidence } from '#core/supply/evidence.ts';
import { bytesAt } from '#core/trace/progress.ts';
import { CORNER, cornersOf, longestCurve, type SupplyCurve } from '#core/trace/supply-curve.ts';
import { firstOverflow } from '#core/verdict/backlog.ts';

/** What waits in the buffer over a take: seconds of the take against bytes that wait. */
export interface BacklogCurve {
  seconds: number[];
  bytes: number[];
  /** Where the trace ends and its continuation begins, seconds; null when it is not needed. */
  continuedFromSeconds: number | null;
}

/**
 * The backlog of a demand along the curve of a run that is worst for it. Recording goes along it
 * by bytes, so a moment of the take is what came in by then ÷ the rate; playing by time, from the
 * beginning of the trace.
 */
export function backlogCurve(demand: Demand, evidence: Evidence): BacklogCurve {
  const curve = worstCurve(demand, evidence);
  const { kinds, seconds, bytes } = cornersOf(curve);
  const takeBytes = takeBytesOf(demand);
  const ownCorners = curve.kinds.length;
  const result: BacklogCurve = { seconds: [0], bytes: [0], continuedFromSeconds: null };
  const push = (at: number, waiting: number) => {
    // Points that lie closer than can be drawn are one, at the larger backlog.
    const last = result.seconds.length - 1;
    if (at - result.seconds[last]! < demand.takeSeconds / 2000 && last > 0) {
      result.bytes[last] = Math.max(result.bytes[last]!, waiting);
    } else {
      result.seconds.push(at);
      result.bytes.push(waiting);
    }
  };
  const isWriting = demand.direction === 'write';
  let lowest = 0;
  for (let corner = 1; corner < kinds.length; corner += 1) {
    const kind = kinds[corner]!;
    if (kind === CORNER.window || kind === CORNER.ahead) continue;
    if (isWriting && bytes[corner]! > takeBytes) break;
    const asked = demand.curve ? bytesAt(demand.curve, seconds[corner]!) : demand.bytesPerSecond * seconds[corner]!;
    const value = asked - bytes[corner]!;
    lowest = Math.min(lowest, value);
    const waiting = value - lowest;
    const at = isWriting && !demand.curve ? (bytes[corner]! + waiting) / demand.bytesPerSecond : seconds[corner]!;
    if (at > demand.takeSeconds) break;
    if (corner >= ownCorners) result.continuedFromSeconds ??= at;
    push(at, waiting);
  }
  return result;
}

/** Of several transfers the one that breaks soonest, else the longest. */
function worstCurve(demand: Demand, evidence: Evidence): SupplyCurve {
  const range = demand.direction === 'write' ? { toBytes: takeBytesOf(demand) } : {};
  const broken = evidence.curves
    .map((curve) => ({ curve, found: firstOverflow(curve, demand.bytesPerSecond, demand.bufferBytes, range) }))
    .filter(({ found }) => found !== null)
    .sort((a, b) => a.found!.bytes - b.found!.bytes)[0];
  return broken?.curve ?? longestCurve(evidence.curves);
}
