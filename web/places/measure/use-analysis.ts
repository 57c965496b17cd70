import { useMemo, useRef } from 'react';
import { DIRECTIONS, type RunDocument } from '#core/run/run-document.ts';
import { evidenceOf } from '#core/supply/evidence.ts';
import { summaryOf, type RunSummary } from '#core/supply/run-summary.ts';
import { countedPasses, passesOf, type Pass } from '#core/trace/passes.ts';
import { useContextStore } from '../../state/context.ts';
import { judgeWorkload, useWorkload, type JudgedItem } from '../../state/judged.ts';
import type { FollowedRun } from '../../state/use-run.ts';

/** Everything that is derived from a run for its place. */
export interface RunAnalysis extends RunSummary {
  passes: Pass[];
  /** Passes set apart from the figures. */
  apart: ReadonlySet<Pass>;
  /** The workload's items judged from this run alone. */
  judged: JudgedItem[];
}

/** While a run goes on its figures and verdicts are made anew at most this often; its trace with every event. */
const LIVE_INTERVAL_MILLISECONDS = 700;

/** Analysis of a run that is changed in place; `revision` counts the changes. */
export function useAnalysis(run: RunDocument, revision: FollowedRun['revision']): RunAnalysis {
  const workload = useWorkload();
  const headroomShare = useContextStore((state) => state.headroomShare);
  const trace = useMemo(() => {
    void revision;
    const passes = passesOf(run);
    return { passes, apart: new Set(DIRECTIONS.flatMap((direction) => countedPasses(passes, direction).apart)) };
  }, [run, revision]);

  const settled = useRef({ revision: -1, at: 0 });
  const now = performance.now();
  const due = run.endedAt !== null || now - settled.current.at > LIVE_INTERVAL_MILLISECONDS;
  if (due && settled.current.revision !== revision) settled.current = { revision, at: now };
  const settledRevision = settled.current.revision;
  const words = useMemo(() => {
    void settledRevision;
    const evidence = DIRECTIONS.map((direction) => evidenceOf(run, direction)).filter((one) => one !== null);
    return { ...summaryOf(run), evidence };
  }, [run, settledRevision]);
  const judged = useMemo(
    () => (workload ? judgeWorkload(workload, words.evidence, headroomShare, null) : []),
    [workload, words, headroomShare],
  );
  return { ...trace, figures: words.figures, doubts: words.doubts, judged };
}
