import { randomUUID } from 'node:crypto';
import { badInput } from '#core/1-ground/problem.ts';
import { supplyOf } from '#core/4-runs/supply/profile.ts';
import { answerOf } from '#core/5-answers/verdict/answer.ts';
import { judgedItems } from '#core/5-answers/verdict/judge-workload.ts';
import { parseBuildCode } from '#core/5-answers/sizing/builds.ts';
import type { KeptNow } from '#core/6-exchange/report/changed.ts';
import { withPut, type Put, type PutFacts } from '#core/6-exchange/report/put.ts';
import {
  listedDocuments,
  missingFor,
  neededBy,
  noDocuments,
  type ReportDocumentKind,
  type ReportDocuments,
  type ReportOutline,
} from '#core/6-exchange/report/report.ts';
import { listDrives } from '#server/store/drives.ts';
import type { Profiles } from '#server/store/profiles.ts';
import { listProjects } from '#server/store/projects.ts';
import { findRun, listRunStates, readRun } from '#server/store/runs.ts';
import type { Database } from '#server/store/database.ts';
import { listWorkloads } from '#server/store/workloads.ts';

/** Where documents come from. */
export interface Kept {
  db: Database;
  profiles: Profiles;
}

const NO_FACTS: PutFacts = { runId: null, isCopy: false, itemKind: 'series' };

/**
 * A report with something put into it.
 * @param newId makes ids of parts
 * @returns what it is then, and the documents that the new parts are drawn from, as they are now
 * @throws Problem when what was named is not there
 */
export async function putInto(
  kept: Kept,
  outline: ReportOutline,
  there: ReportDocuments,
  put: Put,
  newId: () => string = () => randomUUID().slice(0, 8),
): Promise<{ outline: ReportOutline; documents: ReportDocuments }> {
  const next = withPut(outline, put, await factsOf(kept, put), newId);
  const documents = noDocuments();
  const needed = neededBy(next);
  // What it is about is taken as it is now, with what other parts say of the same; the rest stays.
  const anew = namesIn(put);
  const isThere = new Set(listedDocuments(there).map(({ kind, id }) => `${kind} ${id}`));
  const taken = (kind: ReportDocumentKind, ids: ReadonlySet<string>) =>
    [...ids].filter((id) => anew.has(id) || !isThere.has(`${kind} ${id}`));
  for (const id of taken('runs', needed.runs)) documents.runs.push(await readRun(kept.db, id));
  for (const id of taken('profiles', needed.drives)) documents.profiles.push(await profileOf(kept, id));
  const lists = new Set(taken('workloads', needed.workloads));
  if (lists.size > 0) documents.workloads = (await listWorkloads(kept.db)).filter(({ id }) => lists.has(id));
  if (put.kind === 'build') {
    parseBuildCode(put.code, put.sizing);
    documents.sizings.push({ projectId: put.projectId, sizing: put.sizing });
  }
  const all = joined(there, documents);
  for (const part of next.parts) {
    const missing = missingFor(part, { asked: next.asked, documents: all });
    if (missing !== null)
      throw badInput('kind', `There is no ${missing.replace(/^the /, '')} here to put into the report.`);
  }
  return { outline: next, documents };
}

function namesIn(put: Put): ReadonlySet<string> {
  switch (put.kind) {
    case 'question':
      return new Set([put.workloadId, put.driveId]);
    case 'run':
      return new Set([put.runId]);
    case 'comparison':
      return new Set(put.driveIds);
    case 'item':
      return new Set([put.workloadId, ...put.drives.map(({ driveId }) => driveId)]);
    case 'build':
      return new Set([put.projectId]);
  }
}

/** Documents with others in the place of those of the same ids. */
function joined(there: ReportDocuments, more: ReportDocuments): ReportDocuments {
  return {
    runs: [...more.runs, ...there.runs],
    profiles: [...more.profiles, ...there.profiles],
    workloads: [...more.workloads, ...there.workloads],
    sizings: [...more.sizings, ...there.sizings],
  };
}

/** The profile on the connection that a drive was measured on last; an empty one where it never was. */
async function profileOf({ db, profiles }: Kept, driveId: string): Promise<ReportDocuments['profiles'][number]> {
  const [latest] = await profiles.of(driveId);
  if (latest) return latest;
  const card = (await listDrives(db)).find((one) => one.id === driveId)!;
  return {
    tavrox: 'profile/1',
    drive: { id: card.id, label: card.label, medium: card.medium },
    connection: { hops: [] },
    runs: [],
  };
}

async function factsOf(kept: Kept, put: Put): Promise<PutFacts> {
  switch (put.kind) {
    case 'run':
      return { ...NO_FACTS, isCopy: (await readRun(kept.db, put.runId)).copy !== null };
    case 'item': {
      const workload = (await listWorkloads(kept.db)).find((one) => one.id === put.workloadId);
      const item = workload?.items.find((one) => one.id === put.itemId);
      if (item?.kind === 'series' || item?.kind === 'load') return { ...NO_FACTS, itemKind: item.kind };
      throw badInput('itemId', 'There is no cache series or load of that name in the workload.');
    }
    case 'question':
      return { ...NO_FACTS, runId: await runBehind(kept, put) };
    case 'comparison':
    case 'build':
      return NO_FACTS;
  }
}

/** The run that the deciding verdict rests on, else the one that most verdicts do; null where none rests on any. */
async function runBehind(kept: Kept, put: Extract<Put, { kind: 'question' }>): Promise<string | null> {
  const workload = (await listWorkloads(kept.db)).find((one) => one.id === put.workloadId);
  if (!workload) throw badInput('workloadId', 'This workload is not kept here any more.');
  const profile = await profileOf(kept, put.driveId);
  const judged = judgedItems(workload, supplyOf(profile), { headroomShare: put.headroomShare }, put.roomBytes);
  if (judged.length === 0) return null;
  const { deciding } = answerOf(judged);
  const [first] = [deciding, ...judged].flatMap((one) => (one?.verdict.runId ? [one.verdict.runId] : []));
  return first !== undefined && (await findRun(kept.db, first)) !== null ? first : null;
}

/** What is kept now of what a report was drawn from. */
export async function currentOf({ db, profiles }: Kept, documents: ReportDocuments): Promise<KeptNow> {
  const cards = new Set((await listDrives(db)).map(({ id }) => id));
  const known = documents.profiles.filter(({ drive }) => cards.has(drive.id));
  const now = await Promise.all(known.map(async ({ drive }) => [drive.id, (await profiles.of(drive.id))[0]] as const));
  return {
    runs: await listRunStates(
      db,
      documents.runs.map(({ id }) => id),
    ),
    profiles: new Map(now.flatMap(([id, profile]) => (profile ? [[id, profile] as const] : []))),
    workloads: new Map((await listWorkloads(db)).map((one) => [one.id, one])),
    projects: new Map((await listProjects(db)).map((one) => [one.id, one])),
  };
}

/** Documents of a report as they are kept now, where they still are. A build stays: its project has to be searched anew. */
export async function renewed(kept: Kept, documents: ReportDocuments): Promise<ReportDocuments> {
  const { profiles, workloads } = await currentOf(kept, documents);
  const runs = await Promise.all(documents.runs.map(async (run) => (await findRun(kept.db, run.id)) ?? run));
  return {
    ...documents,
    runs,
    profiles: documents.profiles.map((one) => profiles.get(one.drive.id) ?? one),
    workloads: documents.workloads.map((one) => workloads.get(one.id) ?? one),
  };
}
