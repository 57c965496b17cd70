import { scaleLinear, scaleLog } from 'd3-scale';

/** An axis of a picture: from values to pixels, with ticks that fit the space. */
export interface PictureScale {
  (value: number): number;
  ticks: number[];
  isLog: boolean;
  invert(pixel: number): number;
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

/** Logarithmic axis over whole steps of 1, 2, 5 around the values. */
export function logScale(low: number, high: number, pixels: [number, number], most: number): PictureScale {
  const floor = stepAround(low, 'below');
  const top = stepAround(high, 'above');
  const scale = scaleLog([floor, top], pixels).clamp(true);
  return Object.assign((value: number) => scale(Math.max(value, floor)), {
    ticks: decadeTicks(floor, top, most),
    isLog: true,
    invert: (pixel: number) => scale.invert(pixel),
  });
}

/** The step of 1, 2 or 5 times a power of ten next below or above a value. */
function stepAround(value: number, side: 'below' | 'above'): number {
  const decade = 10 ** Math.floor(Math.log10(value));
  const steps = [1, 2, 5, 10].map((step) => step * decade);
  return side === 'below'
    ? steps.filter((step) => step <= value * 1.0001).at(-1)!
    : steps.find((step) => step >= value * 0.9999)!;
}

/** Linear axis from `low` to at least `high`, rounded up to a tick. */
export function linearScale(
  low: number,
  high: number,
  pixels: [number, number],
  most: number,
  nice = true,
): PictureScale {
  const scale = scaleLinear([low, high], pixels);
  if (nice) scale.nice(most);
  return Object.assign((value: number) => scale(value), {
    ticks: scale.ticks(most),
    isLog: false,
    invert: (pixel: number) => scale.invert(pixel),
  });
}
