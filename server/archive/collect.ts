import { eq } from 'drizzle-orm';
import { ARCHIVE_KINDS, type ArchiveKind } from '#core/6-exchange/archive/archive-kinds.ts';
import { DRIVE_VERSION, PROJECT_VERSION, type ArchiveDocument } from '#core/6-exchange/archive/archive.ts';
import { SETTINGS_ID } from '#core/6-exchange/archive/settings.ts';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { reportFrom } from '#core/6-exchange/report/report.ts';
import { findReport, listReports, readDocuments } from '#server/store/reports.ts';
import { findRun, listFinishedRunIds } from '#server/store/runs.ts';
import { drives, projects, workloads } from '#server/store/schema.ts';
import { findSettings } from '#server/store/settings.ts';
import type { Database } from '#server/store/database.ts';

/** What of a workspace is asked for: kinds, or single things of a kind by their ids; null for all of it. */
export type Selection = Record<ArchiveKind, readonly string[] | null>;

export const EVERYTHING: Selection = {
  drive: null,
  run: null,
  workload: null,
  project: null,
  report: null,
  settings: null,
};
export const NOTHING: Selection = { drive: [], run: [], workload: [], project: [], report: [], settings: [] };

/**
 * What is asked for in words: kinds, or kind:id, parted by commas; everything where nothing is said.
 * @throws Problem `bad-input` for a kind that there is not
 */
export function selectionOf(text: string): Selection {
  if (text === '') return EVERYTHING;
  const selection: Record<ArchiveKind, string[] | null> = { ...(NOTHING as Record<ArchiveKind, string[]>) };
  for (const part of text.split(',')) {
    const [name, ...rest] = part.trim().split(':');
    const kind = ARCHIVE_KINDS.find((one) => one === name);
    if (!kind) throw badInput('only', `only: “${part}” is none of ${ARCHIVE_KINDS.join(', ')}, alone or with :id.`);
    selection[kind] = rest.length === 0 ? null : [...(selection[kind] ?? []), rest.join(':')];
  }
  return selection;
}

/** A document with when a person changed it last. */
export type Collected = ArchiveDocument & { changedAt: string | null };

/** Ids of what is kept of each kind, of a selection. Runs that go on are not among them. */
export async function selectedIds(db: Database, selection: Selection): Promise<Record<ArchiveKind, string[]>> {
  const all: Record<ArchiveKind, string[]> = {
    drive: (await db.select({ id: drives.id }).from(drives)).map(({ id }) => id),
    run: await listFinishedRunIds(db),
    workload: (await db.select({ id: workloads.id }).from(workloads).orderBy(workloads.position)).map(({ id }) => id),
    project: (await db.select({ id: projects.id }).from(projects).orderBy(projects.id)).map(({ id }) => id),
    report: (await listReports(db)).map(({ outline }) => outline.id),
    settings: (await findSettings(db)) ? [SETTINGS_ID] : [],
  };
  for (const kind of ARCHIVE_KINDS) {
    const wanted = selection[kind];
    if (wanted === null) continue;
    const missing = wanted.find((id) => !all[kind].includes(id));
    if (missing !== undefined)
      throw new Problem('not-found', `There is no ${kind} “${missing}” here.`, { status: 404 });
    all[kind] = [...wanted];
  }
  return all;
}

/** Documents one after the other: a workspace can be larger than memory. What was deleted meanwhile is left out. */
export async function* collected(db: Database, ids: Record<ArchiveKind, readonly string[]>): AsyncGenerator<Collected> {
  for (const kind of ARCHIVE_KINDS) {
    for (const id of ids[kind]) {
      const one = await collectedOne(db, kind, id);
      if (one) yield one;
    }
  }
}

/** One document with when it was changed; null where there is none. */
export async function collectedOne(db: Database, kind: ArchiveKind, id: string): Promise<Collected | null> {
  switch (kind) {
    case 'drive': {
      const [row] = await db.select().from(drives).where(eq(drives.id, id));
      if (!row) return null;
      const { changedAt, ...card } = row;
      return { kind, document: { tavrox: DRIVE_VERSION, ...card }, changedAt: momentOf(changedAt) };
    }
    case 'run': {
      const document = await findRun(db, id);
      return document && { kind, document, changedAt: null };
    }
    case 'workload': {
      const [row] = await db.select().from(workloads).where(eq(workloads.id, id));
      return row ? { kind, document: row.document, changedAt: momentOf(row.changedAt) } : null;
    }
    case 'project': {
      const [row] = await db.select().from(projects).where(eq(projects.id, id));
      return row
        ? { kind, document: { tavrox: PROJECT_VERSION, ...row.document }, changedAt: momentOf(row.changedAt) }
        : null;
    }
    case 'report': {
      const kept = await findReport(db, id);
      if (!kept) return null;
      const document = reportFrom(kept.outline, await readDocuments(db, id));
      return { kind, document, changedAt: momentOf(kept.changedAt) };
    }
    case 'settings': {
      const kept = await findSettings(db);
      return kept && { kind, document: kept.document, changedAt: momentOf(kept.changedAt) };
    }
  }
}

/** A moment as documents have it; the store tells it in its own way. */
const momentOf = (moment: string | null): string | null => (moment === null ? null : new Date(moment).toISOString());
