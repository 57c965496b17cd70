import { linearSpan } from '#core/1-ground/axis-span.ts';
import { greatest } from '#core/1-ground/numbers/statistics.ts';
import { chart } from '#core/6-exchange/report/drawings/chart.ts';
import { label, stroke, type Drawing, type ReportInk } from '#core/6-exchange/report/drawings/drawing.ts';

export interface DrawnCurve {
  x: readonly number[];
  y: readonly number[];
  ink: ReportInk;
  /** Each value lasts until the next. */
  isStepped?: boolean;
  isFilled?: boolean;
}

/** A level that is named. */
export interface DrawnLevel {
  at: number;
  name: string;
  ink: ReportInk;
}

const HEIGHT = 160;

/** One or several curves over an axis from nothing, and levels across them. */
export function curveDrawing(
  curves: readonly DrawnCurve[],
  levels: readonly DrawnLevel[],
  axes: { across: string; up: string; text?: (value: number) => string },
  says: string,
): Drawing {
  const farthest = greatest(
    curves.map(({ x }) => x.at(-1) ?? 0),
    1e-9,
  );
  const highest = greatest([...curves.map(({ y }) => greatest(y, 0)), ...levels.map(({ at }) => at)], 1e-9);
  return {
    height: HEIGHT,
    says,
    draw(width) {
      const plot = chart(
        width,
        HEIGHT,
        { span: linearSpan(0, farthest, 7, false), name: axes.across, ...(axes.text ? { text: axes.text } : {}) },
        { span: linearSpan(0, highest, 5), name: axes.up },
        110,
      );
      const { x, y, left, right, bottom } = plot;
      const lines = curves.flatMap((curve) => {
        const points = curve.x.flatMap((at, index) => {
          const value = y(curve.y[index]!);
          const next = curve.x[index + 1];
          return curve.isStepped && next !== undefined ? [x(at), value, x(next), value] : [x(at), value];
        });
        const filled = [...points, x(curve.x.at(-1) ?? 0), bottom, x(curve.x[0] ?? 0), bottom];
        return [
          ...(curve.isFilled ? [{ kind: 'area' as const, points: filled, ink: curve.ink, opacity: 0.18 }] : []),
          stroke(points, curve.ink, 1.1),
        ];
      });
      const named = levels.flatMap(({ at, name, ink }) => [
        stroke([left, y(at), right, y(at)], ink, 0.9, [4, 2.5]),
        label(right + 5, y(at) + 2.8, name, { ink }),
      ]);
      return [...plot.marks, ...lines, ...named];
    },
  };
}
