import type { Demand } from '#core/demand/demand.ts';
import { reachOf, type Evidence } from '#core/supply/evidence.ts';
import { carriedFrom, takeBytesOf, type Carried } from '#core/verdict/carried.ts';

/** What is known of the takes after the first. */
export type LaterTakes =
  | { known: false }
  | {
      known: true;
      carried: Carried;
      /** The take that is worst off, from 2. */
      take: number;
      /** Whether the run was continued for it beyond its last byte. */
      continued: boolean;
    };

/**
 * Takes after the first. They are proven by a run as long as all of them, written without a gap;
 * or by what a rest no longer than the gap was seen to give back: then a take begins with that
 * much fast cache, or with what the take before had left, and lies that much before the knee.
 */
export function laterTakes(demand: Demand, evidence: Evidence): LaterTakes {
  const takeBytes = takeBytesOf(demand);
  const reach = reachOf(evidence);
  const all = takeBytes * demand.takes;
  if (all <= reach && demand.curve === null) {
    const carried = carriedFrom(demand, evidence, 0, all);
    if (carried.broken === null) return { known: true, carried, take: 2, continued: all > evidence.provenBytes };
  }
  const regained = regainedIn(demand.gapSeconds, evidence);
  const { kneeBytes } = evidence;
  if (regained === null || kneeBytes === null || demand.curve !== null) return { known: false };
  // The cache at the start of each take, never more than was seen.
  let cache = kneeBytes;
  let [least, take] = [kneeBytes, 2];
  for (let number = 2; number <= demand.takes; number += 1) {
    const next = Math.min(kneeBytes, Math.max(regained, cache - takeBytes));
    if (next < least) [least, take] = [next, number];
    if (next === cache) break;
    cache = next;
  }
  const from = kneeBytes - least;
  if (from + takeBytes > reach) return { known: false };
  return {
    known: true,
    carried: carriedFrom(demand, evidence, from, takeBytes),
    take,
    continued: from + takeBytes > evidence.provenBytes,
  };
}

/** Bytes of cache that a rest as long as the gap gives back at least; null when no rest so short was measured. */
function regainedIn(gapSeconds: number, { recovery }: Evidence): number | null {
  // Clocks of runs are not exact to the last digit.
  const enough = recovery.filter((point) => point.restSeconds <= gapSeconds * 1.001);
  return enough.length === 0 ? null : Math.max(...enough.map((point) => point.regainedBytes));
}
