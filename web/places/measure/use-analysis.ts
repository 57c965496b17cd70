import { useMemo } from 'react';
import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { summaryOf, type RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { countedPasses, longestPass, passesOf, type Pass } from '#core/4-runs/trace/passes.ts';
import type { TraceReading } from '#core/4-runs/trace/reading.ts';
import { useContextStore } from '../../state/context.ts';
import { roomOn } from '../../state/drive-supplies.ts';
import { useJudging, useWorkload } from '../../state/judged.ts';
import { useLibrary } from '../../state/library.ts';
import type { JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import type { FollowedRun } from '../../state/use-run.ts';

/** Everything that is derived from a run for its place. */
export interface RunAnalysis extends Omit<RunSummary, 'startCelsius' | 'written'> {
  passes: Pass[];
  /** The pass on which levels are marked: the longest that was written, else read. */
  levels: { pass: Pass; reading: TraceReading } | null;
  /** Passes set apart from the figures. */
  apart: ReadonlySet<Pass>;
  /** The workload's items judged from this run alone. */
  judged: JudgedItem[];
}

/** Analysis of a run that is changed in place; the revisions count the changes, see useRun. */
export function useAnalysis(
  run: RunDocument,
  { revision, settledRevision }: Pick<FollowedRun, 'revision' | 'settledRevision'>,
): RunAnalysis {
  const workload = useWorkload();
  const volumes = useLibrary((state) => state.volumes);
  const headroomShare = useContextStore((state) => state.headroomShare);
  const trace = useMemo(() => {
    void revision;
    const passes = passesOf(run);
    return { passes, apart: new Set(DIRECTIONS.flatMap((direction) => countedPasses(passes, direction).apart)) };
  }, [run, revision]);

  const words = useMemo(() => {
    void settledRevision;
    return summaryOf(run);
  }, [run, settledRevision]);
  const judging = useJudging();
  const supply = useMemo(() => {
    void settledRevision;
    return judging?.supplyOfRun(run, words);
  }, [judging, run, settledRevision, words]);
  // The job has to fit on the drive as it is now, as everywhere else.
  const roomBytes = roomOn(volumes, run.drive.id);
  const judged = useMemo(
    () => (judging && supply && workload ? judging.judgedItems(workload, supply, headroomShare, roomBytes) : []),
    [judging, workload, supply, headroomShare, roomBytes],
  );
  const levels = useMemo(() => {
    const direction = words.figures.write ? 'write' : 'read';
    const reading = words.figures[direction]?.reading;
    const { counted } = countedPasses(trace.passes, direction);
    if (!reading || counted.length === 0) return null;
    return { pass: longestPass(counted), reading };
  }, [trace, words]);
  return { ...trace, figures: words.figures, doubts: words.doubts, levels, judged };
}
