import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { profileRunOf, supplyOf, type Supply } from '#core/4-runs/supply/profile.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { judgeWorkload, type JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';

/** The supply that one run alone makes. */
export function supplyOfRun(run: RunDocument, summary: RunSummary): Supply {
  return supplyOf({ drive: run.drive, runs: [profileRunOf(run, summary)] });
}

/** Verdicts on all items of a workload from what is known of a drive; what goes on together, and what finds no room, come last. */
export function judgedItems(
  workload: Workload,
  supply: Supply,
  headroomShare: number,
  roomBytes: number | null,
): JudgedItem[] {
  const { items, together, oneAfterTheOther } = judgeWorkload(workload, supply, { headroomShare }, roomBytes);
  return [...items, together, oneAfterTheOther].filter((one) => one !== null);
}
