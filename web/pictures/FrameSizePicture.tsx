import { Area } from 'recharts';
import type { FrameColumn } from '#core/3-jobs/material/material.ts';
import { byteUnit, bytesText, formatNumber } from '#core/1-ground/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { Chart, STILL } from './kit/Chart.tsx';
import { linearSpan } from '#core/1-ground/axis-span.ts';

/** A column is as high as this at least, of the axis. */
const LEAST_SHARE = 0.016;

/** Bytes of each frame: from the smallest to the largest in every column. */
export default function FrameSizePicture({ columns, frames }: { columns: readonly FrameColumn[]; frames: number }) {
  const most = Math.max(1, ...columns.map((column) => column.high));
  const { unit, bytes } = byteUnit(most);
  const y = linearSpan(0, most / bytes, 3);
  // Frames of one size would be a line of no height.
  const least = LEAST_SHARE * y.to;
  const rows = columns.map(({ fromFrame, low, high }) => ({
    x: fromFrame,
    sizes: [low / bytes, Math.max(high / bytes, low / bytes + least)],
  }));
  const columnAt = (frame: number) => columns.findLast(({ fromFrame }) => fromFrame <= frame) ?? columns[0];
  return (
    <Chart
      label={`Sizes of ${frames} frames, the largest ${bytesText(most)}`}
      height={170}
      plot={{ left: 46, right: 8, top: 30, bottom: 40 }}
      x={{ span: linearSpan(0, frames, 5, false), format: formatNumber, title: 'frames' }}
      y={{ span: y, format: formatNumber, title: `${unit} a frame` }}
      readOut={(at) => {
        const column = columnAt(at);
        const sizes = column && [...new Set([bytesText(column.low), bytesText(column.high)])].join(' – ');
        return [{ text: `frame ${formatNumber(Math.floor(at), 'full')}` }, ...(sizes ? [{ text: sizes }] : [])];
      }}
    >
      <Area
        {...STILL}
        data={[...rows, { x: frames, sizes: rows.at(-1)?.sizes }]}
        dataKey="sizes"
        type="stepAfter"
        stroke="none"
        fill={ink('text')}
        fillOpacity={0.8}
      />
    </Chart>
  );
}
