import { workerData } from 'node:worker_threads';
import { expose, type Endpoint } from 'comlink';
import { composedReport, pagesOf } from '#core/6-exchange/report/composed.ts';
import type { ReportPages } from '#core/6-exchange/api/wire.ts';
import { forOthers } from '#core/6-exchange/report/private.ts';
import { reportFrom, type Report, type ReportDocuments, type ReportOutline } from '#core/6-exchange/report/report.ts';
import { changesSince, type KeptNow } from '#core/6-exchange/report/changed.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { readReport } from '#server/reports/read-back.ts';
import { writtenReport, type ReportForm } from '#server/reports/written.ts';

/**
 * The documents of the report that was worked on last, as they are and as others get them: while a person writes, they
 * stay, and so does what was worked out from them.
 */
let held: { revision: string; whole: ReportDocuments; others: ReportDocuments } | null = null;

/** Takes documents where they are given, else those of the revision; null where these are not held. */
function documentsOf(outline: ReportOutline, revision: string, given: ReportDocuments | null): typeof held {
  if (given) held = { revision, whole: given, others: forOthers(reportFrom(outline, given)).documents };
  return held?.revision === revision ? held : null;
}

/** What was read: a report, or why there is none. */
export interface ReadFile {
  report: Report | null;
  refused: string;
}

const functions = {
  /** The report on its pages, and what its parts are called; null where its documents have to be given. */
  pages(outline: ReportOutline, revision: string, given: ReportDocuments | null): ReportPages | null {
    const documents = documentsOf(outline, revision, given);
    if (!documents) return null;
    const composed = composedReport(reportFrom(outline, outline.isPrivate ? documents.others : documents.whole));
    return {
      pages: pagesOf(composed),
      titles: Object.fromEntries(composed.parts.map(({ partId, title }) => [partId, title])),
    };
  },

  /** The report in a file, or the sentence that says why there is none. */
  read(file: Uint8Array, where: string): ReadFile {
    try {
      return { report: readReport(file, where), refused: '' };
    } catch (error) {
      if (error instanceof Problem) return { report: null, refused: error.detail };
      throw error;
    }
  },

  /** A report as a file. */
  async file(outline: ReportOutline, documents: ReportDocuments, form: ReportForm): Promise<Uint8Array> {
    return await writtenReport(reportFrom(outline, documents), form);
  },

  /** What is not any more as a report tells it, by part. */
  changes(outline: ReportOutline, documents: ReportDocuments, now: KeptNow): Record<string, string[]> {
    return Object.fromEntries(changesSince(reportFrom(outline, documents), now));
  },
};
export type ReportWorker = typeof functions;

expose(functions, workerData as Endpoint);
