import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import type { ReactNode } from 'react';
import { formatNumber } from '#core/units/format.ts';
import { ink } from '../../theme/tokens.ts';
import { VISUALLY_HIDDEN } from '../../kit/words.tsx';
import { readableTicks } from './Axis.tsx';
import { fitText } from './labels.ts';
import { LABEL_SIZE } from './Picture.tsx';
import type { PictureScale } from './scale.ts';

/** What pictures of rows share: each row is a button over the grid of one axis, and many scroll above it. */

/** Height of a row: few are drawn taller; of many the rest is scrolled to. */
export function rowHeightFor(room: number, rows: number, least: number, most: number): number {
  return Math.max(least, Math.min(most, Math.floor(room / Math.max(1, rows))));
}

export function ScrolledRows({ children }: { children: ReactNode }) {
  return <Box sx={{ flex: '0 1 auto', minHeight: 0, overflowY: 'auto', overflowX: 'hidden' }}>{children}</Box>;
}

interface PictureRowProps {
  label: string;
  selected: boolean;
  onSelect: () => void;
  scale: PictureScale;
  width: number;
  height: number;
  /** Whether a hairline stands above it. */
  ruled?: boolean;
  /** Marks for tests: `data-…` of the row. */
  data: Record<`data-${string}`, string>;
  children: ReactNode;
}

/** A row that can be chosen, with the axis' grid behind what it shows. */
export function PictureRow({
  label,
  selected,
  onSelect,
  scale,
  width,
  height,
  ruled,
  data,
  children,
}: PictureRowProps) {
  return (
    <ButtonBase
      aria-pressed={selected}
      {...data}
      onClick={onSelect}
      sx={{
        display: 'block',
        width: '100%',
        textAlign: 'left',
        ...(ruled ? { borderTop: `1px solid ${ink('rule')}` } : {}),
        bgcolor: selected ? ink('rail') : 'transparent',
        '&:hover': { bgcolor: ink('rail') },
        '&:focus-visible': { outline: `2px solid ${ink('text')}`, outlineOffset: -2 },
      }}
    >
      <span style={VISUALLY_HIDDEN}>{label}</span>
      <svg width={width} height={height} style={{ display: 'block', fontSize: LABEL_SIZE }} aria-hidden="true">
        {scale.ticks.map((tick) => (
          <line key={tick} x1={scale(tick)} x2={scale(tick)} y1={0} y2={height} stroke={ink('grid')} />
        ))}
        {selected && <rect x={0} y={4} width={3} height={height - 8} fill={ink('text')} />}
        {children}
      </svg>
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
}

/** Name of a row at the left of its picture, with a line below it where there is something to say. */
export function RowName({ name, right, y, note }: RowNameProps) {
  const end = { x: right, dy: '0.35em', textAnchor: 'end' } as const;
  return (
    <>
      <text {...end} y={note ? y - 7 : y} fontSize={14} fontWeight={700} fill={ink('text')}>
        <title>{name}</title>
        {fitText(name, 14, right - 12, true)}
      </text>
      {note && (
        <text {...end} y={y + 10} fill={note.fill}>
          <title>{note.text}</title>
          {fitText(note.text, LABEL_SIZE, right - 8)}
        </text>
      )}
    </>
  );
}

interface AxisFootProps {
  scale: PictureScale;
  title: string;
  width: number;
  height: number;
  titleX?: number;
  /** Words at the right edge. */
  note?: string;
}

/** The axis that stays under rows that scroll. */
export function AxisFoot({ scale, title, width, height, titleX = 0, note }: AxisFootProps) {
  return (
    <svg width={width} height={height} style={{ flex: 'none', fontSize: LABEL_SIZE }} aria-hidden="true">
      {readableTicks({ scale, format: formatNumber }).map((tick) => (
        <text key={tick} x={scale(tick)} y={18} textAnchor="middle" fill={ink('second')}>
          {formatNumber(tick)}
        </text>
      ))}
      <text x={titleX} y={18} fill={ink('second')}>
        {title}
      </text>
      {note !== undefined && (
        <text x={width} y={18} textAnchor="end" fill={ink('second')}>
          {note}
        </text>
      )}
    </svg>
  );
}
