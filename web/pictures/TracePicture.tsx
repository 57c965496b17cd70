import { useMemo, useState, type MouseEvent } from 'react';
import type { Direction } from '#core/run/run-document.ts';
import { decimate, type TraceAxis, type TraceColumn } from '#core/trace/decimate.ts';
import type { Pass } from '#core/trace/passes.ts';
import { formatNumber } from '#core/units/format.ts';
import type { VerdictWord } from '#core/verdict/judge.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, RateAxis } from './Axis.tsx';
import { DIRECTION_STYLE } from './direction-style.ts';
import { fitText, placeLabels } from './labels.ts';
import { PassStrip } from './PassStrip.tsx';
import { Picture } from './Picture.tsx';
import { linearScale, logScale, type PictureScale } from './scale.ts';
import { TemperatureRibbon, type TemperaturePoint } from './TemperatureRibbon.tsx';
import { HatchDefinition, VERDICT_INK, VerdictMark } from './verdict-marks.tsx';

/** A workload's demand drawn over the trace. */
export interface NeedLine {
  id: string;
  name: string;
  bytesPerSecond: number;
  verdict: VerdictWord;
}

interface TracePictureProps {
  passes: readonly Pass[];
  /** Passes that do not count for the figures; drawn fainter. */
  apart: ReadonlySet<Pass>;
  axis: TraceAxis;
  needLines: readonly NeedLine[];
  ceiling: { label: string; bytesPerSecond: number } | null;
  temperature: readonly TemperaturePoint[];
  live: boolean;
}

const LEFT = 62;
const TOP = 34;
const LABELS = 166;
const STRIP = 96;
const AXIS_HEIGHT = 42;
const RIBBON_HEIGHT = 40;
/** Columns drawn at most; more cost frames and show nothing more. */
const MOST_COLUMNS = 600;
/** A trace that spans more than this is drawn on a logarithmic axis. */
const LOG_SPAN = 8;
const GIGABYTE = 1e9;
const MEGABYTE = 1e6;

/** Trace over need lines: what the drive did, against what the job asks for. */
export function TracePicture(props: TracePictureProps) {
  const drawn = useMemo(() => props.passes.filter((pass) => pass.phase !== 'sizing'), [props.passes]);
  const label = `Trace of ${drawn.length} transfers, in megabytes per second, with ${props.needLines.length} need lines`;
  return <Picture label={label}>{(width, height) => <Drawing {...props} passes={drawn} width={width} height={height} />}</Picture>;
}

function Drawing({ passes, apart, axis, needLines, ceiling, temperature, live, width, height }: TracePictureProps & { width: number; height: number }) {
  const [hover, setHover] = useState<number | null>(null);
  const hasStrip = passes.length > 2;
  const hasRibbon = temperature.some((point) => point.celsius !== null);
  const right = width - LABELS - (hasStrip ? STRIP : 0);
  const bottom = height - AXIS_HEIGHT - (hasRibbon ? RIBBON_HEIGHT : 0);

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

  const onMove = (event: MouseEvent<SVGRectElement>) => {
    const at = event.nativeEvent.offsetX;
    setHover(at >= LEFT && at <= right ? at : null);
  };

  return (
    <>
      <HatchDefinition />
      <RateAxis
        scale={y}
        format={(tick) => formatNumber(tick)}
        title={`MB/s, ${y.isLog ? 'logarithmic' : 'linear'}`}
        left={LEFT}
        right={right + (hasStrip ? STRIP : 0)}
        top={TOP}
      />
      <BottomAxis scale={x} format={(tick) => formatNumber(tick)} title={unit.title} y={bottom} right={right} />
      {ceiling && <CeilingLine ceiling={ceiling} y={y} right={width - LABELS} />}
      <NeedLines lines={needLines} y={y} left={LEFT} right={width - LABELS} bottom={bottom} />
      {stretches.map(({ pass, columns: drawn }) => (
        <Stretch key={`${pass.pass} ${pass.direction}`} pass={pass} columns={drawn} faint={apart.has(pass)} toX={(at) => toX(pass, at)} y={y} />
      ))}
      {live && <LiveEnd stretches={stretches} toX={toX} y={y} right={right} />}
      {hasStrip && <PassStrip passes={passes} apart={apart} y={y} left={right + 14} right={width - LABELS - 8} bottom={bottom} />}
      {hasRibbon && (
        <TemperatureRibbon
          points={temperature}
          toX={timeToX(passes, axis, toX)}
          left={LEFT}
          right={right}
          top={height - RIBBON_HEIGHT}
          height={RIBBON_HEIGHT - 6}
        />
      )}
      {hover !== null && <ReadOut hover={hover} stretches={stretches} toX={toX} top={TOP} bottom={bottom} right={right} x={x} unit={unit.short} />}
      <rect x={0} y={0} width={width} height={bottom} fill="transparent" onMouseMove={onMove} onMouseLeave={() => setHover(null)} />
    </>
  );
}

