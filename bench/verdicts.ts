import { demandFrom } from '#core/testing/curves.ts';
import { runOfTrace } from '#core/4-runs/supply/bare-trace.ts';
import { profileRunOf, supplyOf, type Supply } from '#core/4-runs/supply/profile.ts';
import { seriesForm } from '#core/3-jobs/demand/series/series-form.ts';
import { withFiles } from '#core/3-jobs/material/series-from-files.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { evidenceOfRun } from '#core/4-runs/supply/evidence.ts';
import { judgeItem } from '#core/5-answers/verdict/judge-workload.ts';
import { judge } from '#core/5-answers/verdict/judge.ts';
import { fourHours } from './simulation.ts';

const ms = (value: number) => `${value.toFixed(value < 10 ? 1 : 0)} ms`;

function timed(work: () => void): number {
  const begin = performance.now();
  work();
  return performance.now() - begin;
}

/** A series of a hundred thousand frames of its own sizes on twelve drives with runs of four hours. */
function benchSeries(drives: readonly Supply[]): string[][] {
  const frames = 100_000;
  const bytes = Array.from({ length: frames }, (_, frame) => 1e6 + 10 * frame);
  const item = withFiles(seriesForm.read(seriesForm.start, 'bench', null).item!, {
    frames: { kind: 'files', label: 'bench', firstFrame: 1, bytes, missingCount: 0 },
    secondsPerFrame: [0.5],
    holdsWriting: false,
    notes: [],
  });
  const judging = timed(() => {
    for (const supply of drives) judgeItem(item, supply, { headroomShare: 0.25 }, null);
  });
  return [[`a series of ${frames.toLocaleString('en-US')} frames × 12 drives`, ms(judging)]];
}

/** Forty items on twelve drives, each with a run of four hours: all verdicts, and again with another headroom. */
export function benchVerdicts(): string[][] {
  const progress = fourHours();
  const run = runOfTrace(progress, 'write');
  const summary = summaryOf(run);
  const reducing = Math.min(...[1, 2].map(() => timed(() => evidenceOfRun(run, summary))));
  const drives = Array.from({ length: 12 }, (): Supply => supplyOf({ drive: run.drive, runs: [profileRunOf(run)] }));
  const demands = Array.from({ length: 40 }, (_, item) =>
    demandFrom({
      itemId: `${item}`,
      bytesPerSecond: (40 + 30 * item) * 1e6,
      takeSeconds: 4 * 3600,
      takes: 2,
      gapSeconds: 600,
    }),
  );
  const all = (headroomShare: number) => {
    for (const supply of drives) for (const demand of demands) judge(demand, supply, { headroomShare }, null);
  };
  const first = timed(() => all(0.25));
  const dragged = Math.min(...[0.3, 0.35, 0.4].map((share) => timed(() => all(share))));
  const series = benchSeries(drives);
  return [
    ...series,
    ['parting a trace of 144,000 samples into levels and lost time, once for each run', ms(reducing)],
    ['40 items × 12 drives × 4-hour traces, first', ms(first)],
    ['the same after the headroom was dragged', ms(dragged)],
  ];
}
