import { and, asc, desc, eq, gt, inArray, isNotNull, max, min, or, sum, sql, type SQL } from 'drizzle-orm';
import type { Annotation, RunListEntry, RunOpening } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import {
  emptyConditions,
  emptyFiles,
  emptyFrames,
  emptyLatency,
  emptySamples,
  lastSecondsOf,
  type RunDocument,
  type SampleColumns,
} from '#core/4-runs/run/run-document.ts';
import { openCopyRecord } from '#core/4-runs/run/copy-record.ts';
import { applyRunEvent, type RunEvent } from '#core/4-runs/run/run-events.ts';
import { ANALYSIS_VERSION, summaryOf, type RunSummary } from '#core/4-runs/supply/run-summary.ts';
import type { DriveHistory } from '#engine/run/runner.ts';
import { runChunks, runs } from '#server/store/schema.ts';
import type { Database } from '#server/store/database.ts';

const OVER: RunDocument['state'][] = ['finished', 'stopped', 'interrupted', 'failed'];
const WRITE = 0;
const READ = 1;

/** @param hostId of the machine that measures it; null for one that is over */
export async function insertRun(db: Database, run: RunDocument, hostId: string | null = null): Promise<void> {
  await db.insert(runs).values({
    id: run.id,
    hostId,
    driveId: run.drive.id,
    state: run.state,
    startedAt: run.startedAt,
    example: run.example,
    opening: openingOf(run),
  });
}

function openingOf({ samples, latency, markers, frames, files, loudness, copy, ...opening }: RunDocument): RunOpening {
  void [samples, latency, markers, frames, files, loudness];
  // Of a copy only where it went: the rest is in the chunks.
  return { ...opening, copy: copy && openCopyRecord(copy.ends) };
}

/** An opening with what was added to the document since it was kept. */
function openingNow(kept: RunOpening): RunOpening {
  const { conditions } = kept;
  const start = { ...emptyConditions(conditions.start).start, ...conditions.start };
  return {
    ...kept,
    copy: kept.copy ?? null,
    tags: kept.tags ?? [],
    leftOut: kept.leftOut ?? false,
    conditions: { ...conditions, told: conditions.told ?? null, start },
  };
}

/** Keeps what a run told since the chunk before: samples in columns, the rest as events. */
export async function insertChunk(
  db: Database,
  runId: string,
  sequence: number,
  samples: SampleColumns,
  events: RunEvent[],
): Promise<void> {
  await db
    .insert(runChunks)
    .values({
      runId,
      sequence,
      ...samples,
      direction: samples.direction.map((direction) => (direction === 'write' ? WRITE : READ)),
      events,
    })
    // One that is tried again may have been kept before its answer was lost.
    .onConflictDoNothing();
}

export async function setRunState(db: Database, run: RunDocument): Promise<void> {
  await db
    .update(runs)
    .set({ state: run.state, startedAt: run.startedAt, opening: openingOf(run) })
    .where(eq(runs.id, run.id));
}

/** Keeps the final state of a run with its figures and doubts. */
export async function finishRun(db: Database, run: RunDocument): Promise<void> {
  const summary = run.samples.atSeconds.length > 0 || run.copy !== null ? summaryOf(run) : null;
  await db
    .update(runs)
    .set({
      state: run.state,
      opening: openingOf({ ...run, conditions: emptied(run.conditions) }),
      summary,
      analysisVersion: ANALYSIS_VERSION,
    })
    .where(eq(runs.id, run.id));
}

/** Conditions without what the chunks hold: that is applied again when the run is read. */
function emptied(conditions: RunDocument['conditions']): RunDocument['conditions'] {
  return {
    ...conditions,
    bypass: [],
    verification: { checkedBytes: 0, mismatches: [] },
    series: emptyConditions(conditions.start).series,
  };
}

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

/** What was heard beside a run stands before all that it told: it comes when the page that listened sends it. */
const HEARD_SEQUENCE = -1;

async function keepHeard(db: Database, runId: string, loudness: RunDocument['loudness']): Promise<void> {
  const events: RunEvent[] = [{ type: 'loudness', loudness }];
  await db
    .insert(runChunks)
    .values({ runId, sequence: HEARD_SEQUENCE, ...emptySamples(), direction: [], events })
    .onConflictDoUpdate({ target: [runChunks.runId, runChunks.sequence], set: { events } });
}

/** Keeps a run that is over, all at once: an example, or one that came from elsewhere. */
export async function insertWholeRun(db: Database, run: RunDocument): Promise<void> {
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
  if (run.loudness !== null) await keepHeard(db, run.id, run.loudness);
  await finishRun(db, run);
}

