import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { TraceColumn } from '#core/4-runs/trace/decimate.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import type { ReadOutLine } from '../kit/Cursor.tsx';
import { DIRECTION_STYLE } from '../kit/direction-style.ts';
import { MEGABYTE } from '../kit/units.ts';
import type { Stretches, ToAxis } from './trace-layout.ts';

/**
 * Mean, lowest and highest of each direction at a place of the axis.
 * @param near columns farther away than this are not there
 */
export function traceLines(at: number, stretches: Stretches, toAxis: ToAxis, near: number): ReadOutLine[] {
  const nearest = (direction: Direction): TraceColumn | null => {
    let best: TraceColumn | null = null;
    let distance = near;
    for (const { pass, columns } of stretches) {
      if (pass.direction !== direction) continue;
      for (const column of columns) {
        const away = Math.abs(toAxis(pass, column.at) - at);
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
