import { scaleLinear, scaleLog } from 'd3-scale';

/** What an axis covers, with ticks that fit the space. */
export interface AxisSpan {
  from: number;
  to: number;
  ticks: number[];
  isLog: boolean;
}

/** From values to pixels, and back. */
export interface ChartScale {
  (value: number): number;
  invert(pixel: number): number;
}

/** The same with its ticks, for pictures that place all of their marks themselves. */
export interface PictureScale extends ChartScale {
  ticks: readonly number[];
  isLog: boolean;
}

/** Ticks at 1, 2 and 5 (or 1 and 3, or 1) of each decade, as many as `most` allows. */
function decadeTicks(low: number, high: number, most: number): number[] {
  for (const steps of [[1, 2, 5], [1, 3], [1]]) {
    const ticks: number[] = [];
    for (let decade = Math.floor(Math.log10(low)); decade <= Math.ceil(Math.log10(high)); decade += 1) {
      for (const step of steps) {
        const tick = step * 10 ** decade;
        if (tick >= low * 0.999 && tick <= high * 1.001) ticks.push(tick);
      }
    }
    if (ticks.length <= most || steps.length === 1) return ticks;
  }
  return [];
}

/** Whole steps of 1, 2, 5 around the values, to be drawn logarithmically. */
export function logSpan(low: number, high: number, most: number): AxisSpan {
  const from = stepAround(low, 'below');
  const to = stepAround(high, 'above');
  return { from, to, ticks: decadeTicks(from, to, most), isLog: true };
}

/** The step of 1, 2 or 5 times a power of ten next below or above a value. */
function stepAround(value: number, side: 'below' | 'above'): number {
  const decade = 10 ** Math.floor(Math.log10(value));
  const steps = [1, 2, 5, 10].map((step) => step * decade);
  return side === 'below'
    ? steps.filter((step) => step <= value * 1.0001).at(-1)!
    : steps.find((step) => step >= value * 0.9999)!;
}

/** From `low` to `high`, or to the next tick over it. */
export function linearSpan(low: number, high: number, most: number, nice = true): AxisSpan {
  const scale = scaleLinear([low, high], [0, 1]);
  if (nice) scale.nice(most);
  const [from, to] = scale.domain() as [number, number];
  return { from, to, ticks: scale.ticks(most), isLog: false };
}

/** Rates that span more than this are drawn on a logarithmic axis. */
export const LOG_SPAN = 8;

/** An axis for rates from the lowest to the highest: from nothing, or by decades where they lie far apart. */
export const rateSpan = (low: number, high: number, most: number): AxisSpan =>
  high > LOG_SPAN * low ? logSpan(low, high, most + 1) : linearSpan(0, high, most);

/** The scale of a span, with its pixels still to be set; a logarithmic one puts nothing, and what is below it, at its foot. */
export const scaleOf = ({ from, to, isLog }: AxisSpan) =>
  isLog ? scaleLog().domain([from, to]).clamp(true) : scaleLinear().domain([from, to]);

/** A span along pixels, for pictures that place all of their marks themselves. */
export function pixelScale(span: AxisSpan, pixels: [number, number]): PictureScale {
  const scale = scaleOf(span).range(pixels);
  return Object.assign((value: number) => scale(value), {
    ticks: span.ticks,
    isLog: span.isLog,
    invert: (pixel: number) => scale.invert(pixel),
  });
}
