import { useMemo } from 'react';
import type { Direction } from '#core/run/direction.ts';
import { decimate, type TraceAxis, type TraceColumn } from '#core/trace/decimate.ts';
import type { Pass } from '#core/trace/passes.ts';
import type { TraceReading } from '#core/trace/reading.ts';
import { formatNumber } from '#core/units/format.ts';
import { BottomAxis, LeftAxis } from '../kit/Axis.tsx';
import { CeilingLine, NeedLines, type NeedLine } from './NeedLines.tsx';
import { traceLines } from './trace-lines.ts';
import {
  AXIS_HEIGHT,
  LABELS,
  LEFT,
  LOG_SPAN,
  MOST_COLUMNS,
  RIBBON_HEIGHT,
  STRIP,
  TOP,
  type Stretches,
  type ToX,
} from './trace-layout.ts';
import { DIRECTION_STYLE } from '../kit/direction-style.ts';
import { PassStrip } from './PassStrip.tsx';
import { DoubtMarks, LevelMarks, StillMarks, type DoubtMark, type StillMark } from './TraceMarks.tsx';
import { Picture } from '../kit/Picture.tsx';
import { linearScale, logScale, type PictureScale } from '../kit/scale.ts';
import { TemperatureRibbon, type TemperaturePoint } from './TemperatureRibbon.tsx';
import { HatchDefinition } from '../kit/verdict-marks.tsx';
import { GIGABYTE, MEGABYTE, timeUnitFor } from '../kit/units.ts';
import { ReadOut, usePointer } from '../kit/ReadOut.tsx';
import { HaloText } from '../kit/HaloText.tsx';

interface TracePictureProps {
  passes: readonly Pass[];
  /** Passes that do not count for the figures; drawn fainter. */
  apart: ReadonlySet<Pass>;
  axis: TraceAxis;
  needLines: readonly NeedLine[];
  ceiling: { label: string; bytesPerSecond: number } | null;
  temperature: readonly TemperaturePoint[];
  /** Levels of the pass that shows them, marked on the trace; null where there are none. */
  levels: { pass: Pass; reading: TraceReading } | null;
  doubts: readonly DoubtMark[];
  still: readonly StillMark[];
  live: boolean;
}

/** Trace over need lines: what the drive did, against what the job asks for. */
export function TracePicture(props: TracePictureProps) {
  const { strip, drawn } = useMemo(() => {
    const shown = props.passes.filter((pass) => pass.phase !== 'sizing' && pass.phase !== 'laying-out');
    return { strip: shown, drawn: gathered(shown) };
  }, [props.passes]);
  const label = `Trace of ${drawn.length} transfers, in megabytes per second, with ${props.needLines.length} need lines`;
  return (
    <Picture label={label}>
      {(width, height) => <Drawing {...props} passes={drawn} strip={strip} width={width} height={height} />}
    </Picture>
  );
}

/** More transfers than this cannot be told apart in the picture, and would cost it its frames. */
const MOST_STRETCHES = 160;

/** Of very many transfers, those of a direction as one: their moments still lie where they were. */
function gathered(passes: readonly Pass[]): readonly Pass[] {
  if (passes.length <= MOST_STRETCHES) return passes;
  return (['write', 'read'] as const).flatMap((direction) => {
    const own = passes.filter((pass) => pass.direction === direction);
    const [first, last] = [own[0], own.at(-1)];
    if (!first || !last) return [];
    const transferSeconds = last.startSeconds + last.transferSeconds - first.startSeconds;
    return [{ ...first, transferSeconds, intervals: own.flatMap((pass) => pass.intervals) }];
  });
}

