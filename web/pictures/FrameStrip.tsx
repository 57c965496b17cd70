import { useMemo } from 'react';
import type { FrameColumns } from '#core/4-runs/run/run-document.ts';
import type { FrameFigures, StreamFigures } from '#core/4-runs/trace/frames.ts';
import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { Chart } from './kit/Chart.tsx';
import { DIRECTION_STYLE } from './kit/direction-style.ts';
import { LABEL_SIZE, fitText } from './kit/labels.ts';
import { Marks, type Plot } from './kit/Marks.tsx';
import { linearSpan } from '#core/1-ground/axis-span.ts';
import { timeUnitFor } from './kit/units.ts';

export interface FrameStripProps {
  figures: FrameFigures;
  frames: FrameColumns;
}

/** Columns into which the frames are gathered: as many as can be told apart. */
const COLUMNS = 700;
const LEAST_LANE = 44;

/** One column of a lane: the worst frame in it decides what is seen. */
interface FrameColumn {
  frames: number;
  late: number;
  dropped: number;
  /** Largest share of the buffer that a frame's lateness took; below 0 nothing was waiting. */
  worst: number;
}

/** Every frame of every stream against its deadline: late and dropped ones are seen among any number. */
export default function FrameStrip({ figures, frames }: FrameStripProps) {
  const lanes = useMemo(
    () => lanesOf(frames, figures),
    // The frames are changed in place; the figures are made anew with them.
    [frames, figures],
  );
  const time = timeUnitFor(figures.seconds);
  const end = Math.max(1e-9, figures.seconds / time.seconds);
  return (
    <Chart
      label={`${figures.frames} frames in ${figures.streams.length} streams: ${figures.late} late, ${figures.dropped} dropped`}
      plot={{ left: 8, right: 150, top: 22, bottom: 42 }}
      x={{ span: linearSpan(0, end, 8, false), format: formatNumber, title: `${time.name} of the take` }}
      y={{ span: { from: 0, to: 1, ticks: [], isLog: false }, format: formatNumber, title: '' }}
      readOut={(at) => [
        { text: `at ${formatDuration(at * time.seconds)}` },
        ...figures.streams.slice(0, MOST_READ).map(({ name }, stream) => {
          const column = lanes[stream]![Math.min(COLUMNS - 1, Math.floor((at / end) * COLUMNS))]!;
          return { text: `${name}: ${column.dropped} of ${column.frames} dropped` };
        }),
      ]}
    >
      <Marks at="lines">{(plot) => <Lanes figures={figures} lanes={lanes} plot={plot} />}</Marks>
    </Chart>
  );
}

/** Streams read out at most: more would stand on each other. */
const MOST_READ = 8;

interface LanesProps {
  figures: FrameFigures;
  lanes: readonly (readonly FrameColumn[])[];
  plot: Plot;
}

function Lanes({ figures, lanes, plot }: LanesProps) {
  const { left, right, top, bottom } = plot;
  const count = figures.streams.length;
  const shown = Math.max(1, Math.min(count, Math.floor((bottom - top) / LEAST_LANE)));
  const height = (bottom - top) / shown;
  return (
    <>
      {figures.streams.slice(0, shown).map((stream, index) => (
        <Lane
          key={index}
          stream={stream}
          columns={lanes[index]!}
          x={left}
          width={right - left}
          top={top + index * height}
          height={height}
        />
      ))}
      {count > shown && (
        <text x={left} y={bottom + 35} fill={ink('second')}>
          {count - shown} more streams in the table below
        </text>
      )}
    </>
  );
}

/** The frames of each stream gathered into columns. */
function lanesOf(frames: FrameColumns, figures: FrameFigures): FrameColumn[][] {
  const lanes = figures.streams.map(() =>
    Array.from({ length: COLUMNS }, (): FrameColumn => ({ frames: 0, late: 0, dropped: 0, worst: -Infinity })),
  );
  frames.dueSeconds.forEach((due, row) => {
    const stream = frames.stream[row]!;
    const figuresOf = figures.streams[stream];
    const at = Math.floor(((due - figures.beginSeconds) / Math.max(1e-9, figures.seconds)) * (COLUMNS - 1));
    const column = lanes[stream]?.[at];
    if (!column || !figuresOf) return;
    const lateness = frames.latenessSeconds[row]!;
    column.frames += 1;
    if (lateness === null) {
      column.dropped += 1;
      return;
    }
    if (lateness > 0) column.late += 1;
    column.worst = Math.max(column.worst, (lateness * figuresOf.framesPerSecond) / figuresOf.bufferFrames);
  });
  return lanes;
}

interface LaneProps {
  stream: StreamFigures;
  columns: readonly FrameColumn[];
  x: number;
  width: number;
  top: number;
  height: number;
}

/** One stream: how much of the buffer lateness took, from none at the line to all of it at the top. */
function Lane({ stream, columns, x, width, top, height }: LaneProps) {
  const { colour } = DIRECTION_STYLE[stream.direction];
  const base = top + height - 12;
  const full = top + 22;
  const step = width / columns.length;
  const y = (share: number) => base + (full - base) * share;
  const used = columns.map((column, index) => {
    const at = x + index * step;
    const share = Math.min(1, Math.max(0, column.worst));
    return `${at.toFixed(1)} ${y(column.frames > 0 ? share : 0).toFixed(1)}`;
  });
  const dropped = columns.flatMap((column, index) => (column.dropped > 0 ? [index] : []));
  const late = columns.flatMap((column, index) => (column.late > 0 && column.dropped === 0 ? [index] : []));
  return (
    <g data-lane={stream.name}>
      <text x={x} y={top + 13} fill={ink('text')} fontWeight={650}>
        {fitText(stream.name, LABEL_SIZE, width * 0.6, true)}
        <tspan fill={ink('second')} fontWeight={400}>
          {`  ${formatNumber(stream.framesPerSecond)} frames/s, buffer ${stream.bufferFrames} frames`}
        </tspan>
      </text>
      <line x1={x} x2={x + width} y1={full} y2={full} stroke={ink('rule')} strokeDasharray="2 4" />
      <line x1={x} x2={x + width} y1={base} y2={base} stroke={ink('second')} />
      <path d={`M${x} ${base}L${used.join('L')}L${x + width} ${base}Z`} fill={colour} opacity={0.45} />
      {late.map((index) => (
        <line
          key={index}
          x1={x + index * step}
          x2={x + index * step}
          y1={base}
          y2={base + 7}
          stroke={colour}
          strokeWidth={Math.max(2, step)}
        />
      ))}
      {dropped.map((index) => (
        <line
          key={index}
          x1={x + index * step}
          x2={x + index * step}
          y1={full - 5}
          y2={full + 6 + (base - full - 6) * (columns[index]!.dropped / columns[index]!.frames)}
          stroke={ink('breaks')}
          strokeWidth={Math.max(2, step)}
        />
      ))}
      <g transform={`translate(${x + width + 12} 0)`}>
        <text y={full + 4} fill={ink('second')}>
          buffer full
        </text>
        <text y={(full + base) / 2 + 8} fill={stream.dropped > 0 ? ink('breaks') : ink('text')} fontWeight={650}>
          {stream.dropped > 0 ? `${formatNumber(stream.dropped, 'full')} dropped` : 'none dropped'}
        </text>
        <text y={base + 4} fill={ink('second')}>
          {stream.late > 0 ? `${formatNumber(stream.late, 'full')} late` : 'on time'}
        </text>
      </g>
    </g>
  );
}
