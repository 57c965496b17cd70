import { greatest } from '#core/1-ground/numbers/statistics.ts';
import { useMemo } from 'react';
import { Area, Line } from 'recharts';
import { decimate, type TraceAxis, type TraceColumn } from '#core/4-runs/trace/decimate.ts';
import { endOf, gathered, originsOf, traceSpan } from '#core/4-runs/trace/drawn-trace.ts';
import { isMeasuring, type Pass } from '#core/4-runs/trace/passes.ts';
import type { TraceReading } from '#core/4-runs/trace/reading.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { Chart, STILL } from '../kit/Chart.tsx';
import { DIRECTION_STYLE, directionLine } from '../kit/direction-style.ts';
import { HaloText } from '../kit/HaloText.tsx';
import { Marks, type Plot } from '../kit/Marks.tsx';
import { linearSpan } from '#core/1-ground/axis-span.ts';
import { GIGABYTE, MEGABYTE, timeUnitFor } from '../kit/units.ts';
import { HatchDefinition } from '../kit/verdict-marks.tsx';
import { CeilingLine, NeedLines, type NeedLine } from './NeedLines.tsx';
import { PassStrip } from './PassStrip.tsx';
import { TemperatureRibbon, type TemperaturePoint } from './TemperatureRibbon.tsx';
import { traceLines } from './trace-lines.ts';
import {
  AXIS_HEIGHT,
  COLUMNS,
  LABELS,
  RIBBON_HEIGHT,
  STRIP,
  type Stretches,
  type ToAxis,
  type ToX,
} from './trace-layout.ts';
import { DoubtMarks, LevelMarks, StillMarks, type DoubtMark, type StillMark } from './TraceMarks.tsx';
import { countPassing } from '#core/1-ground/numbers/search.ts';

