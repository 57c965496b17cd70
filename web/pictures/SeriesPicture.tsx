import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { Line } from 'recharts';
import { boxMark } from '#core/2-trade/drives/medium.ts';
import { sumOf } from '#core/3-jobs/demand/series/frame-bytes.ts';
import type { SeriesWork } from '#core/3-jobs/demand/series/pipeline.ts';
import { rateForShare, secondsAtRate } from '#core/3-jobs/demand/series/pipeline.ts';
import { formatDuration, formatNumber, formatShare } from '#core/1-ground/units/format.ts';
import { LITTLE_SHARE } from '#core/5-answers/verdict/series/series-words.ts';
import type { SeriesOnDrive } from '#core/5-answers/verdict/series/series-on-drive.ts';
import { ink } from '../theme/tokens.ts';
import { Chart, STILL } from './kit/Chart.tsx';
import { HaloText } from './kit/HaloText.tsx';
import { pressable } from './kit/pressable.ts';
import { placeLabels } from '#core/1-ground/place-labels.ts';
import { LABEL_SIZE, fitText, textWidth } from './kit/labels.ts';
import { Marks, type Plot } from './kit/Marks.tsx';
import { RowName, RowsChart } from './kit/RowsChart.tsx';
import { linearSpan, logSpan } from '#core/1-ground/axis-span.ts';
import { MEGABYTE, timeUnitFor } from './kit/units.ts';

/** A drive with how the series goes on it; null while nothing was measured. */
export interface SeriesRow {
  driveId: string;
  label: string;
  on: SeriesOnDrive | null;
  /** Where the volume is full, in a few words; null where all of it fits, or nobody knows. */
  full: string | null;
}

export interface SeriesPictureProps {
  work: SeriesWork;
  rows: readonly SeriesRow[];
  selected: string | null;
  onSelect: (driveId: string) => void;
  /** Stands between both pictures. */
  between: ReactNode;
  /** In place of the lower picture; null for the picture. */
  instead: ReactNode;
}

const NAMES = 168;
const RIGHT = 206;
const FOOT = 30;
const LEAST_ROW = 30;
const MOST_ROW = 46;
/** One frame on each drive, and under it the whole series against the drive's rate: what a faster one can still win. */
export default function SeriesPicture({ between, instead, ...props }: SeriesPictureProps) {
  const shown = Math.min(props.rows.length, 6);
  return (
    <Box sx={{ flex: '1 1 0', minHeight: 0, display: 'flex', flexDirection: 'column' }} data-series-picture="">
      <Box
        sx={{
          flex: 'none',
          height: `max(${LEAST_ROW + FOOT}px, min(50%, ${shown * MOST_ROW + FOOT}px))`,
          display: 'flex',
          flexDirection: 'column',
        }}
      >
        <FrameRows {...props} />
      </Box>
      {between}
      {instead ?? <SpeedUp {...props} />}
    </Box>
  );
}

const meanOf = (values: Float64Array): number => sumOf(values) / values.length;

/** What both pictures are drawn from. */
type DrawnProps = Omit<SeriesPictureProps, 'between' | 'instead'>;

function FrameRows({ work, rows, selected, onSelect }: DrawnProps) {
  // Times that hold the writing are what is left of them beside it.
  const computeOf = ({ on }: SeriesRow): number =>
    on ? on.neverEmptied.computeSeconds / work.bytes.length : meanOf(work.compute);
  const writeOf = ({ on }: SeriesRow) => (on ? meanOf(on.neverEmptied.write) : 0);
  const longest = Math.max(...rows.map((row) => computeOf(row) + writeOf(row)), 1e-6);
  const unit = timeUnitFor(longest);
  const isBeside = work.queueFrames > 0;
  return (
    <RowsChart
      label="One frame on each drive"
      rows={rows.map((row) => ({
        key: row.driveId,
        label: `${row.label}: computing ${formatDuration(computeOf(row))}, writing ${row.on ? formatDuration(writeOf(row)) : 'not known'}${boxMark(row.on?.evidence.isPromise)}`,
        data: { 'data-series-row': row.driveId },
        row,
      }))}
      selected={selected}
      onSelect={onSelect}
      span={linearSpan(0, longest / unit.seconds, 7, false)}
      title={`one frame, ${unit.name}`}
      {...(isBeside ? { note: 'writing goes on beside computing' } : {})}
      left={NAMES}
      right={RIGHT}
      least={LEAST_ROW}
      most={MOST_ROW}
    >
      {({ row }, { x, height }) => (
        <>
          <RowName name={row.label} right={NAMES - 14} y={height / 2} isFromBox={row.on?.evidence.isPromise ?? false} />
          <FrameBar
            from={x(0)}
            middle={x(computeOf(row) / unit.seconds)}
            to={x((computeOf(row) + writeOf(row)) / unit.seconds)}
            isBeside={isBeside}
            height={height}
            compute={`computing ${formatDuration(computeOf(row))}`}
            write={row.on ? `writing ${formatDuration(writeOf(row))}` : 'not measured yet'}
            full={row.full}
          />
        </>
      )}
    </RowsChart>
  );
}

