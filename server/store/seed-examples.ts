import { DEMO_DRIVES } from '#demo/drives.ts';
import { carryOutDemoRuns } from '#demo/runs.ts';
import { DEMO_PLAN } from '#demo/sizing.ts';
import { DEMO_WORKLOADS } from '#demo/workloads.ts';
import { cardForVolume, describeExample, driveReference } from '#server/store/drives.ts';
import { saveProject } from '#server/store/projects.ts';
import { finishRun, insertChunk, insertRun } from '#server/store/runs.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunEvent } from '#core/4-runs/run/run-events.ts';
import type { Database } from '#server/store/store.ts';
import { insertWorkload } from '#server/store/workloads.ts';

/** A copy as it would have been told. */
function copyEvents({ copy }: RunDocument): RunEvent[] {
  if (copy === null) return [];
  return [
    { type: 'copy-rows', rows: copy.rows },
    { type: 'copy-watch', rows: copy.watch },
    ...copy.legs.map((leg): RunEvent => ({ type: 'copy-leg', leg })),
    ...copy.notes.map((note): RunEvent => ({ type: 'copy-note', note })),
  ];
}

/** Fills a new store with the demo workspace. */
export async function seedExamples(db: Database): Promise<void> {
  const runs = await carryOutDemoRuns(async (info) => {
    const card = await cardForVolume(db, info, true);
    const details = DEMO_DRIVES[info.identity.value];
    if (details) await describeExample(db, card.id, details);
    return driveReference(card);
  });
  for (const run of runs) {
    await insertRun(db, run);
    const { bypass, verification, series } = run.conditions;
    await insertChunk(db, run.id, 0, run.samples, [
      { type: 'latency', latency: run.latency },
      { type: 'frames', frames: run.frames },
      { type: 'files', files: run.files },
      ...run.markers.map((marker) => ({ type: 'marker', marker }) as const),
      ...bypass.map((row) => ({ type: 'bypass', row }) as const),
      ...copyEvents(run),
      { type: 'verified', ...verification },
      ...series.atSeconds.map(
        (atSeconds, row) =>
          ({
            type: 'watch',
            row: {
              atSeconds,
              temperatureCelsius: series.temperatureCelsius[row]!,
              foreignBytesPerSecond: series.foreignBytesPerSecond[row]!,
              processorShare: series.processorShare[row]!,
            },
          }) as const,
      ),
    ]);
    await finishRun(db, run);
  }
  await saveProject(db, { id: 'demo-tidal-atlas', example: true, plan: DEMO_PLAN, drives: [] });
  for (const [position, workload] of DEMO_WORKLOADS.entries()) await insertWorkload(db, workload, position);
}
