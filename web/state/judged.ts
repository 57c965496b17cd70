import { useEffect, useMemo, useState } from 'react';
import type { Workload } from '#core/demand/workload.ts';
import { Problem } from '#core/problem.ts';
import type { RunDocument } from '#core/run/run-document.ts';
import { profileRunOf, supplyOf, type Profile, type Supply } from '#core/supply/profile.ts';
import type { RunSummary } from '#core/supply/run-summary.ts';
import { judgeWorkload, type JudgedItem } from '#core/verdict/judge-workload.ts';
import { api } from '../api/client.ts';
import { useContextStore } from './context.ts';
import { useLibrary } from './library.ts';

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
export function judgedItems(
  workload: Workload,
  supply: Supply,
  headroomShare: number,
  roomBytes: number | null,
): JudgedItem[] {
  const { items, together } = judgeWorkload(workload, supply, { headroomShare }, roomBytes);
  return together ? [...items, together] : items;
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
        if (left) return;
        setProfiles(Object.fromEntries(entries));
        setProblem(undefined);
      },
      (error: unknown) => setProblem(error instanceof Problem ? error : undefined),
    );
    return () => {
      left = true;
    };
  }, [key, runs]);
  return { profiles, problem };
}