type Stretches = readonly { pass: Pass; columns: TraceColumn[] }[];
type ToX = (pass: Pass, at: number) => number;

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
    return extent > 600 ? { size: 60, title: 'minutes', short: 'min' } : { size: 1, title: 'seconds', short: 's' };
  }
  return extent > 2 * GIGABYTE
    ? { size: GIGABYTE, title: 'GB moved in each direction', short: 'GB' }
    : { size: MEGABYTE, title: 'MB moved in each direction', short: 'MB' };
}

function rateScale(passes: readonly Pass[], needs: readonly NeedLine[], ceiling: TracePictureProps['ceiling'], pixels: [number, number]): PictureScale {
  const rates = passes.flatMap((pass) => pass.intervals.map((interval) => interval.bytesPerSecond)).filter((rate) => rate > 0);
  let low = Infinity;
  let high = 0;
  for (const rate of rates) {
    low = Math.min(low, rate);
    high = Math.max(high, rate);
  }
  if (high === 0) [low, high] = [1e6, 1e9];
  // Needs and the ceiling belong in the picture while they do not squeeze the trace.
  const near = [...needs.map((need) => need.bytesPerSecond), ...(ceiling ? [ceiling.bytesPerSecond] : [])].filter((rate) => rate < 1.6 * high);
  const top = Math.max(high, ...near) / MEGABYTE;
  if (high / low <= LOG_SPAN) return linearScale(0, top, pixels, 7);
  const bottom = Math.max(low / 4, Math.min(low, ...near)) / MEGABYTE;
  return logScale(bottom, top, pixels, 9);
}

function Stretch({
  pass,
  columns,
  faint,
  toX,
  y,
}: {
  pass: Pass;
  columns: readonly TraceColumn[];
  faint: boolean;
  toX: (at: number) => number;
  y: PictureScale;
}) {
  const { colour, dash } = DIRECTION_STYLE[pass.direction];
  if (columns.length === 0) return null;
  const point = (at: number, rate: number) => `${toX(at).toFixed(1)} ${y(rate / MEGABYTE).toFixed(1)}`;
  // A pass of one column still has a width.
  const shown = columns.length === 1 ? [columns[0]!, { ...columns[0]!, at: pass.intervals.at(-1)!.toBytes }] : columns;
  const line = shown.map((column) => point(column.at, column.mean)).join('L');
  const band = [...shown.map((column) => point(column.at, column.high)), ...[...shown].reverse().map((column) => point(column.at, column.low))].join('L');
  return (
    <g opacity={faint ? 0.4 : 1} data-pass={pass.pass} data-direction={pass.direction}>
      <path d={`M${band}Z`} fill={colour} opacity={0.24} />
      <path d={`M${line}`} fill="none" stroke={colour} strokeWidth={1.7} strokeLinejoin="round" {...(dash ? { strokeDasharray: dash } : {})} />
    </g>
  );
}

function CeilingLine({ ceiling, y, right }: { ceiling: { label: string; bytesPerSecond: number }; y: PictureScale; right: number }) {
  const rate = ceiling.bytesPerSecond / MEGABYTE;
  const off = rate > y.invert(TOP) * 1.001;
  const at = off ? TOP : y(rate);
  return (
    <g>
      {!off && <line x1={LEFT} x2={right} y1={at} y2={at} stroke={ink('second')} />}
      <text x={right + 12} y={off ? TOP - 18 : at} dy="0.35em" fill={ink('second')}>
        {fitText(`${off ? '↑ ' : ''}${ceiling.label} ${formatNumber(rate)}`, 12.5, LABELS - 14)}
      </text>
    </g>
  );
}

