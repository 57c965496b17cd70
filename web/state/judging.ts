import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { profileRunOf, supplyOf, type Supply } from '#core/4-runs/supply/profile.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { judgedItems as judgedWith, type JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';

/** The supply that one run alone makes. */
export function supplyOfRun(run: RunDocument, summary: RunSummary): Supply {
  return supplyOf({ drive: run.drive, runs: [profileRunOf(run, summary)] });
}

/** All verdicts on a workload, with the headroom as the strip has it. */
export const judgedItems = (
  workload: Workload,
  supply: Supply,
  headroomShare: number,
  roomBytes: number | null,
): JudgedItem[] => judgedWith(workload, supply, { headroomShare }, roomBytes);
