import { ink } from '../../theme/tokens.ts';
import { LABEL_SIZE } from './labels.ts';
import { scaleOf, type AxisSpan } from '#core/1-ground/axis-span.ts';

/** What the axes of all charts have: our spans and ticks, numbers in one style, and no marks beside them. */
export function axisOf(span: AxisSpan) {
  return {
    type: 'number',
    scale: scaleOf(span),
    domain: [span.from, span.to] as [number, number],
    allowDataOverflow: true,
    ticks: span.ticks,
    interval: 0,
    tick: { fill: ink('second'), fontSize: LABEL_SIZE },
    tickLine: false,
    tickSize: 0,
    axisLine: false,
  } as const;
}
