import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useLayoutEffect, useRef, type ReactNode } from 'react';
import { FROM_ITS_BOX } from '#core/2-trade/drives/medium.ts';
import { CartesianGrid, ComposedChart, XAxis, YAxis } from 'recharts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { FONT_FAMILY } from '../../theme/theme.ts';
import { FOCUS_INSIDE } from '../../theme/parts.ts';
import { ink } from '../../theme/tokens.ts';
import { useSize } from '../../kit/use-size.ts';
import { VISUALLY_HIDDEN } from '../../kit/words.tsx';
import { readableTicks } from './readable-ticks.ts';
import { LABEL_SIZE, fitText } from './labels.ts';
import { Marks } from './Marks.tsx';
import { axisOf } from './axis.ts';
import { pixelScale, type AxisSpan, type ChartScale } from '#core/1-ground/axis-span.ts';

/** What pictures of rows share: each row is a button over the grid of one axis, and many scroll above it. */

const FOOT = 30;
const HEAD = 26;

/** A row that can be chosen. */
export interface ChartRow {
  key: string;
  /** What it is and says, for those who cannot see it, and under the pointer. */
  label: string;
  /** Marks for tests: `data-…` of the row. */
  data: Record<`data-${string}`, string>;
}

/** Where a row is drawn: its plot, and itself from its top. */
export interface RowPlot {
  x: ChartScale;
  right: number;
  /** Of the picture. */
  width: number;
  top: number;
  height: number;
}

interface RowsChartProps<Row extends ChartRow> {
  label: string;
  rows: readonly Row[];
  selected: string | null;
  onSelect: (key: string) => void;
  span: AxisSpan;
  /** Unit of the axis, and words at its right edge. */
  title: string;
  note?: string;
  /** Room for names at the left, and for words at the right, pixels. */
  left: number;
  right: number;
  /** Heights of a row: few are drawn taller, of many the rest is scrolled to. */
  least: number;
  most: number;
  /** Words over the columns, in a line above the rows. */
  head?: (plot: { x: (value: number) => number; right: number }) => ReactNode;
  /** Whether hairlines stand between rows. */
  ruled?: boolean;
  /** The row that stands in the middle when the picture is opened. */
  middleKey?: string | undefined;
  children: (row: Row, plot: RowPlot) => ReactNode;
}

