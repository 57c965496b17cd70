import { randomUUID } from 'node:crypto';
import { and, desc, eq, inArray, not, or } from 'drizzle-orm';
import { Problem } from '#core/1-ground/problem.ts';
import {
  documentsFrom,
  listedDocuments,
  neededBy,
  reportFrom,
  type Report,
  type ReportDocument,
  type ReportDocuments,
  type ReportOutline,
} from '#core/6-exchange/report/report.ts';
import { reportDocuments, reports } from '#server/store/schema.ts';
import type { Database } from '#server/store/database.ts';

/** A report as lists have it: without its documents. */
export interface KeptReport {
  outline: ReportOutline;
  revision: string;
  changedAt: string;
}

const columns = { outline: reports.outline, revision: reports.revision, changedAt: reports.changedAt };

/** The one changed last comes first. */
export const listReports = (db: Database): Promise<KeptReport[]> =>
  db.select(columns).from(reports).orderBy(desc(reports.changedAt), desc(reports.id));

/** Null when there is none, or none any more. */
export async function findReport(db: Database, id: string): Promise<KeptReport | null> {
  const [row] = await db.select(columns).from(reports).where(eq(reports.id, id));
  return row ?? null;
}

/** @throws Problem `not-found` */
export async function readKeptReport(db: Database, id: string): Promise<KeptReport> {
  const kept = await findReport(db, id);
  if (kept) return kept;
  throw new Problem('not-found', `There is no report “${id}”. It may have been deleted.`, { status: 404 });
}

/** The documents of a report, as they were when they were put in. */
export async function readDocuments(db: Database, reportId: string): Promise<ReportDocuments> {
  const rows = await db
    .select({ kind: reportDocuments.kind, id: reportDocuments.documentId, document: reportDocuments.document })
    .from(reportDocuments)
    .where(eq(reportDocuments.reportId, reportId))
    .orderBy(reportDocuments.kind, reportDocuments.documentId);
  return documentsFrom(rows as ReportDocument[]);
}

/** A report whole. @throws Problem `not-found` */
export async function readWholeReport(db: Database, id: string): Promise<Report> {
  const { outline } = await readKeptReport(db, id);
  return reportFrom(outline, await readDocuments(db, id));
}

/** Keeps what a person arranged and wrote; the documents stay. @throws Problem `not-found` */
export async function saveOutline(db: Database, outline: ReportOutline, now = new Date()): Promise<void> {
  const changed = await db
    .update(reports)
    .set({ outline, example: outline.example, changedAt: now.toISOString() })
    .where(eq(reports.id, outline.id))
    .returning({ id: reports.id });
  if (changed.length === 0) {
    throw new Problem('not-found', `There is no report “${outline.id}”. It may have been deleted.`, { status: 404 });
  }
}

/**
 * Keeps a report with documents that are put into it, or in the place of those there were; what no part needs any more
 * goes. One that is not there yet is made.
 */
export async function keepReport(
  db: Database,
  outline: ReportOutline,
  documents: ReportDocuments,
  now = new Date(),
): Promise<void> {
  const row = { example: outline.example, outline, revision: randomUUID(), changedAt: now.toISOString() };
  const needed = neededBy(outline);
  const unneeded = [
    ['runs', [...needed.runs]],
    ['profiles', [...needed.drives]],
    ['workloads', [...needed.workloads]],
    ['sizings', [...needed.projects]],
  ] as const;
  await db.transaction(async (tx) => {
    await tx
      .insert(reports)
      .values({ id: outline.id, ...row })
      .onConflictDoUpdate({ target: reports.id, set: row });
    for (const { kind, id, document } of listedDocuments(documents)) {
      await tx
        .insert(reportDocuments)
        .values({ reportId: outline.id, kind, documentId: id, document })
        .onConflictDoUpdate({
          target: [reportDocuments.reportId, reportDocuments.kind, reportDocuments.documentId],
          set: { document },
        });
    }
    const goes = unneeded.map(([kind, ids]) =>
      and(eq(reportDocuments.kind, kind), ids.length > 0 ? not(inArray(reportDocuments.documentId, ids)) : undefined),
    );
    await tx.delete(reportDocuments).where(and(eq(reportDocuments.reportId, outline.id), or(...goes)));
  });
}

/** @throws Problem `not-found` */
export async function deleteReport(db: Database, id: string): Promise<void> {
  const gone = await db.delete(reports).where(eq(reports.id, id)).returning({ id: reports.id });
  if (gone.length === 0) throw new Problem('not-found', `There is no report “${id}”.`, { status: 404 });
}
