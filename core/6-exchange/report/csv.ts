import { csvText } from '#core/1-ground/csv.ts';
import { shownParts, type ComposedReport } from '#core/6-exchange/report/composed.ts';

/** Every figure of a report as a table: its part, what it is a figure of, its name, the number and its unit. */
export function reportCsv(composed: ComposedReport): string {
  const rows = shownParts(composed).flatMap(({ title, figures }) =>
    figures.map(({ of, name, value, unit }) => [title, of, name, value, unit]),
  );
  return csvText(['part', 'of', 'figure', 'value', 'unit'], rows);
}
