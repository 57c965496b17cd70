import type { RunListEntry } from '#core/6-exchange/api/wire.ts';
import type { CopiedLeg } from '#core/4-runs/trace/copied.ts';

/** A copy that was really made between two drives. */
export interface MeasuredCopy {
  runId: string;
  startedAt: string;
  leg: CopiedLeg;
}

/** The copies of a way that were made, newest first; those to several drives at once count for each. */
export function measuredCopies(runs: readonly RunListEntry[], from: string, to: string): MeasuredCopy[] {
  return runs.flatMap(({ run, figures }) => {
    const ends = run.copy?.ends;
    if (!ends || !figures.copies) return [];
    return figures.copies.legs
      .filter((leg) => ends[leg.from]?.drive.id === from && leg.to.some((end) => ends[end]?.drive.id === to))
      .filter(({ stretches }) => stretches.length > 0)
      .map((leg) => ({ runId: run.id, startedAt: run.startedAt, leg }));
  });
}
