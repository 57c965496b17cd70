import type { Direction } from '#core/run/direction.ts';
import { reachOf, type Evidence } from '#core/supply/evidence.ts';
import { partedOf } from '#core/supply/transfers.ts';
import { askedBytes, type Asked } from '#core/verdict/asked.ts';
import { carriedOf, carries, type Carried } from '#core/verdict/carried.ts';

/** What is known of the takes after the first. */
export interface LaterTakes {
  /** The first take that is not known to hold, from 2; null when all do. */
  unknownFrom: number | null;
  /** What the worst of the known ones comes to; null where none is. */
  carried: Carried | null;
  /** The take that breaks for certain, which only happens where they follow each other without a gap. */
  breaksInTake: number | null;
  /** Whether the run was continued for one of them beyond its last byte. */
  continued: boolean;
}

/**
 * Takes after the first, where a drive goes by bytes: each begins as many bytes further as the one before wrote, less
 * what the rest between them was seen to give back, which adds up from rest to rest. A rest may always give back more.
 */
export function laterTakes(
  items: readonly Asked[],
  direction: Direction,
  evidence: Evidence,
  { takes, gapSeconds }: { takes: number; gapSeconds: number },
): LaterTakes {
  const takeBytes = askedBytes(items);
  const reach = reachOf(evidence);
  const back = gapSeconds > 0 ? regainedIn(gapSeconds, evidence) : 0;
  let worst: Carried | null = null;
  let continued = false;
  let fromBytes = 0;
  const known = (unknownFrom: number | null, breaksInTake: number | null = null): LaterTakes => ({
    unknownFrom,
    carried: worst,
    breaksInTake,
    continued,
  });
  for (let take = 2; take <= takes; take += 1) {
    // A rest on the last level gives back what was measured there, however long the drive had been on it.
    const used = back > 0 ? Math.min(fromBytes + takeBytes, lastLevelFrom(evidence)) : fromBytes + takeBytes;
    const next = Math.max(0, used - back);
    // It begins where the one before did, as will all after it.
    if (next === fromBytes && take > 2) break;
    fromBytes = next;
    if (fromBytes + takeBytes > reach * (1 + 1e-12)) return known(take);
    const isWorse: boolean = worst === null || !carries(items, direction, evidence, worst.timesCarried, fromBytes);
    if (isWorse) {
      worst = carriedOf(items, direction, evidence, { fromBytes });
      if (worst.timesCarried < 1) {
        return known(take, gapSeconds === 0 && worst.broken !== null ? take : null);
      }
    }
    continued ||= fromBytes + takeBytes > evidence.provenBytes;
  }
  return known(null);
}

/** Bytes at which the last level of a run begins: from there on it stays as it is. */
function lastLevelFrom(evidence: Evidence): number {
  const parted = partedOf(evidence);
  return Math.max(...parted.map(({ levels }) => levels.toBytes.at(-2) ?? 0));
}

/** Bytes of cache that a rest as long as the gap gives back at least; 0 when no rest so short was measured. */
function regainedIn(gapSeconds: number, { recovery }: Evidence): number {
  // Clocks of runs are not exact to the last digit.
  const enough = recovery.filter((point) => point.restSeconds <= gapSeconds * 1.001);
  return Math.max(0, ...enough.map((point) => point.regainedBytes));
}
