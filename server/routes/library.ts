import { Router } from 'express';
import { evidenceOfRun, type Evidence } from '#core/supply/evidence.ts';
import type { RouteContext } from '#server/routes/context.ts';
import { listDrives } from '#server/store/drives.ts';
import { hasExamples, removeExamples } from '#server/store/examples.ts';
import { readRun, runIdsOfDrive } from '#server/store/runs.ts';
import { listWorkloads } from '#server/store/workloads.ts';

/** Runs of a drive that are asked for evidence, newest first. */
const MOST_TESTIFYING_RUNS = 24;
/** Evidence kept in memory: it is asked for again whenever a place opens. */
const MOST_KEPT = 200;

/** Drives, workloads and the examples. */
export function libraryRoutes({ db }: RouteContext): Router {
  const router = Router();
  const kept = new Map<string, Evidence[]>();

  async function keptEvidence(id: string): Promise<Evidence[]> {
    const known = kept.get(id);
    if (known) return known;
    const run = await readRun(db, id);
    const evidence = evidenceOfRun(run);
    kept.set(id, evidence);
    if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
    return evidence;
  }

  router.get('/drives', async (_request, response) => {
    response.json(await listDrives(db));
  });

  /** What a drive's runs can testify, newest first. */
  router.get('/drives/:id/evidence', async (request, response) => {
    const ids = await runIdsOfDrive(db, request.params.id, MOST_TESTIFYING_RUNS);
    const evidence: Evidence[] = [];
    for (const id of ids) evidence.push(...(await keptEvidence(id)));
    response.json(evidence);
  });

  router.get('/workloads', async (_request, response) => {
    response.json(await listWorkloads(db));
  });

  router.get('/examples', async (_request, response) => {
    response.json({ present: await hasExamples(db) });
  });

  router.delete('/examples', async (_request, response) => {
    await removeExamples(db);
    response.status(204).end();
  });

  return router;
}
