import type { RecordingRows } from '#core/recording/recording.ts';
import { formatNumber } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { DIRECTION_STYLE } from './kit/direction-style.ts';
import { Picture } from './kit/Picture.tsx';
import { linearScale } from './kit/scale.ts';
import { MEGABYTE, timeUnitFor } from './kit/units.ts';

const HEIGHT = 190;
const PLOT = { left: 54, right: 10, top: 28, bottom: 40 };
const COLUMNS = 140;

interface Columns {
  toSeconds: number[];
  read: number[];
  written: number[];
  /** Processors in use. */
  processors: number[];
}

/** Rows gathered into as many columns as can be told apart; each is the mean over its time, so bytes add up. */
function columnsOf(rows: RecordingRows): Columns {
  const last = rows.seconds.length - 1;
  const every = Math.max(1, Math.ceil(last / COLUMNS));
  const columns: Columns = { toSeconds: [], read: [], written: [], processors: [] };
  for (let from = 0; from < last; from += every) {
    const to = Math.min(last, from + every);
    const seconds = Math.max(1e-6, rows.seconds[to]! - rows.seconds[from]!);
    const rate = (column: readonly number[]) => (column[to]! - column[from]!) / seconds;
    columns.toSeconds.push(rows.seconds[to]!);
    columns.read.push(rate(rows.readBytes));
    columns.written.push(rate(rows.writtenBytes));
    columns.processors.push(rate(rows.processorSeconds));
  }
  return columns;
}

/** What a program moved as time went by: reading and writing as lines, computing as the ground behind. */
export function RecordingPicture({ rows }: { rows: RecordingRows }) {
  const columns = columnsOf(rows);
  const end = Math.max(1, rows.seconds.at(-1) ?? 1);
  const most = Math.max(1 * MEGABYTE, ...columns.read, ...columns.written);
  const unit = timeUnitFor(end);
  return (
    <Picture label="Bytes read and written by the program over time, and its processor time" height={() => HEIGHT}>
      {(width) => {
        const [left, right, top, bottom] = [PLOT.left, width - PLOT.right, PLOT.top, HEIGHT - PLOT.bottom];
        const x = linearScale(0, end / unit.seconds, [left, right], 6, false);
        const y = linearScale(0, most / MEGABYTE, [bottom, top], 3);
        const most1 = Math.max(1, ...columns.processors);
        const path = (values: readonly number[], toY: (value: number) => number) =>
          values
            .map((value, column) => {
              const fromX = x((column === 0 ? 0 : columns.toSeconds[column - 1]!) / unit.seconds).toFixed(1);
              return `${column === 0 ? 'M' : 'L'}${fromX} ${toY(value).toFixed(1)}H${x(columns.toSeconds[column]! / unit.seconds).toFixed(1)}`;
            })
            .join('');
        const ground = path(columns.processors, (value) => bottom - ((bottom - top) * value) / most1);
        return (
          <>
            {ground !== '' && <path d={`${ground}V${bottom}H${left}Z`} fill={ink('text')} opacity={0.09} />}
            <LeftAxis
              scale={y}
              format={formatNumber}
              title="MB/s; ground: processors"
              left={left}
              right={right}
              top={top}
            />
            <BottomAxis scale={x} format={formatNumber} title={unit.name} left={left} right={right} y={bottom} />
            {(['read', 'write'] as const).map((direction) => {
              const { colour, dash } = DIRECTION_STYLE[direction];
              const values = direction === 'read' ? columns.read : columns.written;
              return (
                <path
                  key={direction}
                  d={path(values, (value) => y(value / MEGABYTE))}
                  fill="none"
                  stroke={colour}
                  strokeWidth={1.8}
                  {...(dash ? { strokeDasharray: dash } : {})}
                />
              );
            })}
          </>
        );
      }}
    </Picture>
  );
}
