import { ink } from '../../theme/tokens.ts';
import { textWidth } from './labels.ts';
import { LABEL_SIZE } from './Picture.tsx';
import type { PictureScale } from './scale.ts';

interface AxisProps {
  scale: Pick<PictureScale, 'ticks'> & ((value: number) => number);
  format: (value: number) => string;
  /** Unit and kind of the axis, said once. */
  title: string;
  left: number;
  right: number;
}

/** Horizontal grid lines with their numbers at the left edge. */
export function LeftAxis({ scale, format, title, left, right, top }: AxisProps & { top: number }) {
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

/** Space between two numbers of an axis, pixels. */
const LEAST_GAP = 8;

/** Ticks whose numbers do not run into each other: all of them, or every second, third and so on. */
export function readableTicks({ scale, format }: Pick<AxisProps, 'scale' | 'format'>): number[] {
  const fits = (ticks: readonly number[]): boolean => {
    let end = -Infinity;
    return ticks.every((tick) => {
      const half = textWidth(format(tick), LABEL_SIZE) / 2;
      const isFree = scale(tick) - half >= end + LEAST_GAP;
      end = scale(tick) + half;
      return isFree;
    });
  };
  for (let every = 1; every < scale.ticks.length; every += 1) {
    const ticks = scale.ticks.filter((_, index) => index % every === 0);
    if (fits(ticks)) return ticks;
  }
  return scale.ticks.slice(0, 1);
}

interface BottomAxisProps extends AxisProps {
  y: number;
  /** Upper end of vertical grid lines, where the picture has them. */
  gridTop?: number;
  /** Where the title stands; at the right edge else. */
  titleAnchor?: 'middle' | 'end';
}

/** Numbers along the bottom, the unit under the last one. */
export function BottomAxis({ scale, format, title, left, right, y, gridTop, titleAnchor = 'end' }: BottomAxisProps) {
  const titleX = titleAnchor === 'end' ? right : (left + right) / 2;
  return (
    <g fill={ink('second')}>
      {gridTop !== undefined &&
        scale.ticks.map((tick) => (
          <line key={tick} x1={scale(tick)} x2={scale(tick)} y1={gridTop} y2={y} stroke={ink('grid')} />
        ))}
      <line x1={left} x2={right} y1={y} y2={y} stroke={ink('rule')} />
      {readableTicks({ scale, format })
        .filter((tick) => scale(tick) <= right + 1)
        .map((tick) => (
          <text key={tick} x={scale(tick)} y={y + 18} textAnchor="middle">
            {format(tick)}
          </text>
        ))}
      <text x={titleX} y={y + 35} textAnchor={titleAnchor}>
        {title}
      </text>
    </g>
  );
}
