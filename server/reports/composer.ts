import type { ReportPages } from '#core/6-exchange/api/wire.ts';
import { badInput } from '#core/1-ground/problem.ts';
import type { KeptNow } from '#core/6-exchange/report/changed.ts';
import type { Report, ReportDocuments, ReportOutline } from '#core/6-exchange/report/report.ts';
import type { ReadFile, ReportWorker } from '#server/reports/report-worker.ts';
import type { ReportForm } from '#server/reports/written.ts';
import { remoteThread } from '#server/threads/remote-thread.ts';

/** Works reports out beside the thread that looks how runs go on. */
export interface Composer {
  pages(outline: ReportOutline, revision: string, load: () => Promise<ReportDocuments>): Promise<ReportPages>;
  /** @throws Problem `bad-input` when there is no report in the file */
  read(file: Uint8Array, where: string): Promise<Report>;
  file(outline: ReportOutline, documents: ReportDocuments, form: ReportForm): Promise<Buffer>;
  changes(outline: ReportOutline, documents: ReportDocuments, now: KeptNow): Promise<Record<string, string[]>>;
  close(): Promise<void>;
}

export function createComposer(): Composer {
  const thread = remoteThread<ReportWorker>('report-worker', 'The report could not be worked out. Try it again.');
  return {
    async pages(outline, revision, load) {
      const known = await thread.ask((remote) => remote.pages(outline, revision, null));
      if (known) return known;
      const documents = await load();
      return (await thread.ask((remote) => remote.pages(outline, revision, documents)))!;
    },
    async read(file, where) {
      const { report, refused } = await thread.ask<ReadFile>((remote) => remote.read(file, where));
      if (report === null) throw badInput('file', refused);
      return report;
    },
    file: async (outline, documents, form) =>
      Buffer.from(await thread.ask((remote) => remote.file(outline, documents, form))),
    changes: (outline, documents, now) => thread.ask((remote) => remote.changes(outline, documents, now)),
    close: () => thread.close(),
  };
}
