/** Pictures of a report as a few kinds of marks, from which pages, web pages and files are drawn alike. */

/** Inks of print: paper is white, so these are those of the light theme. */
export const REPORT_INKS = {
  text: '#23241f',
  second: '#5d5d57',
  rule: '#b9b4aa',
  grid: '#dedad2',
  writing: '#8f5b00',
  reading: '#4450c8',
  heat: '#8f5960',
  holds: '#0a736b',
  tight: '#66640a',
  breaks: '#b3224f',
  notProven: '#66686c',
} as const;
export type ReportInk = keyof typeof REPORT_INKS;

/** Points of a page, 1/72 inch, from the upper left corner. */
export type Mark =
  /** x and y in turn. */
  | { kind: 'line'; points: readonly number[]; ink: ReportInk; width: number; dash?: readonly [number, number] }
  | { kind: 'area'; points: readonly number[]; ink: ReportInk; opacity: number }
  /** `y` is the base line. */
  | {
      kind: 'text';
      x: number;
      y: number;
      text: string;
      size: number;
      ink: ReportInk;
      isBold?: boolean;
      anchor: 'start' | 'middle' | 'end';
    };

export interface Drawing {
  height: number;
  /** At the width of the column that it is drawn for. */
  draw: (width: number) => Mark[];
  /** What it shows, for those who do not see it. */
  says: string;
}

/** Colour of the paper that pages are shown on. */
export const PAPER_COLOUR = '#fffefb';

const rounded = (value: number): string => String(Math.round(value * 100) / 100);

/** Points as SVG has them: “1.2,3 4,5”. */
export const pointsText = (points: readonly number[]): string =>
  points.reduce((text, at, index) => `${text}${index % 2 === 1 ? ',' : index === 0 ? '' : ' '}${rounded(at)}`, '');

/** Size of the words in pictures. */
export const LABEL_POINTS = 8;

export const label = (
  x: number,
  y: number,
  text: string,
  {
    ink = 'second',
    anchor = 'start',
    isBold,
  }: { ink?: ReportInk; anchor?: 'start' | 'middle' | 'end'; isBold?: boolean } = {},
): Mark => ({ kind: 'text', x, y, text, size: LABEL_POINTS, ink, anchor, ...(isBold ? { isBold } : {}) });

export const stroke = (
  points: readonly number[],
  ink: ReportInk,
  width = 0.8,
  dash?: readonly [number, number],
): Mark => ({ kind: 'line', points, ink, width, ...(dash ? { dash } : {}) });
