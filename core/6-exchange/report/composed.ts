import { longDay } from '#core/1-ground/units/format.ts';
import { reportBasis } from '#core/6-exchange/report/basis.ts';
import type { PartContent } from '#core/6-exchange/report/blocks.ts';
import { layOut, type Page } from '#core/6-exchange/report/pages/lay-out.ts';
import { isPrintable } from '#core/6-exchange/report/pages/type.ts';
import { contentOf } from '#core/6-exchange/report/parts/registry.ts';
import type { Report } from '#core/6-exchange/report/report.ts';

/** A report worked out from its documents: what every part says. */
export interface ComposedReport {
  report: Report;
  /** Of all parts, also those that are left out, in their order. */
  parts: (PartContent & { partId: string; isLeftOut: boolean })[];
  /** “Lowlight Dome Works · 12 March 2026 · for the production office”. */
  head: string;
}

export function composedReport(report: Report): ComposedReport {
  const basis = reportBasis(report);
  const { byWhom, date, forWhom } = report;
  return {
    report,
    parts: report.parts.map((part) => ({ ...contentOf(part, basis), partId: part.id, isLeftOut: part.isLeftOut })),
    head: [byWhom, longDay(date), forWhom === '' ? '' : `for ${forWhom}`].filter((one) => one !== '').join(' · '),
  };
}

/** Parts that are shown. */
export const shownParts = ({ parts }: ComposedReport): ComposedReport['parts'] =>
  parts.filter(({ isLeftOut }) => !isLeftOut);

/** Its title: as it was typed, else the first question. */
export const titleOf = ({ title, asked }: Pick<Report, 'title' | 'asked'>): string =>
  title !== '' ? title : (asked[0]?.question ?? 'Report');

/** Whether its first part is the question that is its title: then no title stands above it. */
export const beginsWithTitle = (composed: ComposedReport): boolean =>
  shownParts(composed)[0]?.blocks.some(
    (block) => block.kind === 'question' && block.text === titleOf(composed.report),
  ) ?? false;

/** The report on pages. A title that is not the question itself stands above it. */
export function pagesOf(composed: ComposedReport): Page[] {
  const { report, head } = composed;
  const parts = shownParts(composed);
  const title = beginsWithTitle(composed)
    ? []
    : [{ partId: TITLE_PART, blocks: [{ kind: 'question' as const, text: titleOf(report) }] }];
  const empty =
    parts.length > 0 ? [] : [{ partId: TITLE_PART, blocks: [{ kind: 'words' as const, words: [{ text: EMPTY }] }] }];
  return layOut([...title, ...empty, ...parts], report.paper, { head, foot: footText(composed) });
}

const TITLE_PART = 'title';
const EMPTY = 'There is nothing in this report yet.';

/** What the foot of a page says of the file. */
function footText({ report, parts }: ComposedReport): string {
  const isWhole = parts.every(({ blocks }) => isPrintable(JSON.stringify(blocks)));
  const letters = isWhole ? '' : ' Letters that this typeface lacks stand as ?';
  const { length } = report.documents.runs;
  const measured =
    length === 0
      ? 'Made with Tavrox; no run is in this file.'
      : `Made with Tavrox from ${length === 1 ? 'one run, which is' : `${length} runs, which are`} in this file.`;
  return `${measured}${letters}`;
}
