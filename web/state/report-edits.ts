import type { ReportEntry } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { Put } from '#core/6-exchange/report/put.ts';
import { api } from '../api/client.ts';
import { useContextStore } from './context.ts';
import { refresh, useLibrary } from './library.ts';
import { deleteKept } from './undo.ts';

/** What came of a change: the report as it is then, or a sentence. */
export type Changed = { report: ReportEntry; problem?: undefined } | { report?: undefined; problem: string };

async function attempt(doing: () => Promise<ReportEntry>): Promise<Changed> {
  try {
    const report = await doing();
    useContextStore.getState().set({ reportId: report.outline.id });
    await refresh('reports');
    return { report };
  } catch (error) {
    return { problem: error instanceof Problem ? error.detail : String(error) };
  }
}

/** The report that is worked on: the chosen one, else the one of the person's own that was changed last. */
export function currentReport(reports: readonly ReportEntry[], reportId: string | null): ReportEntry | undefined {
  return reports.find(({ outline }) => outline.id === reportId) ?? reports.find(({ outline }) => !outline.example);
}

/** Today where the person is, as 2026-03-12. */
function today(): string {
  const now = new Date();
  const two = (value: number) => String(value).padStart(2, '0');
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
}

/** Puts what is shown into the report that is worked on; the first begins one. */
export const putIntoReport = (put: Put): Promise<Changed> =>
  attempt(async () => {
    const current = currentReport(useLibrary.getState().reports, useContextStore.getState().reportId);
    const report = current ?? (await api.beginReport(today()));
    return await api.putIntoReport(report.outline.id, put);
  });

export const beginReport = (): Promise<Changed> => attempt(() => api.beginReport(today()));
export const copyReport = (reportId: string): Promise<Changed> => attempt(() => api.copyReport(reportId));
export const renewReport = (reportId: string): Promise<Changed> => attempt(() => api.renewReport(reportId));
export const saveReport = (outline: ReportEntry['outline']): Promise<Changed> => attempt(() => api.saveReport(outline));

/** A report from a file of the person's own, whichever of its forms it has. */
export const readReport = (file: File): Promise<Changed> =>
  attempt(async () => await api.readReport(file.name, await base64Of(file)));

/** @returns why it was not deleted */
export async function deleteReport(reportId: string): Promise<string | undefined> {
  try {
    const { title = 'The report' } = useLibrary.getState().reports.find(({ outline }) => outline.id === reportId) ?? {};
    await deleteKept('report', reportId, title, () => api.deleteReport(reportId));
    useContextStore.getState().set({ reportId: null });
    await refresh('reports');
    return undefined;
  } catch (error) {
    return error instanceof Problem ? error.detail : String(error);
  }
}

function base64Of(file: File): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    // A data URL ends with what is in the file.
    reader.onload = () => resolve((reader.result as string).split(',', 2)[1] ?? '');
    reader.onerror = () =>
      reject(
        new Problem('bad-input', 'It cannot be read. It may have been changed or taken away since it was chosen.'),
      );
    reader.readAsDataURL(file);
  });
}
