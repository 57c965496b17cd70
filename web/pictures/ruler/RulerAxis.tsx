import { ink } from '../../theme/tokens.ts';
import { readableTicks } from '../kit/readable-ticks.ts';
import type { PictureScale } from '#core/1-ground/axis-span.ts';

interface RulerAxisProps {
  scale: PictureScale;
  format: (value: number) => string;
  /** Unit and kind of the axis, said once. */
  title: string;
  left: number;
  right: number;
  top: number;
  y: number;
}

/** Lines across all lanes with their numbers along the bottom, the unit under the last one. */
export function RulerAxis({ scale, format, title, left, right, top, y }: RulerAxisProps) {
  return (
    <g fill={ink('second')}>
      {scale.ticks.map((tick) => (
        <line key={tick} x1={scale(tick)} x2={scale(tick)} y1={top} y2={y} stroke={ink('grid')} />
      ))}
      <line x1={left} x2={right} y1={y} y2={y} stroke={ink('rule')} />
      {readableTicks(scale, format)
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
