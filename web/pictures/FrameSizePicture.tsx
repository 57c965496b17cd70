import type { FrameColumn } from '#core/material/material.ts';
import { byteUnit, bytesText, formatNumber } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { Picture } from './kit/Picture.tsx';
import { linearScale } from './kit/scale.ts';

const LEFT = 46;
const TOP = 30;
const BOTTOM = 40;

/** Bytes of each frame: from the smallest to the largest in every column. */
export function FrameSizePicture({ columns, frames }: { columns: readonly FrameColumn[]; frames: number }) {
  const most = Math.max(1, ...columns.map((column) => column.high));
  return (
    <Picture label={`Sizes of ${frames} frames, the largest ${bytesText(most)}`} height={() => 170}>
      {(width, height) => {
        const { unit, bytes } = byteUnit(most);
        const y = linearScale(0, most / bytes, [height - BOTTOM, TOP], 3);
        const x = linearScale(0, frames, [LEFT, width - 8], 5, false);
        return (
          <>
            <LeftAxis
              scale={y}
              format={formatNumber}
              title={`${unit} a frame`}
              left={LEFT}
              right={width - 8}
              top={TOP}
            />
            {columns.map((column, index) => {
              const from = x(column.fromFrame);
              const to = x(columns[index + 1]?.fromFrame ?? frames);
              const [top, bottom] = [y(column.high / bytes), y(column.low / bytes)];
              return (
                <rect
                  key={column.fromFrame}
                  x={from}
                  y={top}
                  width={Math.max(0.8, to - from)}
                  height={Math.max(1.6, bottom - top)}
                  fill={ink('text')}
                  opacity={0.8}
                />
              );
            })}
            <BottomAxis
              scale={x}
              format={formatNumber}
              title="frames"
              y={height - BOTTOM}
              left={LEFT}
              right={width - 8}
            />
          </>
        );
      }}
    </Picture>
  );
}
