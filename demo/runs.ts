import type { RunDocument } from '#core/run/run-document.ts';
import { applyRunEvent } from '#core/run/run-events.ts';
import { shortPassesOptionsSchema } from '#core/run/short-passes-options.ts';
import { recipeById } from '#engine/recipes/registry.ts';
import { carryOutRun, openRunDocument, type RunRequest } from '#engine/run/runner.ts';
import { STAND_INS } from '#engine/volumes/stand-in/catalogue.ts';
import { standInVolume } from '#engine/volumes/stand-in/stand-in-volume.ts';
import type { VolumeInfo } from '#engine/volumes/volume.ts';

interface DemoRun {
  id: string;
  standInId: string;
  startedAt: string;
  options: Record<string, unknown>;
  note: string;
  seed: number;
}

/** Runs of the demo workspace, oldest first. Each shows something. */
const DEMO_RUNS: readonly DemoRun[] = [
  {
    id: 'demo-petrel-passes',
    standInId: 'petrel-2t',
    startedAt: '2026-03-02T09:05:00.000Z',
    options: { passes: 8 },
    note: 'First reading.',
    seed: 21,
  },
  {
    id: 'demo-petrel-take',
    standInId: 'petrel-2t',
    startedAt: '2026-03-02T09:30:00.000Z',
    options: { passes: 1, sizeBytes: 340e9 },
    note: 'Past the fast cache: ten minutes of three cameras.',
    seed: 22,
  },
  {
    id: 'demo-anchor-passes',
    standInId: 'anchor-16t',
    startedAt: '2026-03-03T17:10:00.000Z',
    options: { passes: 8 },
    note: 'First reading. It had to spin up.',
    seed: 11,
  },
  {
    id: 'demo-anchor-take',
    standInId: 'anchor-16t',
    startedAt: '2026-03-03T17:20:00.000Z',
    options: { passes: 1, sizeBytes: 60e9 },
    note: 'As much as a short take of one camera.',
    seed: 12,
  },
];

/**
 * Carries out the demo runs on the stand-ins, as fast as the processor allows and the same each
 * time. `referenceFor` gives the drive that a run belongs to.
 */
export async function carryOutDemoRuns(
  referenceFor: (info: VolumeInfo) => Promise<RunDocument['drive']>,
): Promise<RunDocument[]> {
  const documents: RunDocument[] = [];
  for (const demo of DEMO_RUNS) {
    const standIn = STAND_INS.find((one) => one.id === demo.standInId)!;
    const volume = standInVolume(standIn, { speed: Infinity, seed: demo.seed });
    const options = shortPassesOptionsSchema.validateSync(demo.options);
    const request: RunRequest = { runId: demo.id, volume, folder: '', recipe: recipeById('short-passes'), options };
    const run = openRunDocument(
      request,
      await referenceFor(volume.info),
      { restSeconds: null, writtenLastHourBytes: null },
      'running',
      demo.startedAt,
    );
    run.example = true;
    run.note = demo.note;
    // The same on every machine: the conditions of a made-up drive are made up too.
    run.conditions.software = { ...run.conditions.software, platform: 'simulated', host: 'lowlight' };
    await carryOutRun(
      request,
      (event) => applyRunEvent(run, event),
      () => undefined,
      new AbortController().signal,
    );
    const seconds = run.samples.atSeconds.at(-1) ?? 0;
    run.endedAt = new Date(Date.parse(demo.startedAt) + seconds * 1000).toISOString();
    documents.push(run);
  }
  return documents;
}
