import { useEffect, useMemo, useState } from 'react';
import { demandOf, type Demand } from '#core/demand/footage-demand.ts';
import type { Workload } from '#core/demand/workload.ts';
import { Problem } from '#core/problem.ts';
import type { RunDocument } from '#core/run/run-document.ts';
import { profileRunOf, supplyOf, type Profile, type Supply } from '#core/supply/profile.ts';
import type { RunSummary } from '#core/supply/run-summary.ts';
import { judge } from '#core/verdict/judge.ts';
import { verdictSentence } from '#core/verdict/sentences.ts';
import { judgeTogether } from '#core/verdict/together.ts';
import type { Verdict } from '#core/verdict/verdict.ts';
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

/** The supply that one run alone makes. */
export function supplyOfRun(run: RunDocument, summary: RunSummary): Supply {
  return supplyOf({ drive: run.drive, runs: [profileRunOf(run, summary)] });
}

/** Verdicts on all items of a workload from what is known of a drive; what goes on together comes last, as one. */
export function judgeWorkload(
  workload: Workload,
  supply: Supply,
  headroomShare: number,
  roomBytes: number | null,
): JudgedItem[] {
  const policy = { headroomShare };
  const say = (demand: Demand, verdict: Verdict): JudgedItem => {
    const own = supply.traces.find((one) => one.runId === verdict.runId && one.direction === demand.direction);
    return { demand, verdict, sentence: verdictSentence(demand, verdict, own?.doubts) };
  };
  const items = workload.items.map((item) => {
    const demand = demandOf(item);
    return say(demand, judge(demand, supply, policy, roomBytes));
  });
  const together = items.filter((_, index) => workload.items[index]!.together).map(({ demand }) => demand);
  const all = together.length > 1 ? judgeTogether(together, supply, policy, roomBytes) : null;
  return all ? [...items, say(all.demand, all.verdict)] : items;
}

/** Profiles of several drives, by their ids; asked for again when the list of runs changes. */
export function useProfiles(driveIds: readonly string[]): {
  profiles: Record<string, Profile[]>;
  problem: Problem | undefined;
} {
  const runs = useLibrary((state) => state.runs);
  const [profiles, setProfiles] = useState<Record<string, Profile[]>>({});
  const [problem, setProblem] = useState<Problem>();
  const key = useMemo(() => [...driveIds].sort().join(' '), [driveIds]);
  useEffect(() => {
    let left = false;
    const ids = key.split(' ').filter(Boolean);
    Promise.all(ids.map(async (id) => [id, await api.profiles(id)] as const)).then(
      (entries) => {
        if (!left) setProfiles(Object.fromEntries(entries));
      },
      (error: unknown) => setProblem(error instanceof Problem ? error : undefined),
    );
    return () => {
      left = true;
    };
  }, [key, runs]);
  return { profiles, problem };
}
