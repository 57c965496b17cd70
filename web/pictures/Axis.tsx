import { ink } from '../theme/tokens.ts';
import type { PictureScale } from './scale.ts';

interface AxisProps {
  scale: PictureScale;
  format: (value: number) => string;
  /** Unit and kind of the axis, said once. */
  title: string;
}

/** Horizontal grid lines with their numbers at the left edge. */
export function RateAxis({
  scale,
  format,
  title,
  left,
  right,
  top,
}: AxisProps & { left: number; right: number; top: number }) {
  return (
    <g>
      <text x={0} y={top - 16} fill={ink('second')}>
        {title}
      </text>
      {scale.ticks.map((tick) => (
        <g key={tick} transform={`translate(0 ${scale(tick)})`}>
          <line x1={left} x2={right} stroke={ink('grid')} />
          <text x={left - 10} dy="0.35em" textAnchor="end" fill={ink('second')}>
            {format(tick)}
          </text>
        </g>
      ))}
    </g>
  );
}

/** Numbers along the bottom, the unit behind the last one. */
export function BottomAxis({ scale, format, title, y, right }: AxisProps & { y: number; right: number }) {
  return (
    <g fill={ink('second')}>
      {scale.ticks
        .filter((tick) => scale(tick) <= right + 1)
        .map((tick) => (
          <text key={tick} x={scale(tick)} y={y + 18} textAnchor="middle">
            {format(tick)}
          </text>
        ))}
      <text x={right} y={y + 35} textAnchor="end">
        {title}
      </text>
    </g>
  );
}
