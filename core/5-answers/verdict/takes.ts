import type { Direction } from '#core/1-ground/curves/direction.ts';
import { reachOf, type Evidence } from '#core/4-runs/supply/evidence.ts';
import { partedOf } from '#core/4-runs/supply/transfers.ts';
import type { LevelsAndLoss } from '#core/4-runs/trace/levels-and-loss.ts';
import { KNEE_SHARE } from '#core/4-runs/trace/reading.ts';
import { askedBytes, type Asked } from '#core/5-answers/verdict/asked.ts';
import { carriedOf, carries, type Carried } from '#core/5-answers/verdict/carried.ts';

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
    // A rest gives back what was measured of one, however long the drive had been without its cache.
    const used = back > 0 ? Math.min(fromBytes + takeBytes, usedUpAt(evidence)) : fromBytes + takeBytes;
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

/**
 * Bytes at which a drive is when its cache is used up: behind the knee, or behind a second fall where it fell again and
 * stayed there. What it does after that does not get any worse with its bytes.
 */
function usedUpAt(evidence: Evidence): number {
  const { kneeBytes } = evidence;
  const [{ levels }] = [...partedOf(evidence)].sort((one, other) => endOf(other) - endOf(one)) as [LevelsAndLoss];
  const last = levels.toBytes.at(-2) ?? 0;
  if (kneeBytes === null) return last;
  const behind = levels.toBytes.findIndex((end) => end > kneeBytes * JUST_BEHIND);
  const half = (kneeBytes + endOf({ levels })) / 2;
  const stayed = meanRate(levels, half, endOf({ levels }));
  return stayed < KNEE_SHARE * (levels.bytesPerSecond[behind] ?? 0) ? last : kneeBytes;
}

/** A knee lies a little before or behind the end of its level. */
const JUST_BEHIND = 1.02;

/** Bytes ÷ seconds of the levels between two numbers of bytes. */
function meanRate({ toBytes, bytesPerSecond }: LevelsAndLoss['levels'], from: number, to: number): number {
  const seconds = toBytes.reduce((sum, end, level) => {
    const bytes = Math.min(end, to) - Math.max(toBytes[level - 1] ?? 0, from);
    return sum + Math.max(0, bytes) / bytesPerSecond[level]!;
  }, 0);
  return seconds > 0 ? (to - from) / seconds : 0;
}

const endOf = ({ levels }: Pick<LevelsAndLoss, 'levels'>): number => levels.toBytes.at(-1)!;

/** Bytes of cache that a rest as long as the gap gives back at least; 0 when no rest so short was measured. */
function regainedIn(gapSeconds: number, { recovery }: Evidence): number {
  // Clocks of runs are not exact to the last digit.
  const enough = recovery.filter((point) => point.restSeconds <= gapSeconds * 1.001);
  return Math.max(0, ...enough.map((point) => point.regainedBytes));
}