/** Rows over one axis that stays under them; as high as its place, and no higher than its rows. */
export function RowsChart<Row extends ChartRow>({
  label,
  rows,
  selected,
  onSelect,
  span,
  title,
  note,
  left,
  right,
  least,
  most,
  head,
  ruled = false,
  middleKey,
  children,
}: RowsChartProps<Row>) {
  const [attach, size] = useSize();
  const scroller = useRef<HTMLDivElement>(null);
  const room = size.height - FOOT - (head ? HEAD : 0);
  const height = Math.max(least, Math.min(most, Math.floor(room / Math.max(1, rows.length))));
  const inner = Math.max(left + 80, size.width - right);
  const along = pixelScale(span, [left, inner]);
  const middleAt = rows.findIndex(({ key }) => key === middleKey);
  const isDrawn = size.width > 0 && size.height > 0;
  useLayoutEffect(() => {
    if (isDrawn && scroller.current && middleAt >= 0)
      scroller.current.scrollTop = middleAt * height - scroller.current.clientHeight / 2;
  }, [isDrawn, middleAt, height]);
  const chart = {
    width: size.width,
    margin: { left, right: size.width - inner, top: 0, bottom: 0 },
    accessibilityLayer: false,
    'aria-hidden': true,
    style: { fontFamily: FONT_FAMILY, fontSize: LABEL_SIZE },
  } as const;
  return (
    <Box
      ref={attach}
      data-picture=""
      role="group"
      aria-label={label}
      sx={{ flex: '1 1 0', minHeight: 0, width: '100%', display: 'flex', flexDirection: 'column' }}
    >
      {isDrawn && (
        <>
          {head && (
            <svg width={size.width} height={HEAD} style={{ flex: 'none', fontSize: LABEL_SIZE }} aria-hidden="true">
              {head({ x: along, right: inner })}
            </svg>
          )}
          <Box ref={scroller} sx={{ flex: '0 1 auto', minHeight: 0, overflowY: 'auto', overflowX: 'hidden' }}>
            <Box sx={{ position: 'relative' }}>
              <Box>
                {rows.map((row) => (
                  <RowButton
                    key={row.key}
                    row={row}
                    height={height}
                    ruled={ruled}
                    isSelected={row.key === selected}
                    onSelect={() => onSelect(row.key)}
                  />
                ))}
              </Box>
              <ComposedChart
                {...chart}
                height={height * rows.length}
                style={{ ...chart.style, position: 'absolute', inset: 0, pointerEvents: 'none' }}
              >
                <CartesianGrid horizontal={false} stroke={ink('grid')} syncWithTicks />
                <XAxis dataKey="x" {...axisOf(span)} hide />
                <YAxis type="number" domain={[0, rows.length]} allowDataOverflow hide />
                <Marks>
                  {(plot) =>
                    rows.map((row, index) => (
                      <g key={row.key} transform={`translate(0 ${index * height})`}>
                        {children(row, {
                          x: plot.x,
                          right: plot.right,
                          width: size.width,
                          top: index * height,
                          height,
                        })}
                      </g>
                    ))
                  }
                </Marks>
              </ComposedChart>
            </Box>
          </Box>
          <Box sx={{ flex: 'none' }}>
            <ComposedChart {...chart} height={FOOT}>
              <XAxis
                dataKey="x"
                {...axisOf(span)}
                ticks={readableTicks(along, formatNumber)}
                tickFormatter={(value: number) => formatNumber(value)}
                tickMargin={9}
                height={FOOT}
              />
              <text x={0} y={18} fill={ink('second')}>
                {title}
              </text>
              {note !== undefined && (
                <text x={size.width} y={18} textAnchor="end" fill={ink('second')}>
                  {note}
                </text>
              )}
            </ComposedChart>
          </Box>
        </>
      )}
    </Box>
  );
}

interface RowButtonProps {
  row: ChartRow;
  height: number;
  ruled: boolean;
  isSelected: boolean;
  onSelect: () => void;
}

function RowButton({ row, height, ruled, isSelected, onSelect }: RowButtonProps) {
  return (
    <ButtonBase
      aria-pressed={isSelected}
      title={row.label}
      {...row.data}
      onClick={onSelect}
      sx={{
        display: 'block',
        width: '100%',
        height,
        boxSizing: 'border-box',
        borderTop: ruled ? `1px solid ${ink('rule')}` : 0,
        boxShadow: isSelected ? `inset 3px 0 ${ink('text')}` : 'none',
        bgcolor: isSelected ? ink('rail') : 'transparent',
        '&:hover': { bgcolor: ink('rail') },
        '&:focus-visible': FOCUS_INSIDE,
      }}
    >
      <span style={VISUALLY_HIDDEN}>{row.label}</span>
    </ButtonBase>
  );
}

interface RowNameProps {
  name: string;
  /** Where it ends; it is shortened to what is left of that. */
  right: number;
  y: number;
  /** A line below it, in the ink that says what it means. */
  note?: { text: string; fill: string };
  /** It is a drive of which nothing was measured, which is said below it where nothing else is. */
  isFromBox?: boolean;
}

const BOX_NOTE = { text: FROM_ITS_BOX, fill: ink('second') };

/** Name of a row at the left of its picture, with a line below it where there is something to say. */
export function RowName({ name, right, y, isFromBox = false, note = isFromBox ? BOX_NOTE : undefined }: RowNameProps) {
  const end = { x: right, dy: '0.35em', textAnchor: 'end' } as const;
  return (
    <>
      <text {...end} y={note ? y - 7 : y} fontSize={14} fontWeight={700} fill={ink('text')}>
        {fitText(name, 14, right - 12, true)}
      </text>
      {note && (
        <text {...end} y={y + 10} fill={note.fill}>
          {fitText(note.text, LABEL_SIZE, right - 8)}
        </text>
      )}
    </>
  );
}
