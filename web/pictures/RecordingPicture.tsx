import { Area, Line } from 'recharts';
import type { RecordingRows } from '#core/3-jobs/recording/recording.ts';
import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { Chart, STILL } from './kit/Chart.tsx';
import { DIRECTION_STYLE, directionLine } from './kit/direction-style.ts';
import { linearSpan } from '#core/1-ground/axis-span.ts';
import { MEGABYTE, timeUnitFor } from './kit/units.ts';

const COLUMNS = 140;

/** Means since the column before. */
interface Column {
  toSeconds: number;
  /** Megabytes a second. */
  read: number;
  write: number;
  /** Processors in use. */
  processors: number;
}

/** Rows gathered into as many columns as can be told apart; each is the mean over its time, so bytes add up. */
function columnsOf(rows: RecordingRows): Column[] {
  const last = rows.seconds.length - 1;
  const every = Math.max(1, Math.ceil(last / COLUMNS));
  const columns: Column[] = [];
  for (let from = 0; from < last; from += every) {
    const to = Math.min(last, from + every);
    const seconds = Math.max(1e-6, rows.seconds[to]! - rows.seconds[from]!);
    const rate = (column: readonly number[]) => (column[to]! - column[from]!) / seconds;
    columns.push({
      toSeconds: rows.seconds[to]!,
      read: rate(rows.readBytes) / MEGABYTE,
      write: rate(rows.writtenBytes) / MEGABYTE,
      processors: rate(rows.processorSeconds),
    });
  }
  return columns;
}

/** What a program moved as time went by: reading and writing as lines, computing as the ground behind. */
export default function RecordingPicture({ rows }: { rows: RecordingRows }) {
  const columns = columnsOf(rows);
  const end = Math.max(1, rows.seconds.at(-1) ?? 1);
  const unit = timeUnitFor(end);
  const most = Math.max(1, ...columns.flatMap(({ read, write }) => [read, write]));
  const mostProcessors = Math.max(1, ...columns.map(({ processors }) => processors));
  const y = linearSpan(0, most, 3);
  const points = columns.map((column) => ({
    ...column,
    x: column.toSeconds / unit.seconds,
    ground: (column.processors / mostProcessors) * y.to,
  }));
  const data = points[0] ? [{ ...points[0], x: 0 }, ...points] : [];
  return (
    <Chart
      label="Bytes read and written by the program over time, and its processor time"
      height={190}
      plot={{ left: 54, right: 10, top: 28, bottom: 40 }}
      x={{ span: linearSpan(0, end / unit.seconds, 6, false), format: formatNumber, title: unit.name }}
      y={{ span: y, format: formatNumber, title: 'MB/s; shaded: processors in use' }}
      readOut={(at) => {
        const column = points.find(({ x }) => x >= at);
        return [
          { text: `${formatNumber(at)} ${unit.short}` },
          ...(column
            ? [
                ...DIRECTIONS.map((direction) => ({
                  text: `${DIRECTION_STYLE[direction].name} ${formatNumber(column[direction])} MB/s`,
                  colour: DIRECTION_STYLE[direction].colour,
                })),
                { text: `${formatNumber(column.processors)} processors in use` },
              ]
            : []),
        ];
      }}
    >
      <Area
        {...STILL}
        data={data}
        dataKey="ground"
        type="stepBefore"
        stroke="none"
        fill={ink('text')}
        fillOpacity={0.09}
      />
      {DIRECTIONS.map((direction) => (
        <Line
          key={direction}
          {...STILL}
          {...directionLine(direction)}
          data={data}
          dataKey={direction}
          type="stepBefore"
          strokeWidth={1.8}
        />
      ))}
    </Chart>
  );
}
