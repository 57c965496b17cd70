import { memo } from 'react';
import Box from '@mui/material/Box';
import { DIRECTIONS, type Direction } from '#core/run/run-document.ts';
import type { DirectionFigures, RunFigures } from '#core/trace/figures.ts';
import {
  bytesText,
  formatDuration,
  formatNumber,
  formatRate,
  latenessText,
  orDash,
  rateText,
} from '#core/units/format.ts';
import { FigureTable, type TableRow } from '../../kit/table.tsx';
import { FigureText } from '../../kit/words.tsx';
import { DIRECTION_STYLE } from '../../pictures/direction-style.ts';
import { ink } from '../../theme/tokens.ts';

/** Tables taller than this scroll: the picture keeps its place. */
const MOST_HEIGHT = 190;

const rateNumber = (value: number) => formatRate(value).number;

/** The figures under the picture: each recipe has its own. */
export const FiguresTable = memo(function FiguresTable({ figures }: { figures: RunFigures }) {
  const tables = [directionTable, frameTable, fileTable].map((table) => table(figures)).filter((one) => one !== null);
  if (tables.length === 0) return null;
  return (
    <Box sx={{ flex: 'none', mt: 1.25, maxHeight: MOST_HEIGHT, overflowY: 'auto' }}>
      {tables}
      <LevelLine figures={figures} />
    </Box>
  );
});

function directionTable(figures: RunFigures) {
  const shown = DIRECTIONS.filter((direction) => figures[direction] !== null);
  if (shown.length === 0) return null;
  return (
    <FigureTable
      key="directions"
      heads={[
        'Direction',
        'Median of passes',
        '95 % interval',
        'Slowest – fastest pass',
        'Worst second',
        'Latency p50',
        'p99',
        'Longest',
      ]}
      rows={shown.map((direction) => directionRow(direction, figures[direction]!))}
    />
  );
}

function directionRow(direction: Direction, figures: DirectionFigures): TableRow {
  const interval = figures.medianInterval95;
  return {
    key: direction,
    data: { 'data-figures': direction },
    cells: [
      <DirectionName key="name" direction={direction} />,
      <span key="median" title={rateText(figures.medianBytesPerSecond, 'full')}>
        <FigureText figure={formatRate(figures.medianBytesPerSecond)} size={20} />
      </span>,
      interval ? `${rateNumber(interval[0])} – ${rateNumber(interval[1])}` : 'from 6 passes on',
      <span key="range">
        {rateNumber(figures.lowestPassBytesPerSecond)} – {rateNumber(figures.highestPassBytesPerSecond)}
        <span style={{ color: ink('second') }}>, {figures.passes === 1 ? '1 pass' : `${figures.passes} passes`}</span>
      </span>,
      orDash(figures.worstSecondBytesPerSecond, rateNumber),
      orDash(figures.latencyP50Seconds, formatDuration),
      orDash(figures.latencyP99Seconds, formatDuration),
      orDash(figures.latencyMaxSeconds, formatDuration),
    ],
  };
}

function DirectionName({ direction }: { direction: Direction }) {
  const { colour, dash, name } = DIRECTION_STYLE[direction];
  return (
    <>
      <svg width={28} height={8} aria-hidden="true" style={{ marginRight: 8, verticalAlign: 'middle' }}>
        <line
          x1={0}
          x2={28}
          y1={4}
          y2={4}
          stroke={colour}
          strokeWidth={2.4}
          {...(dash ? { strokeDasharray: dash } : {})}
        />
      </svg>
      {name}
    </>
  );
}

/** Opening, knee and floor, and what rests regained, in one line. */
function LevelLine({ figures: { write, recovery } }: { figures: RunFigures }) {
  const reading = write?.reading;
  const parts: string[] = [];
  if (reading?.slope) {
    const { startBytesPerSecond, endBytesPerSecond } = reading.slope;
    parts.push(`slopes from ${rateText(startBytesPerSecond)} to ${rateText(endBytesPerSecond)}`);
  }
  if (reading && reading.kneeBytes !== null) {
    parts.push(`opening ${orDash(reading.openingBytesPerSecond, rateText)}`);
    const [from, to] = reading.kneeSpreadBytes ?? [null, null];
    parts.push(
      from === null ? `knee at ${bytesText(reading.kneeBytes)}` : `falls from ${bytesText(from)} to ${bytesText(to)}`,
    );
    parts.push(`floor ${orDash(reading.floorBytesPerSecond, rateText)} for ${formatDuration(reading.floorSeconds)}`);
  }
  if (reading?.sawtooth) {
    const { lowBytesPerSecond, highBytesPerSecond, periodSeconds } = reading.sawtooth;
    parts.push(
      `swings ${rateNumber(lowBytesPerSecond)} – ${rateNumber(highBytesPerSecond)} every ${formatDuration(periodSeconds)}`,
    );
  }
  for (const { restSeconds, regainedBytes, atLeast } of recovery ?? []) {
    parts.push(
      `${formatDuration(restSeconds)} of rest regains ${atLeast ? 'at least ' : ''}${bytesText(regainedBytes)}`,
    );
  }
  if (parts.length === 0) return null;
  return (
    <Box component="p" sx={{ m: 0, pt: 0.75, fontSize: 13.5, color: ink('second') }} data-levels="">
      {parts.join(' · ')}
    </Box>
  );
}

function frameTable({ frames }: RunFigures) {
  if (!frames) return null;
  return (
    <FigureTable
      key="frames"
      heads={['Stream', 'Frames', 'Late', 'Dropped', 'First dropped', 'p50', 'p99', 'Longest', 'Buffer at its lowest']}
      rows={frames.streams.map((stream, index) => ({
        key: String(index),
        data: { 'data-stream': String(index) },
        cells: [
          <span key="name" title={stream.name}>
            {stream.name}
          </span>,
          formatNumber(stream.frames, 'full'),
          formatNumber(stream.late, 'full'),
          <b key="dropped" style={{ color: stream.dropped > 0 ? ink('breaks') : undefined }}>
            {formatNumber(stream.dropped, 'full')}
          </b>,
          orDash(stream.firstDroppedSeconds, formatDuration),
          orDash(stream.latenessP50Seconds, latenessText),
          orDash(stream.latenessP99Seconds, latenessText),
          orDash(stream.latenessMaxSeconds, latenessText),
          `${stream.lowWaterFrames} of ${stream.bufferFrames}`,
        ],
      }))}
    />
  );
}

const ACTION_NAMES = { create: 'creating', read: 'reading', list: 'listing', delete: 'deleting' } as const;

function fileTable({ files }: RunFigures) {
  if (!files) return null;
  return (
    <FigureTable
      key="files"
      heads={['Action', 'Files a second', 'MB/s', 'Cost of a file', 'p50', 'p99', 'Files', 'In all']}
      rows={files.map((one) => ({
        key: one.action,
        data: { 'data-action': one.action },
        cells: [
          ACTION_NAMES[one.action],
          <b key="rate">{formatNumber(one.filesPerSecond)}</b>,
          one.bytes > 0 ? rateNumber(one.bytesPerSecond) : '–',
          formatDuration(one.costSeconds),
          formatDuration(one.p50Seconds),
          formatDuration(one.p99Seconds),
          formatNumber(one.files, 'full'),
          formatDuration(one.seconds),
        ],
      }))}
    />
  );
}
