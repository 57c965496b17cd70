import { useMemo } from 'react';
import type { FrameColumns } from '#core/run/run-document.ts';
import type { FrameFigures, StreamFigures } from '#core/trace/frames.ts';
import { formatDuration, formatNumber } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { DIRECTION_STYLE } from './kit/direction-style.ts';
import { BottomAxis } from './kit/Axis.tsx';
import { ReadOut, usePointer } from './kit/ReadOut.tsx';
import { timeUnitFor } from './kit/units.ts';
import { fitText } from './kit/labels.ts';
import { LABEL_SIZE, Picture } from './kit/Picture.tsx';
import { linearScale, type PictureScale } from './kit/scale.ts';

const LEFT = 8;
const RIGHT = 150;
const TOP = 22;
const AXIS = 42;
const LEAST_LANE = 44;
const MOST_LANE = 420;

/** One column of pixels of a lane: the worst frame in it decides what is seen. */
interface FrameColumn {
  frames: number;
  late: number;
  dropped: number;
  /** Largest share of the buffer that a frame's lateness took; below 0 nothing was waiting. */
  worst: number;
}

/** Every frame of every stream against its deadline: late and dropped ones are seen among any number. */
export default function FrameStrip({ figures, frames }: { figures: FrameFigures; frames: FrameColumns }) {
  const label = `${figures.frames} frames in ${figures.streams.length} streams: ${figures.late} late, ${figures.dropped} dropped`;
  return (
    <Picture label={label}>
      {(width, height) => <Drawing figures={figures} frames={frames} width={width} height={height} />}
    </Picture>
  );
}

function Drawing({
  figures,
  frames,
  width,
  height,
}: {
  figures: FrameFigures;
  frames: FrameColumns;
  width: number;
  height: number;
}) {
  const right = width - RIGHT;
  const count = figures.streams.length;
  const lane = Math.min(MOST_LANE, Math.max(LEAST_LANE, (height - TOP - AXIS) / count));
  const time = timeUnitFor(figures.seconds);
  const x = linearScale(0, Math.max(1e-9, figures.seconds / time.seconds), [LEFT, right], 8, false);
  const columns = Math.max(50, Math.floor(right - LEFT));
  const lanes = useMemo(
    () => lanesOf(frames, figures, columns),
    // The frames are changed in place; the figures are made anew with them.
    [frames, figures, columns],
  );
  const shown = Math.floor((height - TOP - AXIS) / lane);
  const bottom = TOP + Math.min(count, shown) * lane;
  const pointer = usePointer({ left: LEFT, right, top: TOP, bottom });
  const hover = pointer.at === null ? null : Math.min(columns - 1, Math.max(0, Math.floor(pointer.at - LEFT)));
  return (
    <>
      {figures.streams.slice(0, shown).map((stream, index) => (
        <Lane
          key={index}
          stream={stream}
          columns={lanes[index]!}
          x={LEFT}
          width={right - LEFT}
          top={TOP + index * lane}
          height={lane}
          hover={hover}
        />
      ))}
      <BottomAxis
        scale={x}
        format={formatNumber}
        title={`${time.name} of the take`}
        y={bottom}
        left={LEFT}
        right={right}
      />
      {count > shown && (
        <text x={LEFT} y={bottom + 36} fill={ink('second')}>
          {count - shown} more streams in the table below
        </text>
      )}
      <ReadOut
        pointer={pointer}
        lines={() => [{ text: `at ${formatDuration((hover! / columns) * figures.seconds)}` }]}
      />
      {pointer.ground}
    </>
  );
}

/** The frames of each stream gathered into columns of pixels. */
function lanesOf(frames: FrameColumns, figures: FrameFigures, columns: number): FrameColumn[][] {
  const lanes = figures.streams.map(() =>
    Array.from({ length: columns }, (): FrameColumn => ({ frames: 0, late: 0, dropped: 0, worst: -Infinity })),
  );
  frames.dueSeconds.forEach((due, row) => {
    const stream = frames.stream[row]!;
    const figuresOf = figures.streams[stream];
    const at = Math.floor(((due - figures.beginSeconds) / Math.max(1e-9, figures.seconds)) * (columns - 1));
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
  hover: number | null;
}

/** One stream: how much of the buffer lateness took, from none at the line to all of it at the top. */
function Lane({ stream, columns, x, width, top, height, hover }: LaneProps) {
  const { colour } = DIRECTION_STYLE[stream.direction];
  const base = top + height - 12;
  const full = top + 22;
  const step = width / columns.length;
  const y: PictureScale = linearScale(0, 1, [base, full], 2, false);
  const used = columns.map((column, index) => {
    const at = x + index * step;
    const share = Math.min(1, Math.max(0, column.worst));
    return `${at.toFixed(1)} ${y(column.frames > 0 ? share : 0).toFixed(1)}`;
  });
  const hovered = hover === null ? undefined : columns[hover];
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
          {hovered
            ? `${hovered.dropped} of ${hovered.frames} dropped`
            : stream.dropped > 0
              ? `${formatNumber(stream.dropped, 'full')} dropped`
              : 'none dropped'}
        </text>
        <text y={base + 4} fill={ink('second')}>
          {stream.late > 0 ? `${formatNumber(stream.late, 'full')} late` : 'on time'}
        </text>
      </g>
    </g>
  );
}