function Drawing({
  passes,
  strip,
  apart,
  axis,
  needLines,
  ceiling,
  temperature,
  levels,
  doubts,
  still,
  live,
  width,
  height,
}: TracePictureProps & { strip: readonly Pass[]; width: number; height: number }) {
  // Passes that differ on purpose are not held against each other.
  const hasStrip = strip.length > 2 && !strip.some((pass) => pass.phase === 'recovery');
  const hasRibbon = temperature.some((point) => point.celsius !== null);
  const right = width - LABELS - (hasStrip ? STRIP : 0);
  const bottom = height - AXIS_HEIGHT - (hasRibbon ? RIBBON_HEIGHT : 0);
  const pointer = usePointer({ left: LEFT, right, top: TOP, bottom });

  const origins = originsOf(passes, axis);
  const extent = Math.max(1e-9, ...passes.map((pass) => endOf(pass, axis) - origins[pass.direction]));
  const unit = xUnit(axis, extent);
  const x = linearScale(0, extent / unit.size, [LEFT, right], 6, false);
  const y = rateScale(passes, needLines, ceiling, [bottom, TOP]);
  const columns = Math.min(MOST_COLUMNS, Math.max(50, Math.floor((right - LEFT) / 1.5)));
  const stretches = useMemo(
    () =>
      passes.map((pass) => ({
        pass,
        columns: decimate(pass.intervals, axis, origins[pass.direction], origins[pass.direction] + extent, columns),
      })),
    [passes, axis, origins, extent, columns],
  );
  const toX = (pass: Pass, at: number) => x((at - origins[pass.direction]) / unit.size);

  const moment = timeToX(passes, axis, toX);

  return (
    <>
      <HatchDefinition />
      <LeftAxis
        scale={y}
        format={(tick) => formatNumber(tick)}
        title={`MB/s, ${y.isLog ? 'logarithmic' : 'linear'}`}
        left={LEFT}
        right={right + (hasStrip ? STRIP : 0)}
        top={TOP}
      />
      <BottomAxis
        scale={x}
        format={(tick) => formatNumber(tick)}
        title={unit.title}
        y={bottom}
        left={LEFT}
        right={right}
      />
      {ceiling && <CeilingLine ceiling={ceiling} y={y} right={width - LABELS} />}
      <NeedLines lines={needLines} y={y} left={LEFT} right={width - LABELS} bottom={bottom} />
      {axis === 'seconds' && <StillMarks marks={still} toX={moment} bottom={bottom} />}
      {stretches.map(({ pass, columns: drawn }) => (
        <Stretch
          key={`${pass.pass} ${pass.direction}`}
          pass={pass}
          columns={drawn}
          faint={apart.has(pass)}
          axis={axis}
          toX={(at) => toX(pass, at)}
          y={y}
        />
      ))}
      {levels && passes.includes(levels.pass) && (
        <LevelMarks {...levels} axis={axis} toX={toX} y={y} bottom={bottom} right={right} />
      )}
      {live && <LiveEnd stretches={stretches} toX={toX} y={y} right={right} />}
      <DoubtMarks doubts={doubts} toX={moment} right={right} bottom={bottom} />
      {hasStrip && (
        <PassStrip passes={strip} apart={apart} y={y} left={right + 14} right={width - LABELS - 8} bottom={bottom} />
      )}
      {hasRibbon && (
        <TemperatureRibbon
          points={temperature}
          toX={moment}
          left={LEFT}
          right={right}
          top={height - RIBBON_HEIGHT}
          height={RIBBON_HEIGHT - 6}
        />
      )}
      <ReadOut
        pointer={pointer}
        lines={(at) => [{ text: `${formatNumber(x.invert(at))} ${unit.short}` }, ...traceLines(at, stretches, toX)]}
      />
      {pointer.ground}
    </>
  );
}

/** Where each direction's trace begins: on the axis of bytes each counts its own. */
function originsOf(passes: readonly Pass[], axis: TraceAxis): Record<Direction, number> {
  const first = (direction: Direction) => passes.find((pass) => pass.direction === direction)?.intervals[0];
  if (axis === 'bytes') return { write: first('write')?.fromBytes ?? 0, read: first('read')?.fromBytes ?? 0 };
  const start = Math.min(...passes.map((pass) => pass.startSeconds));
  return { write: start, read: start };
}

function endOf(pass: Pass, axis: TraceAxis): number {
  const last = pass.intervals.at(-1);
  return (axis === 'bytes' ? last?.toBytes : last?.toSeconds) ?? 0;
}

function xUnit(axis: TraceAxis, extent: number): { size: number; title: string; short: string } {
  if (axis === 'seconds') {
    const { seconds, name, short } = timeUnitFor(extent);
    return { size: seconds, title: name, short };
  }
  return extent > 2 * GIGABYTE
    ? { size: GIGABYTE, title: 'GB moved in each direction', short: 'GB' }
    : { size: MEGABYTE, title: 'MB moved in each direction', short: 'MB' };
}