/** A run whole. @throws Problem 404 */
export async function readRun(db: Database, id: string): Promise<RunDocument> {
  const run = await findRun(db, id);
  if (run) return run;
  throw new Problem('unknown-run', `There is no run “${id}”. It may have been deleted; choose one from the list.`, {
    status: 404,
  });
}

/** What a chunk tells, in order. */
export function chunkEvents({
  events,
  runId,
  sequence,
  direction,
  ...numbers
}: typeof runChunks.$inferSelect): RunEvent[] {
  void [runId, sequence];
  const words = direction.map((value) => (value === WRITE ? 'write' : 'read'));
  return [{ type: 'samples', samples: { ...numbers, direction: words } }, ...events];
}

/** A run whole; null when there is none, or none any more. */
export const findRun = async (db: Database, id: string): Promise<RunDocument | null> =>
  (await findRunSoFar(db, id))?.run ?? null;

/** A run as far as it is kept, and the number of its last chunk, −1 for none; null when there is none. */
export async function findRunSoFar(
  db: Database,
  id: string,
): Promise<{ run: RunDocument; lastSequence: number } | null> {
  const [row] = await db.select().from(runs).where(eq(runs.id, id));
  if (!row) return null;
  const opening = openingNow(row.opening);
  const run: RunDocument = {
    ...opening,
    copy: opening.copy && openCopyRecord(opening.copy.ends),
    samples: emptySamples(),
    latency: emptyLatency(),
    markers: [],
    frames: emptyFrames(),
    files: emptyFiles(),
    loudness: null,
  };
  const chunks = await db.select().from(runChunks).where(eq(runChunks.runId, id)).orderBy(asc(runChunks.sequence));
  for (const event of chunks.flatMap(chunkEvents)) applyRunEvent(run, event);
  return { run, lastSequence: chunks.at(-1)?.sequence ?? -1 };
}

/** Figures of a run that goes on, and until when they are told. */
interface SoFar {
  summary: RunSummary;
  untilMs: number;
}
/**
 * Reading a run of hours anew takes a second of the processor that measures meanwhile: its figures are told again for so
 * many times as long as they took.
 */
const TOLD_AGAIN_TIMES = 30;
const soFar = new WeakMap<Database, Map<string, SoFar>>();

/** Figures of a run from all that is kept of it; null where it was deleted meanwhile. */
async function summaryNow(db: Database, id: string, isOver: boolean): Promise<RunSummary | null> {
  const known = soFar.get(db) ?? new Map<string, SoFar>();
  soFar.set(db, known);
  const before = known.get(id);
  if (!isOver && before && performance.now() < before.untilMs) return before.summary;
  known.delete(id);
  const began = performance.now();
  const run = await findRun(db, id);
  if (run === null) return null;
  const summary = summaryOf(run);
  if (isOver) {
    await db.update(runs).set({ summary, analysisVersion: ANALYSIS_VERSION }).where(eq(runs.id, id));
  } else {
    const now = performance.now();
    known.set(id, { summary, untilMs: now + TOLD_AGAIN_TIMES * (now - began) });
  }
  return summary;
}

/**
 * The newest runs first, with their figures; those of an older analysis are made anew, those of a run that goes on may be
 * some seconds old.
 */
export async function listRuns(db: Database, most: number): Promise<RunListEntry[]> {
  const rows = await db.select().from(runs).orderBy(desc(runs.startedAt)).limit(most);
  const entries: RunListEntry[] = [];
  for (const row of rows) {
    const isKept = row.summary !== null && row.analysisVersion === ANALYSIS_VERSION;
    const summary = isKept ? row.summary : await summaryNow(db, row.id, OVER.includes(row.state));
    if (summary !== null) entries.push({ run: openingNow(row.opening), ...summary });
  }
  return entries;
}

/** Ids of the runs that are over, the oldest first. */
export async function listFinishedRunIds(db: Database): Promise<string[]> {
  const over = inArray(runs.state, OVER);
  const rows = await db.select({ id: runs.id }).from(runs).where(over).orderBy(asc(runs.startedAt), asc(runs.id));
  return rows.map(({ id }) => id);
}

/** All runs with when they began. */
export const listRunMoments = (db: Database): Promise<{ id: string; startedAt: string }[]> =>
  db.select({ id: runs.id, startedAt: runs.startedAt }).from(runs);

