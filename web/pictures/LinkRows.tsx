import Box from '@mui/material/Box';
import { useLayoutEffect, useMemo, useRef } from 'react';
import { formatRate, rateText } from '#core/units/format.ts';
import type { VerdictWord } from '#core/verdict/verdict.ts';
import { useSize } from '../kit/use-size.ts';
import { ink } from '../theme/tokens.ts';
import { AxisFoot, PictureRow, RowName, ScrolledRows } from './kit/RowsUnderAxis.tsx';
import { logScale } from './kit/scale.ts';
import { MEGABYTE } from './kit/units.ts';
import { VERDICT_INK, VERDICT_NAME } from './kit/verdict-marks.tsx';

/** A drive as it would be behind one link. Rates in bytes per second. */
export interface LinkRow {
  key: string;
  label: string;
  ceilingBytesPerSecond: number;
  /** Where it is now. */
  isNow: boolean;
  write: { floor: number; opening: number; held: boolean } | null;
  read: { floor: number; opening: number; held: boolean } | null;
  /** On the largest item of the workload; null where nothing is chosen or known. */
  verdict: VerdictWord | null;
}

interface LinkRowsProps {
  rows: readonly LinkRow[];
  selected: string;
  onSelect: (key: string) => void;
}

const NAMES = 262;
const VERDICTS = 96;
const ROW = 38;
const FOOT = 30;

/** A drive behind every link it could be put behind: what it writes and reads there, and the ceiling that binds. */
export function LinkRows({ rows, selected, onSelect }: LinkRowsProps) {
  const [attach, { width }] = useSize();
  const list = useRef<HTMLDivElement>(null);
  const nowAt = rows.findIndex(({ isNow }) => isNow);
  // Where it is now stands in the middle when it is opened.
  useLayoutEffect(() => {
    const scroller = list.current?.firstElementChild;
    if (scroller && nowAt >= 0) scroller.scrollTop = nowAt * ROW - scroller.clientHeight / 2;
  }, [nowAt, width]);
  const x = useMemo(() => {
    const rates = rows.flatMap(({ ceilingBytesPerSecond, write, read }) => [
      ceilingBytesPerSecond,
      ...[write, read].flatMap((one) => (one ? [one.floor] : [])),
    ]);
    const [low, high] = [Math.min(...rates) / MEGABYTE, Math.max(...rates) / MEGABYTE];
    return logScale(low, high, [NAMES, Math.max(NAMES + 60, width - VERDICTS)], 8);
  }, [rows, width]);
  const bar = (one: LinkRow['write'], y: number, colour: 'writing' | 'reading') =>
    one && (
      <>
        <line
          x1={x(one.floor / MEGABYTE)}
          x2={Math.max(x(one.floor / MEGABYTE) + 2, x(one.opening / MEGABYTE))}
          y1={y}
          y2={y}
          stroke={ink(colour)}
          strokeWidth={4}
          strokeDasharray={colour === 'reading' ? '7 3' : ''}
        />
        <line
          x1={x(one.floor / MEGABYTE)}
          x2={x(one.floor / MEGABYTE)}
          y1={y - 5}
          y2={y + 5}
          stroke={ink(colour)}
          strokeWidth={2}
        />
      </>
    );
  return (
    <Box
      ref={attach}
      data-picture=""
      data-link-rows=""
      sx={{ flex: '1 1 0', minHeight: 0, display: 'flex', flexDirection: 'column' }}
      role="group"
      aria-label="The drive behind other links"
    >
      {width > 0 && (
        <>
          <Box ref={list} sx={{ display: 'contents' }}>
            <ScrolledRows>
              {rows.map((row) => (
                <PictureRow
                  key={row.key}
                  label={`${row.label}: carries ${rateText(row.ceilingBytesPerSecond)}${row.verdict ? `, ${VERDICT_NAME[row.verdict]}` : ''}`}
                  selected={row.key === selected}
                  onSelect={() => onSelect(row.key)}
                  scale={x}
                  width={width}
                  height={ROW}
                  ruled
                  data={{ 'data-link': row.label }}
                >
                  <RowName
                    name={row.label}
                    right={NAMES - 14}
                    y={ROW / 2}
                    {...(row.isNow ? { note: { text: 'as it is now', fill: ink('second') } } : {})}
                  />
                  <line
                    x1={x(row.ceilingBytesPerSecond / MEGABYTE)}
                    x2={x(row.ceilingBytesPerSecond / MEGABYTE)}
                    y1={4}
                    y2={ROW - 4}
                    stroke={ink('text')}
                    strokeWidth={1.4}
                  />
                  {bar(row.write, ROW / 2 - 6, 'writing')}
                  {bar(row.read, ROW / 2 + 6, 'reading')}
                  {row.verdict && (
                    <text x={width} y={ROW / 2} dy="0.35em" textAnchor="end" fill={ink(VERDICT_INK[row.verdict])}>
                      {VERDICT_NAME[row.verdict]}
                    </text>
                  )}
                </PictureRow>
              ))}
            </ScrolledRows>
          </Box>
          <AxisFoot scale={x} title="MB/s, logarithmic" width={width} height={FOOT} />
        </>
      )}
    </Box>
  );
}

export const linkRowText = (one: NonNullable<LinkRow['write']>): string => {
  const [floor, opening] = [formatRate(one.floor).number, formatRate(one.opening).number];
  const later = one.floor < one.opening ? 'then' : 'rising to';
  return `${floor === opening ? opening : `${opening}, ${later} ${floor}`} MB/s${one.held ? ' at least' : ''}`;
};