interface FrameBarProps {
  from: number;
  middle: number;
  to: number;
  isBeside: boolean;
  height: number;
  compute: string;
  write: string;
  full: string | null;
}

/** Computing in neutral, writing in ochre behind it; one under the other where they go on at once. */
function FrameBar({ from, middle, to, isBeside, height, compute, write, full }: FrameBarProps) {
  const [top, bar] = [6, height - 12];
  const writeFrom = isBeside ? from : middle;
  const writeTo = isBeside ? from + (to - middle) : to;
  const computeBar = isBeside ? bar / 2 : bar;
  const end = Math.max(middle, writeTo);
  return (
    <>
      <rect
        x={from}
        y={top}
        width={Math.max(0, middle - from)}
        height={computeBar}
        fill={ink('raised')}
        stroke={ink('rule')}
      />
      <rect
        x={writeFrom}
        y={isBeside ? top + bar / 2 : top}
        width={Math.max(1.5, writeTo - writeFrom)}
        height={computeBar}
        fill={ink('writing')}
      />
      {middle - from > textWidth(compute, LABEL_SIZE) + 16 && !isBeside && (
        <text x={from + 9} y={height / 2} dy="0.35em" fill={ink('second')}>
          {compute}
        </text>
      )}
      <HaloText x={end + 8} y={height / 2} dy="0.35em" fill={ink('text')} fontWeight={650}>
        {write}
        {full !== null && <tspan fill={ink('breaks')}>{`, ${full}`}</tspan>}
      </HaloText>
    </>
  );
}

const CURVE_POINTS = 90;

/** The whole series against a constant rate, the drives as dots, and where no drive wins much any more. */
function SpeedUp({ work, rows, selected, onSelect }: DrawnProps) {
  const known = rows.flatMap(({ driveId, label, on }) => (on ? [{ driveId, label, on }] : []));
  const compute = sumOf(work.compute);
  const little = rateForShare(work, LITTLE_SHARE);
  const rates = [...known.map(({ on }) => on.bytesPerSecond), ...(little ? [little] : [])].filter((rate) => rate > 0);
  if (rates.length === 0) return null;
  const x = logSpan((Math.min(...rates) * 0.55) / MEGABYTE, (Math.max(...rates) * 2.2) / MEGABYTE, 9);
  const rateAt = (share: number): number => x.from * (x.to / x.from) ** share;
  const takenAt = (rate: number): number => secondsAtRate(work, rate * MEGABYTE);
  const most = Math.max(...known.map(({ on }) => on.neverEmptied.totalSeconds), compute * 1.12);
  const ceiling = Math.min(takenAt(x.from), most * 1.25);
  const unit = timeUnitFor(ceiling);
  // From no time at all: how little is left to win must be seen against the whole.
  const y = linearSpan(0, ceiling / unit.seconds, 5);
  const curve = Array.from({ length: CURVE_POINTS }, (_, point) => {
    const rate = rateAt(point / (CURVE_POINTS - 1));
    return { x: rate, seconds: takenAt(rate) / unit.seconds };
  });
  return (
    <Chart
      isInteractive
      label="Whole simulation against the drive's writing rate"
      plot={{ left: 66, right: 24, top: 34, bottom: 44 }}
      x={{ span: x, format: formatNumber, title: 'MB/s written, logarithmic' }}
      y={{
        span: y,
        format: formatNumber,
        title: `${unit.name} for all ${formatNumber(work.bytes.length, 'full')} frames`,
      }}
      readOut={(at) => [
        { text: `at ${formatNumber(at)} MB/s written` },
        { text: `${formatDuration(takenAt(at))} for all frames` },
      ]}
    >
      <Line {...STILL} data={curve} dataKey="seconds" type="linear" stroke={ink('writing')} strokeWidth={2} />
      <Marks>
        {(plot) => {
          const toX = (rate: number) => plot.x(rate / MEGABYTE);
          const toY = (seconds: number) => Math.max(plot.top, plot.y(seconds / unit.seconds));
          return (
            <>
              {little !== null && toX(little) < plot.right - 4 && (
                <LittleToWin rate={little} at={toX(little)} plot={plot} />
              )}
              {compute > 0 && <Processor seconds={compute} at={toY(compute)} plot={plot} />}
              <DriveDots known={known} selected={selected} onSelect={onSelect} toX={toX} toY={toY} plot={plot} />
            </>
          );
        }}
      </Marks>
    </Chart>
  );
}

