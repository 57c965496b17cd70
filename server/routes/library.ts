import { Router } from 'express';
import type { Connection } from '#core/links/connection.ts';
import { Problem } from '#core/problem.ts';
import { profileRunOf, profilesOf, type ProfileRun } from '#core/supply/profile.ts';
import type { RouteContext } from '#server/routes/context.ts';
import { listDrives } from '#server/store/drives.ts';
import { hasExamples, removeExamples } from '#server/store/examples.ts';
import { readRun, runIdsOfDrive } from '#server/store/runs.ts';

/** Runs of a drive that are asked for what they testify, newest first. */
const MOST_TESTIFYING_RUNS = 24;
/** What runs add to profiles, kept in memory: it is asked for again whenever a place opens. */
const MOST_KEPT = 200;

/** Drives, workloads and the examples. */
export function libraryRoutes({ db }: RouteContext): Router {
  const router = Router();
  const kept = new Map<string, { connection: Connection; adds: ProfileRun }>();

  async function keptRun(id: string): Promise<{ connection: Connection; adds: ProfileRun }> {
    const known = kept.get(id);
    if (known) return known;
    const run = await readRun(db, id);
    const entry = { connection: run.connection, adds: profileRunOf(run) };
    kept.set(id, entry);
    if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
    return entry;
  }

  router.get('/drives', async (_request, response) => {
    response.json(await listDrives(db));
  });

  /** What a drive's runs can testify, a profile for each connection, the latest first. */
  router.get('/drives/:id/profiles', async (request, response) => {
    const { id } = request.params;
    const drive = (await listDrives(db)).find((one) => one.id === id);
    if (!drive) throw new Problem('not-found', `There is no drive “${id}”.`, { status: 404 });
    const runs = [];
    for (const runId of await runIdsOfDrive(db, id, MOST_TESTIFYING_RUNS)) runs.push(await keptRun(runId));
    response.json(profilesOf({ id, label: drive.label, medium: drive.medium }, runs));
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
