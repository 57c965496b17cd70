import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { ProfileRun } from '#core/4-runs/supply/profile.ts';

/** How a drive changed between its first and its latest run of one recipe. */
export interface ChangeOverTime {
  /** ISO 8601, of the first of the two. */
  since: string;
  /** Rate with which it opens, of the latest ÷ first − 1. */
  openingShare: number;
  floorShare: number;
  /** Filling of the volume then and now, which alone can make a drive slower. */
  fillShares: readonly [number | null, number | null];
}

/** Runs closer together than this differ by heat, caches and chance, and not by age. */
const LEAST_APART_SECONDS = 86_400;

/**
 * Whether a drive is getting slower: its latest run in a direction against the first of the same recipe with the same
 * options, at least a day before, since only like can be held against like; runs in doubt say nothing. Null where
 * there are no two.
 * @param runs newest first, as in a profile
 */
export function changeOverTime(runs: readonly ProfileRun[], direction: Direction): ChangeOverTime | null {
  const own = runs.flatMap((run) => {
    const trace = run.traces.find((one) => one.direction === direction);
    return trace?.mayProveHolds && trace.mayProveBreaks ? [{ run, span: trace.span }] : [];
  });
  const isAlike = (one: ProfileRun, other: ProfileRun) =>
    one.recipe === other.recipe && (one.options ?? null) !== null && one.options === other.options;
  for (const latest of own) {
    const first = own.findLast(({ run }) => isAlike(run, latest.run));
    if (!first || first === latest) continue;
    if (Date.parse(latest.run.startedAt) - Date.parse(first.run.startedAt) < LEAST_APART_SECONDS * 1000) continue;
    const share = (pick: (span: (typeof own)[number]['span']) => number) => {
      const before = pick(first.span);
      return before > 0 ? pick(latest.span) / before - 1 : 0;
    };
    return {
      since: first.run.startedAt,
      openingShare: share((span) => span.openingBytesPerSecond),
      floorShare: share((span) => span.floorBytesPerSecond),
      fillShares: [first.run.fillShare, latest.run.fillShare],
    };
  }
  return null;
}