/** The rates from which on a faster drive wins hardly anything. */
function LittleToWin({ rate, at, plot: { top, bottom, right } }: { rate: number; at: number; plot: Plot }) {
  return (
    <g pointerEvents="none">
      <rect x={at} y={top} width={right - at} height={bottom - top} fill={ink('text')} opacity={0.06} />
      <HaloText x={right - 8} y={top + 16} textAnchor="end" fill={ink('second')}>
        {`beyond ${formatNumber(rate / MEGABYTE)} MB/s a faster drive wins less than ${formatShare(LITTLE_SHARE)}`}
      </HaloText>
    </g>
  );
}

/** What computing alone needs: no drive gets below it. */
function Processor({ seconds, at, plot: { left, right } }: { seconds: number; at: number; plot: Plot }) {
  return (
    <g pointerEvents="none">
      <line x1={left} x2={right} y1={at} y2={at} stroke={ink('text')} strokeDasharray="2 4" />
      <HaloText x={right - 8} y={at + 17} textAnchor="end" fill={ink('text')}>
        {`no drive gets below ${formatDuration(seconds)}: the processor`}
      </HaloText>
    </g>
  );
}

interface DotsProps {
  known: readonly { driveId: string; label: string; on: SeriesOnDrive }[];
  selected: string | null;
  onSelect: (driveId: string) => void;
  toX: (rate: number) => number;
  toY: (seconds: number) => number;
  plot: Plot;
}

const DOT_LABEL = 18;

/** Words that share a stretch of the picture's width, with what lies between, together. */
function overlapping<Extent extends { from: number; to: number }>(all: readonly Extent[]): Extent[][] {
  const groups: Extent[][] = [];
  let end = -Infinity;
  for (const one of [...all].sort((a, b) => a.from - b.from)) {
    if (one.from <= end) groups.at(-1)!.push(one);
    else groups.push([one]);
    end = Math.max(end, one.to);
  }
  return groups;
}

function DriveDots({ known, selected, onSelect, toX, toY, plot: { right, top, bottom } }: DotsProps) {
  const dots = known.map((one) => {
    const x = toX(one.on.bytesPerSecond);
    const text = `${fitText(one.label, LABEL_SIZE, 150, true)} ${formatDuration(one.on.neverEmptied.totalSeconds)}`;
    const width = textWidth(text, LABEL_SIZE, true);
    const isBefore = x + 12 + width > right;
    const from = isBefore ? x - 12 - width : x + 12;
    return { ...one, x, y: toY(one.on.neverEmptied.totalSeconds), text, isBefore, from, to: from + width };
  });
  // Words stand above their dots; those that would lie on each other have each a height of its own.
  const heights = new Map<string, number>();
  for (const beside of overlapping(dots)) {
    const placed = placeLabels(
      beside.map(({ y }) => ({ wanted: y - 16, size: DOT_LABEL })),
      top + 24,
      bottom,
    );
    beside.forEach(({ driveId }, at) => heights.set(driveId, placed[at]!));
  }
  return dots.map(({ driveId, label, on, x, y, text, isBefore }) => {
    const isSelected = driveId === selected;
    const { neverEmptied: slow, alwaysEmptied: quick } = on;
    const spread = slow.totalSeconds - quick.totalSeconds > 0.005 * slow.totalSeconds;
    const middle = heights.get(driveId)!;
    return (
      <g
        key={driveId}
        data-series-dot={driveId}
        {...pressable(`${label}: ${formatDuration(slow.totalSeconds)}`, isSelected, () => onSelect(driveId))}
      >
        {spread && <line x1={x} x2={x} y1={y} y2={toY(quick.totalSeconds)} stroke={ink('text')} strokeWidth={1.4} />}
        {Math.abs(middle - y) > DOT_LABEL && (
          <line x1={x} x2={isBefore ? x - 8 : x + 8} y1={y} y2={middle} stroke={ink('second')} strokeWidth={0.8} />
        )}
        <circle
          cx={x}
          cy={y}
          r={isSelected ? 7 : 5.5}
          fill={ink('page')}
          stroke={ink('writing')}
          strokeWidth={isSelected ? 3.4 : 2.4}
        />
        <HaloText
          x={isBefore ? x - 12 : x + 12}
          y={middle}
          dy="0.35em"
          textAnchor={isBefore ? 'end' : 'start'}
          fill={ink('text')}
          fontWeight={isSelected ? 700 : 500}
        >
          {text}
        </HaloText>
      </g>
    );
  });
}