function NeedLines({ lines, y, left, right, bottom }: { lines: readonly NeedLine[]; y: PictureScale; left: number; right: number; bottom: number }) {
  const top = y.invert(TOP);
  const least = y.isLog ? y.invert(bottom) : 0;
  const wanted = lines.map((line) => y(Math.min(top, Math.max(least, line.bytesPerSecond / MEGABYTE))));
  const middles = placeLabels(
    wanted.map((at) => ({ wanted: at, size: 33 })),
    TOP - 4,
    bottom + 12,
  );
  return (
    <g>
      {lines.map((line, index) => {
        const rate = line.bytesPerSecond / MEGABYTE;
        const at = wanted[index]!;
        const middle = middles[index]!;
        const colour = ink(VERDICT_INK[line.verdict]);
        const off = rate > top * 1.001 ? '↑ ' : rate < least * 0.999 ? '↓ ' : '';
        return (
          <g key={line.id} data-need={line.id}>
            {off === '' && (
              <>
                <line x1={left} x2={right} y1={at - 1.4} y2={at - 1.4} stroke={colour} strokeWidth={0.9} />
                <line x1={left} x2={right} y1={at + 1.4} y2={at + 1.4} stroke={colour} strokeWidth={0.9} />
              </>
            )}
            {off === '' && <path d={`M${right} ${at}L${right + 16} ${middle - 6}`} stroke={colour} fill="none" strokeWidth={0.9} />}
            <VerdictMark verdict={line.verdict} x={right + 22} y={middle - 6} />
            <text x={right + 33} y={middle - 6} dy="0.35em" fill={ink('text')} fontWeight={650}>
              {fitText(line.name, 12.5, LABELS - 35, true)}
            </text>
            <text x={right + 33} y={middle + 9} dy="0.35em" fill={colour}>
              {off}
              {formatNumber(rate)} MB/s
            </text>
          </g>
        );
      })}
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
      <text
        x={before ? at - 10 : at + 10}
        y={y(rate) - 12}
        textAnchor={before ? 'end' : 'start'}
        fill={colour}
        fontWeight={700}
        stroke={ink('page')}
        strokeWidth={4}
        paintOrder="stroke"
      >
        {text}
      </text>
    </g>
  );
}

/** Maps moments of the run to the axis; moments outside a drawn transfer have no place on bytes. */
function timeToX(passes: readonly Pass[], axis: TraceAxis, toX: ToX): (seconds: number) => number | null {
  if (axis === 'seconds') return (seconds) => (passes[0] ? toX(passes[0], seconds) : null);
  const writing = passes.filter((pass) => pass.direction === (passes.some((one) => one.direction === 'write') ? 'write' : 'read'));
  return (seconds) => {
    const pass = writing.find((one) => seconds >= one.startSeconds && seconds <= one.startSeconds + one.transferSeconds);
    const interval = pass?.intervals.find((one) => seconds <= one.toSeconds);
    return pass && interval ? toX(pass, interval.toBytes) : null;
  };
}

interface ReadOutProps {
  hover: number;
  stretches: Stretches;
  toX: ToX;
  top: number;
  bottom: number;
  right: number;
  x: PictureScale;
  unit: string;
}

/** What the trace says under the pointer: mean, lowest and highest of each direction. */
function ReadOut({ hover, stretches, toX, top, bottom, right, x, unit }: ReadOutProps) {
  const nearest = (direction: Direction): TraceColumn | null => {
    let best: TraceColumn | null = null;
    let distance = 12;
    for (const { pass, columns } of stretches) {
      if (pass.direction !== direction) continue;
      for (const column of columns) {
        const away = Math.abs(toX(pass, column.at) - hover);
        if (away < distance) [best, distance] = [column, away];
      }
    }
    return best;
  };
  const lines = (['write', 'read'] as const).flatMap((direction) => {
    const column = nearest(direction);
    if (!column) return [];
    const rate = (value: number) => formatNumber(value / MEGABYTE);
    return [{ direction, text: `${DIRECTION_STYLE[direction].name} ${rate(column.mean)} (${rate(column.low)} – ${rate(column.high)})` }];
  });
  const left = hover > (LEFT + right) / 2;
  const at = left ? hover - 10 : hover + 10;
  return (
    <g pointerEvents="none">
      <line x1={hover} x2={hover} y1={top} y2={bottom} stroke={ink('second')} strokeDasharray="2 3" />
      {[{ direction: null, text: `${formatNumber(x.invert(hover))} ${unit}` }, ...lines].map(({ direction, text }, index) => (
        <text
          key={text}
          x={at}
          y={bottom - 12 - (lines.length - index) * 17}
          textAnchor={left ? 'end' : 'start'}
          fill={direction ? DIRECTION_STYLE[direction].colour : ink('text')}
          stroke={ink('page')}
          strokeWidth={4}
          paintOrder="stroke"
          fontWeight={650}
        >
          {text}
        </text>
      ))}
    </g>
  );
}
