import { greatest, least } from '#core/1-ground/numbers/statistics.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { heatWords } from '#core/4-runs/supply/mark-words.ts';
import { ink } from '../../theme/tokens.ts';
import { Explained } from '../kit/Explained.tsx';
import type { Plot } from '../kit/Marks.tsx';
import { AXIS_HEIGHT, RIBBON_HEIGHT } from './trace-layout.ts';

export interface TemperaturePoint {
  atSeconds: number;
  celsius: number | null;
}

export interface TemperatureRibbonProps {
  points: readonly TemperaturePoint[];
  /** Place of a moment on the trace's axis; null where it has none. */
  toX: (seconds: number) => number | null;
  plot: Plot;
}

/** Smallest range of degrees drawn, so that a flat temperature looks flat. */
const LEAST_RANGE = 12;

/** Temperature as a thin line under the trace, on the same axis. */
export function TemperatureRibbon({ points, toX, plot: { left, right, bottom } }: TemperatureRibbonProps) {
  const [top, height] = [bottom + AXIS_HEIGHT, RIBBON_HEIGHT - 6];
  const placed = points.flatMap(({ atSeconds, celsius }) => {
    const x = toX(atSeconds);
    return x === null || celsius === null || x < left - 1 || x > right + 1 ? [] : [{ x, celsius }];
  });
  const [first, last] = [placed[0], placed.at(-1)];
  if (!first || !last) return null;
  const low = least(placed.map((point) => point.celsius));
  const hottest = greatest(placed.map((point) => point.celsius));
  const high = Math.max(hottest, low + LEAST_RANGE);
  const y = (celsius: number) => top + height - 4 - ((celsius - low) / (high - low)) * (height - 14);
  return (
    <Explained label={`Up to ${formatNumber(hottest)} °C`} words={heatWords(points)} isNamed>
      <text x={first.x - 10} y={y(first.celsius)} dy="0.35em" textAnchor="end" fill={ink('heat')}>
        {formatNumber(first.celsius)} °C
      </text>
      <path
        d={`M${placed.map((point) => `${point.x.toFixed(1)} ${y(point.celsius).toFixed(1)}`).join('L')}`}
        fill="none"
        stroke={ink('heat')}
        strokeWidth={1.8}
      />
      <text x={Math.min(last.x + 8, right + 8)} y={y(last.celsius)} dy="0.35em" fill={ink('heat')}>
        {formatNumber(last.celsius)} °C
      </text>
    </Explained>
  );
}
