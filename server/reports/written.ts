import { extname } from 'node:path';
import { gzipSync } from 'node:zlib';
import { badInput } from '#core/1-ground/problem.ts';
import { withSchema } from '#core/1-ground/schema/document-kind.ts';
import { composedReport } from '#core/6-exchange/report/composed.ts';
import { reportCsv } from '#core/6-exchange/report/csv.ts';
import { reportHtml } from '#core/6-exchange/report/html.ts';
import { asItLeaves } from '#core/6-exchange/report/private.ts';
import type { Report } from '#core/6-exchange/report/report.ts';

/** What a report is made into, by the ending of its file. */
export const REPORT_FORMS = ['pdf', 'html', 'csv', 'json'] as const;
export type ReportForm = (typeof REPORT_FORMS)[number];

export const FORM_TYPES: Record<ReportForm, string> = {
  pdf: 'application/pdf',
  html: 'text/html; charset=utf-8',
  csv: 'text/csv; charset=utf-8',
  json: 'application/json; charset=utf-8',
};

/** A report as a file; what it is not to tell others is left out before anything is made of it. */
export async function writtenReport(report: Report, form: ReportForm): Promise<Buffer> {
  const leaves = asItLeaves(report);
  switch (form) {
    case 'pdf':
      // What makes it is large: nobody else waits for it to be loaded.
      return await (await import('#server/reports/pdf.ts')).reportPdf(composedReport(leaves));
    case 'html':
      return Buffer.from(reportHtml(composedReport(leaves), gzipSync(JSON.stringify(leaves)).toString('base64')));
    case 'csv':
      return Buffer.from(reportCsv(composedReport(leaves)));
    case 'json':
      return Buffer.from(`${JSON.stringify(withSchema(leaves))}\n`);
  }
}

/** The form that a file is to have by its name. @throws Problem `bad-input` */
export function formOf(file: string, where = 'out'): ReportForm {
  const ending = extname(file).slice(1).toLowerCase();
  const form = REPORT_FORMS.find((one) => one === ending);
  if (form) return form;
  throw badInput(where, `--${where}: “${file}” ends in none of .pdf, .html, .csv and .json. Name the file so.`);
}
