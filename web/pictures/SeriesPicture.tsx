import Box from '@mui/material/Box';
import { sumOf } from '#core/demand/series/frame-bytes.ts';
import type { SeriesWork } from '#core/demand/series/pipeline.ts';
import { rateForShare, secondsAtRate } from '#core/demand/series/pipeline.ts';
import { formatDuration, formatNumber, formatShare } from '#core/units/format.ts';
import { LITTLE_SHARE } from '#core/verdict/series/series-words.ts';
import type { SeriesOnDrive } from '#core/verdict/series/series-on-drive.ts';
import { useSize } from '../kit/use-size.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { HaloText } from './kit/HaloText.tsx';
import { pressable } from './kit/pressable.ts';
import { fitText, placeLabels, textWidth } from './kit/labels.ts';
import { LABEL_SIZE, Picture } from './kit/Picture.tsx';
import { AxisFoot, PictureRow, RowName, ScrolledRows, rowHeightFor } from './kit/RowsUnderAxis.tsx';
import { linearScale, logScale } from './kit/scale.ts';
import { MEGABYTE, timeUnitFor } from './kit/units.ts';

/** A drive with how the series goes on it; null while nothing was measured. */
export interface SeriesRow {
  driveId: string;
  label: string;
  on: SeriesOnDrive | null;
  /** Where the volume is full, in a few words; null where all of it fits, or nobody knows. */
  full: string | null;
}

interface SeriesPictureProps {
  work: SeriesWork;
  rows: readonly SeriesRow[];
  selected: string | null;
  onSelect: (driveId: string) => void;
}

const NAMES = 168;
const RIGHT = 206;
const AXIS = 30;
const LEAST_ROW = 30;
const MOST_ROW = 46;

/** One frame on each drive, and under it the whole series against the drive's rate: what a faster one can still win. */
export function SeriesPicture(props: SeriesPictureProps) {
  const [attach, size] = useSize();
  const shown = Math.min(props.rows.length, 6);
  const upper = Math.min(size.height * 0.5, shown * MOST_ROW + AXIS);
  return (
    <Box
      ref={attach}
      sx={{ flex: '1 1 0', minHeight: 0, display: 'flex', flexDirection: 'column' }}
      data-series-picture=""
    >
      <Box
        data-picture=""
        sx={{ flex: 'none', height: Math.max(LEAST_ROW + AXIS, upper), display: 'flex', flexDirection: 'column' }}
      >
        <FrameRows {...props} width={size.width} room={upper} />
      </Box>
      <SpeedUp {...props} />
    </Box>
  );
}

const meanOf = (values: Float64Array): number => sumOf(values) / values.length;

