import { useEffect, useMemo, useState } from 'react';
import { demandOf, type Demand } from '#core/demand/footage-demand.ts';
import type { Workload } from '#core/demand/workload.ts';
import { Problem } from '#core/problem.ts';
import type { Evidence } from '#core/supply/evidence.ts';
import { judge, type Verdict } from '#core/verdict/judge.ts';
import { verdictSentence } from '#core/verdict/sentences.ts';
import { api } from '../api/client.ts';
import { useContextStore } from './context.ts';
import { useLibrary } from './library.ts';

/** One item of the workload with its verdict on a drive. */
export interface JudgedItem {
  demand: Demand;
  verdict: Verdict;
  sentence: string;
}

/** The chosen workload; undefined while there is none. */
export function useWorkload(): Workload | undefined {
  const workloads = useLibrary((state) => state.workloads);
  const workloadId = useContextStore((state) => state.workloadId);
  return workloads?.find((workload) => workload.id === workloadId);
}

/** Verdicts on all items of a workload from what is known of a drive. */
export function judgeWorkload(
  workload: Workload,
  evidence: readonly Evidence[],
  headroomShare: number,
  roomBytes: number | null,
): JudgedItem[] {
  return workload.items.map((item) => {
    const demand = demandOf(item);
    const verdict = judge(demand, evidence, { headroomShare }, roomBytes);
    const doubts = evidence.find((one) => one.runId === verdict.runId && one.direction === demand.direction)?.doubts;
    return { demand, verdict, sentence: verdictSentence(demand, verdict, doubts) };
  });
}

/** Evidence of several drives, by their ids; asked for again when the list of runs changes. */
export function useEvidence(driveIds: readonly string[]): {
  evidence: Record<string, Evidence[]>;
  problem: Problem | undefined;
} {
  const runs = useLibrary((state) => state.runs);
  const [evidence, setEvidence] = useState<Record<string, Evidence[]>>({});
  const [problem, setProblem] = useState<Problem>();
  const key = useMemo(() => [...driveIds].sort().join(' '), [driveIds]);
  useEffect(() => {
    let left = false;
    const ids = key.split(' ').filter(Boolean);
    Promise.all(ids.map(async (id) => [id, await api.evidence(id)] as const)).then(
      (entries) => {
        if (!left) setEvidence(Object.fromEntries(entries));
      },
      (error: unknown) => setProblem(error instanceof Problem ? error : undefined),
    );
    return () => {
      left = true;
    };
  }, [key, runs]);
  return { evidence, problem };
}
