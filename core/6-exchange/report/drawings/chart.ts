import { pixelScale, type AxisSpan, type PictureScale } from '#core/1-ground/axis-span.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { label, stroke, type Mark } from '#core/6-exchange/report/drawings/drawing.ts';

/** Room around the plot for numbers and names, points. */
const LEFT = 40;
const TOP = 10;
const BOTTOM = 26;

export interface ChartAxis {
  span: AxisSpan;
  /** What the numbers are, with their unit. */
  name: string;
  text?: (value: number) => string;
}

export interface PlottedChart {
  x: PictureScale;
  y: PictureScale;
  left: number;
  right: number;
  top: number;
  bottom: number;
  marks: Mark[];
}

/** Axes, grid and numbers of a chart; what stands in it is placed on its scales. */
export function chart(width: number, height: number, across: ChartAxis, up: ChartAxis, labelsWidth = 70): PlottedChart {
  const [left, right, top, bottom] = [LEFT, width - labelsWidth, TOP, height - BOTTOM];
  const x = pixelScale(across.span, [left, right]);
  const y = pixelScale(up.span, [bottom, top]);
  const marks: Mark[] = [];
  const upText = up.text ?? ((value: number) => formatNumber(value));
  const acrossText = across.text ?? ((value: number) => formatNumber(value));
  for (const tick of up.span.ticks) {
    marks.push(stroke([left, y(tick), right, y(tick)], tick === up.span.from ? 'rule' : 'grid', 0.6));
    marks.push(label(left - 5, y(tick) + 2.8, upText(tick), { anchor: 'end' }));
  }
  marks.push(stroke([left, bottom, right, bottom], 'rule', 0.6));
  for (const tick of across.span.ticks) {
    marks.push(label(x(tick), bottom + 11, acrossText(tick), { anchor: 'middle' }));
  }
  const scale = up.span.isLog ? ', logarithmic' : '';
  marks.push(label(left, top - 3, `${up.name}${scale}`));
  marks.push(label(right, bottom + 22, across.name, { anchor: 'end' }));
  return { x, y, left, right, top, bottom, marks };
}