function rateScale(
  passes: readonly Pass[],
  needs: readonly NeedLine[],
  ceiling: TracePictureProps['ceiling'],
  pixels: [number, number],
): PictureScale {
  const rates = passes
    .flatMap((pass) => pass.intervals.map((interval) => interval.bytesPerSecond))
    .filter((rate) => rate > 0);
  let low = Infinity;
  let high = 0;
  for (const rate of rates) {
    low = Math.min(low, rate);
    high = Math.max(high, rate);
  }
  if (high === 0) [low, high] = [1e6, 1e9];
  // Needs and the ceiling belong in the picture while they do not squeeze the trace.
  const near = [...needs.map((need) => need.bytesPerSecond), ...(ceiling ? [ceiling.bytesPerSecond] : [])].filter(
    (rate) => rate < 1.6 * high,
  );
  const top = Math.max(high, ...near) / MEGABYTE;
  if (high / low <= LOG_SPAN) return linearScale(0, top, pixels, 7);
  const bottom = Math.max(low / 4, Math.min(low, ...near)) / MEGABYTE;
  return logScale(bottom, top, pixels, 9);
}

function Stretch({
  pass,
  columns,
  faint,
  axis,
  toX,
  y,
}: {
  pass: Pass;
  columns: readonly TraceColumn[];
  faint: boolean;
  axis: TraceAxis;
  toX: (at: number) => number;
  y: PictureScale;
}) {
  const { colour, dash } = DIRECTION_STYLE[pass.direction];
  if (columns.length === 0) return null;
  const point = (at: number, rate: number) => `${toX(at).toFixed(1)} ${y(rate / MEGABYTE).toFixed(1)}`;
  // The first and the last column stand for all they cover, to the very ends of the transfer.
  const [first, last] = [pass.intervals[0]!, pass.intervals.at(-1)!];
  const ends = axis === 'bytes' ? [first.fromBytes, last.toBytes] : [first.fromSeconds, last.toSeconds];
  const shown = [{ ...columns[0]!, at: ends[0]! }, ...columns, { ...columns.at(-1)!, at: ends[1]! }];
  const line = shown.map((column) => point(column.at, column.mean)).join('L');
  const band = [
    ...shown.map((column) => point(column.at, column.high)),
    ...[...shown].reverse().map((column) => point(column.at, column.low)),
  ].join('L');
  return (
    <g opacity={faint ? 0.4 : 1} data-pass={pass.pass} data-direction={pass.direction}>
      <path d={`M${band}Z`} fill={colour} opacity={0.24} />
      <path
        d={`M${line}`}
        fill="none"
        stroke={colour}
        strokeWidth={1.7}
        strokeLinejoin="round"
        {...(dash ? { strokeDasharray: dash } : {})}
      />
    </g>
  );
}

function LiveEnd({ stretches, toX, y, right }: { stretches: Stretches; toX: ToX; y: PictureScale; right: number }) {
  const last = stretches.at(-1);
  const end = last?.columns.at(-1);
  if (!last || !end) return null;
  const { colour, name } = DIRECTION_STYLE[last.pass.direction];
  const rate = last.pass.intervals.at(-1)!.bytesPerSecond / MEGABYTE;
  const at = Math.min(right, toX(last.pass, end.at));
  const text = `${formatNumber(rate)} ${name} now`;
  const before = at > right - 130;
  return (
    <g>
      <circle cx={at} cy={y(rate)} r={4.5} fill={colour} />
      <HaloText
        x={before ? at - 10 : at + 10}
        y={y(rate) - 12}
        textAnchor={before ? 'end' : 'start'}
        fill={colour}
        fontWeight={700}
      >
        {text}
      </HaloText>
    </g>
  );
}

/** Maps moments of the run to the axis; moments outside a drawn transfer have no place on bytes. */
function timeToX(passes: readonly Pass[], axis: TraceAxis, toX: ToX): (seconds: number) => number | null {
  if (axis === 'seconds') return (seconds) => (passes[0] ? toX(passes[0], seconds) : null);
  const writing = passes.filter(
    (pass) => pass.direction === (passes.some((one) => one.direction === 'write') ? 'write' : 'read'),
  );
  return (seconds) => {
    const pass = writing.find(
      (one) => seconds >= one.startSeconds && seconds <= one.startSeconds + one.transferSeconds,
    );
    const interval = pass && intervalAt(pass, seconds);
    return interval ? toX(pass, interval.toBytes) : null;
  };
}

/** First interval that ends at a moment or later; by halves, for there is a temperature for every second of hours. */
function intervalAt({ intervals }: Pass, seconds: number): Pass['intervals'][number] | undefined {
  let [low, high] = [0, intervals.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (intervals[middle]!.toSeconds < seconds) low = middle + 1;
    else high = middle;
  }
  return intervals[low];
}
