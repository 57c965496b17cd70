import { linearSpan, logSpan, LOG_SPAN, pixelScale } from '#core/1-ground/axis-span.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { label, stroke, type Drawing, type Mark, type ReportInk } from '#core/6-exchange/report/drawings/drawing.ts';

/** A row of a drawing: a bar from one value to another, with a notch, and words at its end. */
export interface DrawnRow {
  name: string;
  from: number;
  to: number;
  /** Where a stroke stands across the bar; null for none. */
  notch: number | null;
  words: string;
  ink: ReportInk;
  /** Drawn as an outline, for the second of two that belong together. */
  isOpen?: boolean;
}

const ROW = 17;
const NAMES = 130;
const WORDS = 92;
const HEAD = 14;
const FOOT = 24;

/** Bars under each other over one axis. */
export function rowsDrawing(rows: readonly DrawnRow[], unit: string, says: string): Drawing {
  const height = HEAD + rows.length * ROW + FOOT;
  return {
    height,
    says,
    draw(width) {
      const values = rows.flatMap(({ from, to }) => [from, to]).filter((value) => value > 0);
      const [low, high] = values.length > 0 ? [Math.min(...values), Math.max(...values)] : [1, 1];
      const positive = rows.every(({ from }) => from > 0) && high > LOG_SPAN * low;
      const span = positive ? logSpan(low, high, 9) : linearSpan(0, high, 7);
      const [left, right] = [NAMES, width - WORDS];
      const bottom = HEAD + rows.length * ROW;
      const x = pixelScale(span, [left, right]);
      const marks: Mark[] = span.ticks.flatMap((tick): Mark[] => [
        stroke([x(tick), HEAD - 4, x(tick), bottom], 'grid', 0.6),
        label(x(tick), bottom + 11, formatNumber(tick), { anchor: 'middle' }),
      ]);
      marks.push(label(right, bottom + 21, `${unit}${span.isLog ? ', logarithmic' : ''}`, { anchor: 'end' }));
      rows.forEach(({ name, from, to, notch, words, ink, isOpen }, index) => {
        const middle = HEAD + (index + 0.5) * ROW;
        const [begin, end] = [x(Math.max(from, span.from)), Math.max(x(Math.max(from, span.from)) + 1.5, x(to))];
        const box = [begin, middle - 4, end, middle - 4, end, middle + 4, begin, middle + 4];
        marks.push(label(0, middle + 2.8, name, { ink: 'text' }));
        marks.push({ kind: 'area', points: box, ink, opacity: isOpen ? 0.25 : 0.75 });
        if (isOpen) marks.push(stroke([...box, begin, middle - 4], ink, 0.7));
        if (notch !== null) marks.push(stroke([x(notch), middle - 6, x(notch), middle + 6], 'text', 1));
        marks.push(label(end + 5, middle + 2.8, words));
      });
      return marks;
    },
  };
}
