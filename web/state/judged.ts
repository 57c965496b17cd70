import { useEffect, useMemo, useState } from 'react';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { Profile } from '#core/4-runs/supply/profile.ts';
import { api } from '../api/client.ts';
import { useContextStore } from './context.ts';
import { useLibrary } from './library.ts';

/** The chosen workload; undefined while there is none. */
export function useWorkload(): Workload | undefined {
  const workloads = useLibrary((state) => state.workloads);
  const workloadId = useContextStore((state) => state.workloadId);
  return workloads.find((workload) => workload.id === workloadId);
}

type Judging = typeof import('./judging.ts');
let loaded: Judging | undefined;

/** What judges workloads, loaded after the first picture is drawn; undefined until then. */
export function useJudging(): Judging | undefined {
  const [judging, setJudging] = useState(loaded);
  useEffect(() => {
    if (judging) return;
    import('./judging.ts').then(
      (module) => {
        loaded = module;
        setJudging(module);
      },
      () =>
        useLibrary.setState({
          problem: new Problem('page-failed', 'What judges could not be loaded. Load the page again.'),
        }),
    );
  }, [judging]);
  return judging;
}

/** Profiles of several drives, by their ids; asked for again when a run or a card changes. */
export function useProfiles(driveIds: readonly string[]): {
  profiles: Record<string, Profile[]>;
  problem: Problem | undefined;
} {
  const { runs, drives } = useLibrary();
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
  }, [key, runs, drives]);
  return { profiles, problem };
}