export interface TracePictureProps {
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
export default function TracePicture({
  passes,
  apart,
  axis,
  needLines,
  ceiling,
  temperature,
  levels,
  doubts,
  still,
  live,
}: TracePictureProps) {
  const { strip, drawn } = useMemo(() => {
    const shown = passes.filter(isMeasuring);
    return { strip: shown, drawn: gathered(shown) };
  }, [passes]);
  // Passes that differ on purpose are not held against each other.
  const hasStrip = strip.length > 2 && !strip.some((pass) => pass.phase === 'recovery');
  const hasRibbon = temperature.some((point) => point.celsius !== null);
  const { stretches, unit, extent, toAxis } = useMemo(() => {
    const origins = originsOf(drawn, axis);
    const extent = greatest(
      drawn.map((pass) => endOf(pass, axis) - origins[pass.direction]),
      1e-9,
    );
    const unit = xUnit(axis, extent);
    const toAxis: ToAxis = (pass, at) => (at - origins[pass.direction]) / unit.size;
    const stretches = drawn.map((pass) => {
      const from = origins[pass.direction];
      return { pass, columns: decimate(pass.intervals, axis, from, from + extent, COLUMNS) };
    });
    return { stretches, unit, extent, toAxis };
  }, [drawn, axis]);
  const y = useMemo(() => traceSpan(drawn, needLines, ceiling), [drawn, needLines, ceiling]);
  return (
    <Chart
      label={`Trace of ${drawn.length} transfers, in megabytes per second, with ${needLines.length} need lines`}
      plot={{
        left: 62,
        right: LABELS + (hasStrip ? STRIP : 0),
        top: 34,
        bottom: AXIS_HEIGHT + (hasRibbon ? RIBBON_HEIGHT : 0),
      }}
      x={{ span: linearSpan(0, extent / unit.size, 6, false), format: formatNumber, title: unit.title }}
      y={{ span: y, format: formatNumber, title: `MB/s, ${y.isLog ? 'logarithmic' : 'linear'}` }}
      gridOver={hasStrip ? STRIP : 0}
      readOut={(at) => [
        { text: `${formatNumber(at)} ${unit.short}` },
        ...traceLines(at, stretches, toAxis, (extent / unit.size) * NEAR),
      ]}
    >
      <Marks at="behind">
        {(plot) => {
          const edge = plot.right + (hasStrip ? STRIP : 0);
          return (
            <>
              <HatchDefinition />
              {ceiling && <CeilingLine ceiling={ceiling} plot={plot} right={edge} />}
              <NeedLines lines={needLines} span={y} plot={plot} right={edge} />
            </>
          );
        }}
      </Marks>
      {stretches.map(({ pass, columns }) => (
        <Stretch
          key={`${pass.pass} ${pass.direction}`}
          pass={pass}
          columns={columns}
          faint={apart.has(pass)}
          axis={axis}
          toAxis={toAxis}
        />
      ))}
      <Marks>
        {(plot) => {
          const toX: ToX = (pass, at) => plot.x(toAxis(pass, at));
          const moment = timeToX(drawn, axis, toX);
          return (
            <>
              {axis === 'seconds' && <StillMarks marks={still} toX={moment} plot={plot} />}
              {levels && drawn.includes(levels.pass) && <LevelMarks {...levels} axis={axis} toX={toX} plot={plot} />}
              {live && <LiveEnd stretches={stretches} toX={toX} plot={plot} />}
              <DoubtMarks doubts={doubts} toX={moment} plot={plot} />
              {hasStrip && <PassStrip passes={strip} apart={apart} plot={plot} />}
              {hasRibbon && <TemperatureRibbon points={temperature} toX={moment} plot={plot} />}
            </>
          );
        }}
      </Marks>
    </Chart>
  );
}

/** Columns nearer than this share of the axis are at a place. */
const NEAR = 0.012;

function xUnit(axis: TraceAxis, extent: number): { size: number; title: string; short: string } {
  if (axis === 'seconds') {
    const { seconds, name, short } = timeUnitFor(extent);
    return { size: seconds, title: name, short };
  }
  return extent > 2 * GIGABYTE
    ? { size: GIGABYTE, title: 'GB moved in each direction', short: 'GB' }
    : { size: MEGABYTE, title: 'MB moved in each direction', short: 'MB' };
}

interface StretchProps {
  pass: Pass;
  columns: readonly TraceColumn[];
  faint: boolean;
  axis: TraceAxis;
  toAxis: ToAxis;
}

/** One transfer: its mean as a line, from its lowest to its highest as a band. */
function Stretch({ pass, columns, faint, axis, toAxis }: StretchProps) {
  if (columns.length === 0) return null;
  // The first and the last column stand for all they cover, to the very ends of the transfer.
  const [first, last] = [pass.intervals[0]!, pass.intervals.at(-1)!];
  const ends = axis === 'bytes' ? [first.fromBytes, last.toBytes] : [first.fromSeconds, last.toSeconds];
  const data = [{ ...columns[0]!, at: ends[0]! }, ...columns, { ...columns.at(-1)!, at: ends[1]! }].map(
    ({ at, low, high, mean }) => ({
      x: toAxis(pass, at),
      mean: mean / MEGABYTE,
      band: [low / MEGABYTE, high / MEGABYTE],
    }),
  );
  return (
    <>
      <Area
        {...STILL}
        data={data}
        dataKey="band"
        type="linear"
        stroke="none"
        fill={DIRECTION_STYLE[pass.direction].colour}
        fillOpacity={faint ? 0.1 : 0.24}
      />
      <Line
        {...STILL}
        {...directionLine(pass.direction)}
        data={data}
        dataKey="mean"
        type="linear"
        strokeWidth={1.7}
        strokeLinejoin="round"
        strokeOpacity={faint ? 0.4 : 1}
        data-pass={pass.pass}
        data-direction={pass.direction}
      />
    </>
  );
}

function LiveEnd({ stretches, toX, plot }: { stretches: Stretches; toX: ToX; plot: Plot }) {
  const last = stretches.at(-1);
  const end = last?.columns.at(-1);
  if (!last || !end) return null;
  const { colour, name } = DIRECTION_STYLE[last.pass.direction];
  const rate = last.pass.intervals.at(-1)!.bytesPerSecond / MEGABYTE;
  const [at, height] = [Math.min(plot.right, toX(last.pass, end.at)), plot.y(rate)];
  const before = at > plot.right - 130;
  return (
    <g pointerEvents="none">
      <circle cx={at} cy={height} r={4.5} fill={colour} />
      <HaloText
        x={before ? at - 10 : at + 10}
        y={height - 12}
        textAnchor={before ? 'end' : 'start'}
        fill={colour}
        fontWeight={700}
      >
        {`${formatNumber(rate)} ${name} now`}
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
const intervalAt = ({ intervals }: Pass, seconds: number): Pass['intervals'][number] | undefined =>
  intervals[countPassing(intervals.length, (index) => intervals[index]!.toSeconds < seconds)];
