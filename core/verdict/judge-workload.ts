import type { Demand } from '#core/demand/demand.ts';
import { demandOf } from '#core/demand/footage-demand.ts';
import type { Workload } from '#core/demand/workload.ts';
import { traceBehind, type Supply } from '#core/supply/profile.ts';
import { judge } from '#core/verdict/judge.ts';
import { verdictSentence } from '#core/verdict/sentences.ts';
import { judgeTogether } from '#core/verdict/together.ts';
import type { Policy, Verdict } from '#core/verdict/verdict.ts';

/** One item of a workload with its verdict on a drive. */
export interface JudgedItem {
  demand: Demand;
  verdict: Verdict;
  sentence: string;
}

/** A verdict with its sentence, which names the doubts of its run. */
export function withSentence(demand: Demand, verdict: Verdict, supply: Supply): JudgedItem {
  const sentence = verdictSentence(demand, verdict, traceBehind(supply, verdict.runId, demand.direction)?.doubts);
  return { demand, verdict, sentence };
}

/**
 * Verdicts on all items of a workload from what is known of a drive, and on what goes on together
 * as one; null where nothing does.
 * @param roomBytes free bytes less the reserve; null when not known
 */
export function judgeWorkload(
  workload: Workload,
  supply: Supply,
  policy: Policy,
  roomBytes: number | null,
): { items: JudgedItem[]; together: JudgedItem | null } {
  const demands = workload.items.map(demandOf);
  const items = demands.map((demand) => withSentence(demand, judge(demand, supply, policy, roomBytes), supply));
  const beside = demands.filter((_, index) => workload.items[index]!.together);
  const all = beside.length > 1 ? judgeTogether(beside, supply, policy, roomBytes) : null;
  return { items, together: all && withSentence(all.demand, all.verdict, supply) };
}
