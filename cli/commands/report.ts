import type { Command } from 'commander';
import { bytesOf, writeOut } from '#cli/files.ts';
import { print, printJson, tableLines } from '#cli/output.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import type { Block } from '#core/6-exchange/report/blocks.ts';
import { composedReport, shownParts, titleOf, type ComposedReport } from '#core/6-exchange/report/composed.ts';
import { asItLeaves } from '#core/6-exchange/report/private.ts';
import { readReport } from '#server/reports/read-back.ts';
import { formOf, writtenReport } from '#server/reports/written.ts';

interface ReportFlags {
  out?: string;
  whole?: boolean;
  json?: boolean;
}

export function addReportCommand(program: Command): void {
  program
    .command('report')
    .description('a report as PDF, web page or table, or printed here; worked out anew from the documents in it')
    .argument('<file>', 'a report as PDF, HTML or JSON')
    .option('--out <file>', 'where it goes; its ending says what it is to be: .pdf, .html, .csv or .json')
    .option('--whole', 'with paths, names of machines, serial numbers and notes, whatever the report says')
    .option('--json', 'print what it says as JSON')
    .action(async (path: string, { out, whole = false, json = false }: ReportFlags) => {
      const read = readReport(await bytesOf(path, 'file'), 'file');
      const report = whole ? { ...read, isPrivate: false } : read;
      if (out !== undefined) {
        const bytes = await writtenReport(report, formOf(out));
        await writeOut(out, (write) => write(bytes));
        if (json) printJson({ file: out, bytes: bytes.length });
        else print(`${out}, ${bytesText(bytes.length)}`);
        return;
      }
      const composed = composedReport(asItLeaves(report));
      if (json) printJson(asJson(composed));
      else linesOf(composed).forEach(print);
    });
}

function asJson(composed: ComposedReport) {
  return {
    title: titleOf(composed.report),
    head: composed.head,
    parts: shownParts(composed).map(({ title, blocks, figures }) => ({
      title,
      text: blocks.flatMap(blockLines),
      figures,
    })),
  };
}

const linesOf = (composed: ComposedReport): string[] => [
  composed.head,
  ...shownParts(composed).flatMap(({ blocks }) => ['', ...blocks.flatMap(blockLines)]),
];

/** A block as lines of text; of a picture what it shows. */
function blockLines(block: Block): string[] {
  switch (block.kind) {
    case 'question':
    case 'heading':
      return [block.text];
    case 'lead':
    case 'words':
      return [block.words.map(({ text }) => text).join('')];
    case 'list':
      return block.items.map((item) => `– ${item}`);
    case 'remark':
      return block.text.split('\n').map((line) => `  | ${line}`);
    case 'drawing':
      return [`[${block.drawing.says}]`];
    case 'table':
      return tableLines([
        block.columns.map(({ name }) => name),
        ...block.rows.map((cells) => cells.map(({ text }) => text)),
      ]);
  }
}
