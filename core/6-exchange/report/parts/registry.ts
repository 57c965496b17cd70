import { buildPart } from '#core/6-exchange/report/parts/build.ts';
import { comparisonPart, loadPart, seriesPart } from '#core/6-exchange/report/parts/drives.ts';
import { answerPart, notProvenPart, verdictsPart } from '#core/6-exchange/report/parts/questions.ts';
import { conditionsPart, copyPart, runPart } from '#core/6-exchange/report/parts/runs.ts';
import type { ReportBasis } from '#core/6-exchange/report/basis.ts';
import type { PartContent } from '#core/6-exchange/report/blocks.ts';
import type { PartKind, PartOf, ReportPart } from '#core/6-exchange/report/report.ts';

/** What each kind of part says; a new one is a function and a line here. */
const PARTS: { [Kind in PartKind]: (part: PartOf<Kind>, basis: ReportBasis) => PartContent } = {
  answer: answerPart,
  run: runPart,
  'not-proven': notProvenPart,
  verdicts: verdictsPart,
  comparison: comparisonPart,
  copy: copyPart,
  series: seriesPart,
  load: loadPart,
  build: buildPart,
  conditions: conditionsPart,
};

/**
 * The order of a technical note: what was asked and the answer, what was measured and how, what is not proven, the
 * verdicts, what else was looked at, conditions and doubts.
 */
const ORDER = Object.keys(PARTS) as PartKind[];

/** What a part says, with the remark under it. */
export function contentOf(part: ReportPart, basis: ReportBasis): PartContent {
  const content = (PARTS[part.kind] as (part: ReportPart, basis: ReportBasis) => PartContent)(part, basis);
  if (part.remark === '') return content;
  return { ...content, blocks: [...content.blocks, { kind: 'remark', text: part.remark }] };
}

/** Where a new part belongs among those there are: behind the last that does not come after it in a note. */
export function placeFor(kind: PartKind, parts: readonly ReportPart[]): number {
  const rank = ORDER.indexOf(kind);
  return parts.findLastIndex((one) => ORDER.indexOf(one.kind) <= rank) + 1;
}