function FrameRows({
  work,
  rows,
  selected,
  onSelect,
  width,
  room,
}: SeriesPictureProps & { width: number; room: number }) {
  const compute = meanOf(work.compute);
  const writes = rows.map(({ on }) => (on ? meanOf(on.neverEmptied.write) : 0));
  const longest = Math.max(compute, ...writes.map((write) => compute + write), 1e-6);
  const unit = timeUnitFor(longest);
  const right = Math.max(NAMES + 80, width - RIGHT);
  const x = linearScale(0, longest / unit.seconds, [NAMES, right], 7, false);
  const height = rowHeightFor(room - AXIS, rows.length, LEAST_ROW, MOST_ROW);
  const queue = work.queueFrames > 0;
  return (
    <>
      <ScrolledRows>
        {width > 0 &&
          rows.map((row, index) => (
            <PictureRow
              key={row.driveId}
              label={`${row.label}: computing ${formatDuration(compute)}, writing ${row.on ? formatDuration(writes[index]!) : 'not known'}`}
              selected={row.driveId === selected}
              onSelect={() => onSelect(row.driveId)}
              scale={x}
              width={width}
              height={height}
              data={{ 'data-series-row': row.driveId }}
            >
              <RowName name={row.label} right={NAMES - 14} y={height / 2} />
              <FrameBar
                from={x(0)}
                middle={x(compute / unit.seconds)}
                to={x((compute + writes[index]!) / unit.seconds)}
                isBeside={queue}
                height={height}
                compute={`computing ${formatDuration(compute)}`}
                write={row.on ? `writing ${formatDuration(writes[index]!)}` : 'not measured yet'}
                full={row.full}
              />
            </PictureRow>
          ))}
      </ScrolledRows>
      <AxisFoot
        scale={x}
        title={`one frame, ${unit.name}`}
        titleX={12}
        width={width}
        height={AXIS}
        {...(queue ? { note: 'writing goes on beside computing' } : {})}
      />
    </>
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

const PLOT = { left: 66, right: 24, top: 34, bottom: 44 };

/** The whole series against a constant rate, the drives as dots, and where no drive wins much any more. */
function SpeedUp({ work, rows, selected, onSelect }: SeriesPictureProps) {
  return (
    <Picture isInteractive label="Whole simulation against the drive's writing rate">
      {(width, height) => (
        <SpeedUpDrawing work={work} rows={rows} selected={selected} onSelect={onSelect} width={width} height={height} />
      )}
    </Picture>
  );
}

const CURVE_POINTS = 90;

function SpeedUpDrawing({
  work,
  rows,
  selected,
  onSelect,
  width,
  height,
}: SeriesPictureProps & { width: number; height: number }) {
  const known = rows.flatMap(({ driveId, label, on }) => (on ? [{ driveId, label, on }] : []));
  const compute = sumOf(work.compute);
  const little = rateForShare(work, LITTLE_SHARE);
  const rates = [...known.map(({ on }) => on.bytesPerSecond), ...(little ? [little] : [])].filter((rate) => rate > 0);
  if (rates.length === 0 || height < 130) return null;
  const [low, high] = [Math.min(...rates) * 0.55, Math.max(...rates) * 2.2];
  const [left, right, top, bottom] = [PLOT.left, width - PLOT.right, PLOT.top, height - PLOT.bottom];
  const x = logScale(low / MEGABYTE, high / MEGABYTE, [left, right], 9);
  const fromRate = x.invert(left);
  const toRate = x.invert(right);
  const curve = Array.from({ length: CURVE_POINTS }, (_, point) => {
    const rate = fromRate * (toRate / fromRate) ** (point / (CURVE_POINTS - 1));
    return [rate, secondsAtRate(work, rate * MEGABYTE)] as const;
  });
  const most = Math.max(...known.map(({ on }) => on.neverEmptied.totalSeconds), compute * 1.12);
  const ceiling = Math.min(curve[0]![1], most * 1.25);
  const unit = timeUnitFor(ceiling);
  // From no time at all: how little is left to win must be seen against the whole.
  const y = linearScale(0, ceiling / unit.seconds, [bottom, top], 5);
  const toY = (seconds: number) => Math.max(top, y(seconds / unit.seconds));
  const path = curve
    .map(([rate, seconds], index) => `${index === 0 ? 'M' : 'L'}${x(rate).toFixed(1)} ${toY(seconds).toFixed(1)}`)
    .join('');
  return (
    <>
      <LeftAxis
        scale={y}
        format={formatNumber}
        title={`${unit.name} for all ${formatNumber(work.bytes.length, 'full')} frames`}
        left={left}
        right={right}
        top={top}
      />
      {little !== null && x(little / MEGABYTE) < right - 4 && (
        <g>
          <rect
            x={x(little / MEGABYTE)}
            y={top}
            width={right - x(little / MEGABYTE)}
            height={bottom - top}
            fill={ink('text')}
            opacity={0.06}
          />
          <HaloText x={right - 8} y={top + 16} textAnchor="end" fill={ink('second')}>
            {`beyond ${formatNumber(little / MEGABYTE)} MB/s a faster drive wins less than ${formatShare(LITTLE_SHARE)}`}
          </HaloText>
        </g>
      )}
      {compute > 0 && (
        <g>
          <line x1={left} x2={right} y1={toY(compute)} y2={toY(compute)} stroke={ink('text')} strokeDasharray="2 4" />
          <HaloText x={right - 8} y={toY(compute) + 17} textAnchor="end" fill={ink('text')}>
            {`no drive gets below ${formatDuration(compute)}: the processor`}
          </HaloText>
        </g>
      )}
      <path d={path} fill="none" stroke={ink('writing')} strokeWidth={2} />
      <BottomAxis
        scale={x}
        format={formatNumber}
        title="MB/s written, logarithmic"
        y={bottom}
        left={left}
        right={right}
      />
      <DriveDots
        known={known}
        selected={selected}
        onSelect={onSelect}
        toX={(rate) => x(rate / MEGABYTE)}
        toY={toY}
        right={right}
        top={top}
        bottom={bottom}
      />
    </>
  );
}

interface DotsProps {
  known: readonly { driveId: string; label: string; on: SeriesOnDrive }[];
  selected: string | null;
  onSelect: (driveId: string) => void;
  toX: (rate: number) => number;
  toY: (seconds: number) => number;
  right: number;
  top: number;
  bottom: number;
}

const DOT_LABEL = 18;

function DriveDots({ known, selected, onSelect, toX, toY, right, top, bottom }: DotsProps) {
  const dots = known.map((one) => ({
    ...one,
    x: toX(one.on.bytesPerSecond),
    y: toY(one.on.neverEmptied.totalSeconds),
  }));
  // Words stand above their dots, each at a height of its own.
  const heights = placeLabels(
    dots.map(({ y }) => ({ wanted: y - 16, size: DOT_LABEL })),
    top + 24,
    bottom,
  );
  return dots.map(({ driveId, label, on, x, y }, index) => {
    const isSelected = driveId === selected;
    const { neverEmptied: slow, alwaysEmptied: quick } = on;
    const spread = slow.totalSeconds - quick.totalSeconds > 0.005 * slow.totalSeconds;
    const text = `${fitText(label, LABEL_SIZE, 150, true)} ${formatDuration(slow.totalSeconds)}`;
    const isBefore = x + 12 + textWidth(text, LABEL_SIZE, true) > right;
    const middle = heights[index]!;
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
