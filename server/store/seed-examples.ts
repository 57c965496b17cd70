import { DEMO_DRIVES } from '#demo/drives.ts';
import { carryOutDemoRuns } from '#demo/runs.ts';
import { DEMO_PLAN } from '#demo/sizing.ts';
import { DEMO_WORKLOADS } from '#demo/workloads.ts';
import { cardForVolume, describeExample, driveReference } from '#server/store/drives.ts';
import { saveProject } from '#server/store/projects.ts';
import { DEFAULT_POLICY } from '#core/5-answers/verdict/verdict.ts';
import { newOutline, type Put } from '#core/6-exchange/report/put.ts';
import type { ReportOutline } from '#core/6-exchange/report/report.ts';
import { roomBytes } from '#core/4-runs/supply/room.ts';
import { putInto } from '#server/reports/put-into.ts';
import { createProfiles } from '#server/store/profiles.ts';
import { keepReport, readDocuments } from '#server/store/reports.ts';
import { insertWholeRun, readRun } from '#server/store/runs.ts';
import type { Database } from '#server/store/database.ts';
import { insertWorkload } from '#server/store/workloads.ts';

/** Fills a new store with the demo workspace. */
export async function seedExamples(db: Database): Promise<void> {
  const runs = await carryOutDemoRuns(async (info) => {
    const card = await cardForVolume(db, info, true);
    const details = DEMO_DRIVES[info.identity.value];
    if (details) await describeExample(db, card.id, details);
    return driveReference(card);
  });
  for (const run of runs) {
    await insertWholeRun(db, run);
  }
  await saveProject(db, { id: 'demo-tidal-atlas', example: true, plan: DEMO_PLAN, drives: [], version: 0 });
  for (const [position, workload] of DEMO_WORKLOADS.entries()) await insertWorkload(db, workload, position);
  await seedReport(db);
}

/** The report on the evening's question, as it would have been put together in the place. */
async function seedReport(db: Database): Promise<void> {
  const kept = { db, profiles: createProfiles(db) };
  const run = await readRun(db, 'demo-petrel-take');
  let ids = 0;
  const newId = () => `demo-${(ids += 1)}`;
  const puts: Put[] = [
    {
      kind: 'question',
      question: `Can the night shoot go to ${run.drive.label}?`,
      workloadId: 'demo-night-shoot',
      driveId: run.drive.id,
      headroomShare: DEFAULT_POLICY.headroomShare,
      roomBytes: roomBytes(run.volume),
    },
    { kind: 'run', runId: 'demo-offload' },
  ];
  let outline: ReportOutline = {
    ...newOutline('demo-evening', '2026-03-12'),
    byWhom: 'Lowlight Dome Works',
    forWhom: 'the production office',
  };
  for (const put of puts) {
    const next = await putInto(kept, outline, await readDocuments(db, outline.id), put, newId);
    outline = { ...next.outline, example: true };
    await keepReport(db, outline, next.documents, new Date('2026-03-12T08:00:00Z'));
  }
}
