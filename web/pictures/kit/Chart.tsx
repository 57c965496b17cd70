import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { CartesianGrid, ComposedChart, XAxis, YAxis } from 'recharts';
import { useSize } from '../../kit/use-size.ts';
import { FONT_FAMILY } from '../../theme/theme.ts';
import { ink } from '../../theme/tokens.ts';
import { readableTicks } from './readable-ticks.ts';
import { Cursor, type ReadOutLine } from './Cursor.tsx';
import { Marks } from './Marks.tsx';
import { axisOf } from './axis.ts';
import { pixelScale, type AxisSpan } from '#core/1-ground/axis-span.ts';
import { LABEL_SIZE } from './labels.ts';

export interface ChartAxis {
  span: AxisSpan;
  format: (value: number) => string;
  /** Unit and kind of the axis, said once. */
  title: string;
}

interface Insets {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

interface ChartProps {
  /** What the picture shows, for those who cannot see it. */
  label: string;
  x: ChartAxis;
  y: ChartAxis;
  /** Room around the plot, pixels. */
  plot: Insets;
  /** Height in pixels; left out, the picture takes as much as there is. */
  height?: number;
  /** Figures at a place along the x axis, under the pointer and by arrow keys; the first line says where. */
  readOut?: (at: number) => readonly ReadOutLine[];
  /** Whether things in it can be chosen: it is no single image then. */
  isInteractive?: boolean;
  /** How far its grid reaches over the plot to the right, pixels. */
  gridOver?: number;
  children: ReactNode;
}

/** Less than this shows nothing, pixels. */
const LEAST_PLOT = 40;

/** Ground of every chart: axes, grid and read-out in one style; lines and marks are its children. */
export function Chart({ label, x, y, plot, height, readOut, isInteractive, gridOver = 0, children }: ChartProps) {
  const [attach, size] = useSize();
  const drawn = height ?? size.height;
  const [across, up] = [size.width - plot.left - plot.right, drawn - plot.top - plot.bottom];
  const along = pixelScale(x.span, [plot.left, plot.left + across]);
  return (
    <Box
      ref={attach}
      data-picture=""
      sx={{
        position: 'relative',
        width: '100%',
        flex: height === undefined ? '1 1 0' : 'none',
        height,
        minHeight: 0,
      }}
    >
      {across >= LEAST_PLOT && up >= LEAST_PLOT && (
        <ComposedChart
          width={size.width}
          height={drawn}
          margin={{ left: 0, bottom: 0, right: plot.right, top: plot.top }}
          role={isInteractive || readOut ? 'group' : 'img'}
          aria-label={label}
          accessibilityLayer={false}
          className="drawn"
          style={{ position: 'absolute', inset: 0, fontFamily: FONT_FAMILY, fontSize: LABEL_SIZE }}
        >
          <CartesianGrid vertical={false} stroke={ink('grid')} syncWithTicks />
          <XAxis
            dataKey="x"
            {...axisOf(x.span)}
            ticks={readableTicks(along, x.format)}
            tickFormatter={x.format}
            tickMargin={11}
            axisLine={{ stroke: ink('rule') }}
            height={plot.bottom}
          />
          <YAxis {...axisOf(y.span)} tickFormatter={y.format} tickMargin={10} width={plot.left} />
          <Marks at="behind">
            {({ right, top, bottom, y: up }) => (
              <>
                {gridOver > 0 &&
                  y.span.ticks.map((tick) => (
                    <line
                      key={tick}
                      x1={right}
                      x2={right + gridOver}
                      y1={up(tick)}
                      y2={up(tick)}
                      stroke={ink('grid')}
                    />
                  ))}
                <text x={0} y={top - 16} fill={ink('second')}>
                  {y.title}
                </text>
                <text x={right} y={bottom + 35} textAnchor="end" fill={ink('second')}>
                  {x.title}
                </text>
              </>
            )}
          </Marks>
          {children}
          {readOut && <Cursor lines={readOut} label={label} />}
        </ComposedChart>
      )}
    </Box>
  );
}

/** What every line and area of a chart has: nothing moves by itself, and figures are read under the pointer. */
export const STILL = {
  isAnimationActive: false,
  dot: false,
  activeDot: false,
  legendType: 'none',
  tooltipType: 'none',
  fill: 'none',
} as const;