/** Which of some runs are kept, and whether they are left out of what their drive testifies. */
export async function listRunStates(
  db: Database,
  ids: readonly string[],
): Promise<Map<string, { isLeftOut: boolean }>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select({ id: runs.id, leftOut: sql<string>`coalesce(${runs.opening}->>'leftOut', 'false')` })
    .from(runs)
    .where(inArray(runs.id, [...ids]));
  return new Map(rows.map(({ id, leftOut }) => [id, { isLeftOut: leftOut === 'true' }]));
}

/** Ids of the runs that may testify about a drive, newest first; those that a person left out do not. */
export async function runIdsOfDrive(db: Database, driveId: string, most: number): Promise<string[]> {
  const rows = await db
    .select({ id: runs.id })
    .from(runs)
    .where(
      and(
        eq(runs.driveId, driveId),
        inArray(runs.state, OVER),
        sql`coalesce(${runs.opening}->>'leftOut', 'false') = 'false'`,
      ),
    )
    .orderBy(desc(runs.startedAt))
    .limit(most);
  return rows.map((row) => row.id);
}

/** Changes what a person adds to a run. @throws Problem 404 */
export async function annotateRun(db: Database, id: string, { loudness, ...change }: Annotation): Promise<void> {
  const [row] = await db.select({ opening: runs.opening }).from(runs).where(eq(runs.id, id));
  if (!row) throw new Problem('unknown-run', `There is no run “${id}”. It may have been deleted.`, { status: 404 });
  await db
    .update(runs)
    .set({ opening: { ...row.opening, ...change } })
    .where(eq(runs.id, id));
  if (loudness !== undefined) await keepHeard(db, id, loudness);
}

export async function deleteRun(db: Database, id: string): Promise<void> {
  const deleted = await db.delete(runs).where(eq(runs.id, id)).returning({ id: runs.id });
  if (deleted.length === 0) {
    throw new Problem('unknown-run', `There is no run “${id}” to delete.`, { status: 404 });
  }
}

/**
 * Marks the runs that a crash cut off: what had been measured stays as an honest partial result.
 * @param hostId of this machine, where others measure into the same store; null where it is the only one
 * @returns their ids
 */
export async function closeInterruptedRuns(db: Database, hostId: string | null = null): Promise<string[]> {
  const open = await db
    .select()
    .from(runs)
    .where(and(inArray(runs.state, ['running', 'queued']), hostId === null ? undefined : eq(runs.hostId, hostId)));
  for (const row of open) {
    const run = await readRun(db, row.id);
    run.state = row.state === 'queued' ? 'stopped' : 'interrupted';
    run.endedAt = new Date(Date.parse(run.startedAt) + lastSecondsOf(run) * 1000).toISOString();
    await finishRun(db, run);
  }
  return open.map((row) => row.id);
}

const LONGEST_RUN_SECONDS = 7 * 86_400;

/** When the drive last worked for us and what it had to write in the hour before now. */
export async function driveHistory(db: Database, driveId: string, now: Date): Promise<DriveHistory> {
  const hourAgo = new Date(now.getTime() - 3_600_000).toISOString();
  const written = sql<number>`(${runs.summary}->'written'->>${driveId})::double precision`;
  // No run goes on for longer: what ended lately began since, and there is an index by that.
  const isLate = gt(runs.startedAt, new Date(now.getTime() - LONGEST_RUN_SECONDS * 1000).toISOString());
  const lastEnded = async (among: SQL | undefined): Promise<string | null> => {
    const ended = db.select({ endedAt: max(sql<string>`${runs.opening}->>'endedAt'`) }).from(runs);
    return (await ended.where(among))[0]?.endedAt ?? null;
  };
  // A copy is a run of its source and works its targets too.
  const worked = or(eq(runs.driveId, driveId), isNotNull(written));
  const endedAt = (await lastEnded(and(isLate, worked))) ?? (await lastEnded(worked));
  const [lately] = await db
    .select({ bytes: sum(written) })
    .from(runs)
    .where(and(isLate, sql`${runs.opening}->>'endedAt' > ${hourAgo}`));
  const [{ celsius: coolest } = { celsius: null }] = await db
    .select({ celsius: min(sql<number>`(${runs.summary}->>'startCelsius')::double precision`) })
    .from(runs)
    .where(eq(runs.driveId, driveId));
  return {
    restSeconds: endedAt === null ? null : Math.max(0, (now.getTime() - Date.parse(endedAt)) / 1000),
    writtenLastHourBytes: Number(lately?.bytes ?? 0),
    coolestCelsius: coolest === null ? null : Number(coolest),
  };
}
