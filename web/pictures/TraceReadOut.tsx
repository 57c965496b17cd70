import type { Direction } from '#core/run/run-document.ts';
import type { TraceColumn } from '#core/trace/decimate.ts';
import { formatNumber } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { DIRECTION_STYLE } from './direction-style.ts';
import type { PictureScale } from './scale.ts';
import { LEFT, MEGABYTE, type Stretches, type ToX } from './trace-layout.ts';

interface ReadOutProps {
  hover: number;
  stretches: Stretches;
  toX: ToX;
  top: number;
  bottom: number;
  right: number;
  x: PictureScale;
  unit: string;
}

/** What the trace says under the pointer: mean, lowest and highest of each direction. */
export function TraceReadOut({ hover, stretches, toX, top, bottom, right, x, unit }: ReadOutProps) {
  const nearest = (direction: Direction): TraceColumn | null => {
    let best: TraceColumn | null = null;
    let distance = 12;
    for (const { pass, columns } of stretches) {
      if (pass.direction !== direction) continue;
      for (const column of columns) {
        const away = Math.abs(toX(pass, column.at) - hover);
        if (away < distance) [best, distance] = [column, away];
      }
    }
    return best;
  };
  const lines = (['write', 'read'] as const).flatMap((direction) => {
    const column = nearest(direction);
    if (!column) return [];
    const rate = (value: number) => formatNumber(value / MEGABYTE);
    return [
      {
        direction,
        text: `${DIRECTION_STYLE[direction].name} ${rate(column.mean)} (${rate(column.low)} – ${rate(column.high)})`,
      },
    ];
  });
  const left = hover > (LEFT + right) / 2;
  const at = left ? hover - 10 : hover + 10;
  return (
    <g pointerEvents="none">
      <line x1={hover} x2={hover} y1={top} y2={bottom} stroke={ink('second')} strokeDasharray="2 3" />
      {[{ direction: null, text: `${formatNumber(x.invert(hover))} ${unit}` }, ...lines].map(
        ({ direction, text }, index) => (
          <text
            key={text}
            x={at}
            y={bottom - 12 - (lines.length - index) * 17}
            textAnchor={left ? 'end' : 'start'}
            fill={direction ? DIRECTION_STYLE[direction].colour : ink('text')}
            stroke={ink('page')}
            strokeWidth={4}
            paintOrder="stroke"
            fontWeight={650}
          >
            {text}
          </text>
        ),
      )}
    </g>
  );
}
