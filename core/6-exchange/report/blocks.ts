import type { Drawing, ReportInk } from '#core/6-exchange/report/drawings/drawing.ts';

/** What a part of a report is made of: neutral of whether it becomes a page, a table or a web page. */

/** Words that are set alike. */
export interface Words {
  text: string;
  isBold?: boolean;
  ink?: ReportInk;
}

export interface TableColumn {
  name: string;
  /** Numbers end where their column ends. */
  isNumber?: boolean;
  /** Width against the other columns, 1 by default. */
  weight?: number;
}

export type Block =
  | { kind: 'question'; text: string }
  | { kind: 'lead'; words: readonly Words[] }
  | { kind: 'heading'; text: string }
  | { kind: 'words'; words: readonly Words[] }
  | { kind: 'list'; items: readonly string[] }
  | { kind: 'table'; columns: readonly TableColumn[]; rows: readonly (readonly Words[])[] }
  | { kind: 'drawing'; drawing: Drawing }
  | { kind: 'remark'; text: string };

/** One number of a report, for the table of all of them. Without a unit where it is a word or a count. */
export interface ReportFigure {
  /** What it is a figure of: a drive, a run, an item. */
  of: string;
  name: string;
  value: string | number | null;
  unit: string;
}

/** What a part says. */
export interface PartContent {
  /** How it is listed. */
  title: string;
  blocks: Block[];
  figures: ReportFigure[];
}

export const plain = (text: string): Words[] => [{ text }];
