import { DIRECTIONS, type Direction } from '#core/run/direction.ts';
import type { TraceColumn } from '#core/trace/decimate.ts';
import { formatNumber } from '#core/units/format.ts';
import { DIRECTION_STYLE } from '../kit/direction-style.ts';
import { MEGABYTE } from '../kit/units.ts';
import type { Stretches, ToX } from './trace-layout.ts';

/** Columns farther away than this are not under the pointer. */
const NEAR = 12;

/** What the trace says at a place: mean, lowest and highest of each direction. */
export function traceLines(at: number, stretches: Stretches, toX: ToX): { text: string; colour: string }[] {
  const nearest = (direction: Direction): TraceColumn | null => {
    let best: TraceColumn | null = null;
    let distance = NEAR;
    for (const { pass, columns } of stretches) {
      if (pass.direction !== direction) continue;
      for (const column of columns) {
        const away = Math.abs(toX(pass, column.at) - at);
        if (away < distance) [best, distance] = [column, away];
      }
    }
    return best;
  };
  return DIRECTIONS.flatMap((direction) => {
    const column = nearest(direction);
    if (!column) return [];
    const rate = (value: number) => formatNumber(value / MEGABYTE);
    return [
      {
        colour: DIRECTION_STYLE[direction].colour,
        text: `${DIRECTION_STYLE[direction].name} ${rate(column.mean)} (${rate(column.low)} – ${rate(column.high)})`,
      },
    ];
  });
}
