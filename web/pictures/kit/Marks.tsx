import type { ReactNode } from 'react';
import {
  DefaultZIndexes,
  usePlotArea,
  useXAxisInverseScale,
  useXAxisScale,
  useYAxisInverseScale,
  useYAxisScale,
  ZIndexLayer,
} from 'recharts';
import type { ChartScale } from '#core/1-ground/axis-span.ts';

/** The plot of a chart, in pixels of its picture. */
export interface Plot {
  left: number;
  right: number;
  top: number;
  bottom: number;
  x: ChartScale;
  y: ChartScale;
}

/** The plot of the chart around; null until its axes stand. */
export function usePlot(): Plot | null {
  const area = usePlotArea();
  const [x, y] = [useXAxisScale(), useYAxisScale()];
  const [fromX, fromY] = [useXAxisInverseScale(), useYAxisInverseScale()];
  if (!area || !x || !y || !fromX || !fromY) return null;
  const scale = (to: NonNullable<typeof x>, back: NonNullable<typeof fromX>): ChartScale =>
    Object.assign((value: number) => to(value) ?? NaN, { invert: (pixel: number) => Number(back(pixel)) });
  return {
    left: area.x,
    right: area.x + area.width,
    top: area.y,
    bottom: area.y + area.height,
    x: scale(x, fromX),
    y: scale(y, fromY),
  };
}

/** Where marks lie: under the lines, on them, or over all but what is read out. */
const LAYERS = { behind: 0, lines: DefaultZIndexes.line + 1, front: DefaultZIndexes.label + 1 } as const;

/** Marks of our own inside a chart, drawn on its scales. */
export function Marks({ at = 'front', children }: { at?: keyof typeof LAYERS; children: (plot: Plot) => ReactNode }) {
  const plot = usePlot();
  if (plot === null) return null;
  return <ZIndexLayer zIndex={LAYERS[at]}>{children(plot)}</ZIndexLayer>;
}
