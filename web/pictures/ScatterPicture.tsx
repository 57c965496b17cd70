import { useMemo } from 'react';
import type { FileAction, FileColumns } from '#core/run/run-document.ts';
import type { FileFigures } from '#core/trace/file-costs.ts';
import { bytesText, formatDuration, formatNumber } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { DIRECTION_STYLE } from './kit/direction-style.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { placeLabels } from './kit/labels.ts';
import { Picture } from './kit/Picture.tsx';
import { logScale, type PictureScale } from './kit/scale.ts';

const LEFT = 66;
const RIGHT = 190;
const TOP = 36;
const BOTTOM = 46;
/** Dots closer than this are one. */
const GRID = 3;

type DrawnAction = Exclude<FileAction, 'list'>;
const DRAWN: readonly DrawnAction[] = ['create', 'read', 'delete'];
/** Creating writes and reading reads; deleting moves nothing and takes a neutral tone. */
const COLOURS: Record<DrawnAction, string> = {
  create: DIRECTION_STYLE.write.colour,
  read: DIRECTION_STYLE.read.colour,
  delete: ink('second'),
};
const NAMES: Record<DrawnAction, string> = { create: 'create', read: 'read', delete: 'delete' };

/** Time of every file against its size: small files show what a file costs, large ones what a byte does. */
export default function ScatterPicture({ files, figures }: { files: FileColumns; figures: readonly FileFigures[] }) {
  return (
    <Picture label={`Time of ${files.action.length} files against their size, logarithmic`}>
      {(width, height) => <Drawing files={files} figures={figures} width={width} height={height} />}
    </Picture>
  );
}

interface Dot {
  action: DrawnAction;
  x: number;
  y: number;
}

function Drawing({
  files,
  figures,
  width,
  height,
}: {
  files: FileColumns;
  figures: readonly FileFigures[];
  width: number;
  height: number;
}) {
  const right = width - RIGHT;
  const bottom = height - BOTTOM;
  // The columns are changed in place while the run goes on.
  const rows = files.action.length;
  const drawn = useMemo(() => {
    void rows;
    let [small, large, quick, slow] = [Infinity, 0, Infinity, 0];
    files.action.forEach((action, row) => {
      if (action === 'list') return;
      const seconds = files.seconds[row]!;
      quick = Math.min(quick, Math.max(1e-7, seconds));
      slow = Math.max(slow, seconds);
      if (action === 'delete') return;
      small = Math.min(small, files.bytes[row]!);
      large = Math.max(large, files.bytes[row]!);
    });
    if (!(large > 0)) return null;
    const x = logScale(Math.max(1, small), Math.max(2 * small, large), [LEFT, right], 8);
    const y = logScale(quick * 1e3, Math.max(slow, 2 * quick) * 1e3, [bottom, TOP], 8);
    return { x, y, dots: dotsOf(files, x, y) };
  }, [files, rows, right, bottom]);
  if (!drawn) return null;
  const { x, y, dots } = drawn;
  const costs = figures.filter((one): one is FileFigures & { action: DrawnAction } => one.action !== 'list');
  const labels = placeLabels(
    costs.map((one) => ({ wanted: y(one.costSeconds * 1e3), size: 34 })),
    TOP,
    bottom,
  );
  return (
    <>
      <LeftAxis
        scale={y}
        format={(tick) => formatDuration(tick / 1e3)}
        title="time of a file, logarithmic"
        left={LEFT}
        right={right}
        top={TOP}
      />
      <BottomAxis
        scale={x}
        format={bytesText}
        title="size of the file, logarithmic"
        y={bottom}
        left={LEFT}
        right={right}
      />
      {DRAWN.map((action) => (
        <path
          key={action}
          data-dots={action}
          d={dots
            .filter((dot) => dot.action === action)
            .map(({ x: at, y: up }) =>
              action === 'create'
                ? `M${at - 1.6} ${up}a1.6 1.6 0 1 0 3.2 0a1.6 1.6 0 1 0 -3.2 0`
                : action === 'read'
                  ? `M${at} ${up - 2.2}l2.2 2.2l-2.2 2.2l-2.2 -2.2z`
                  : `M${at - 1.2} ${up - 1.2}h2.4v2.4h-2.4z`,
            )
            .join('')}
          fill={action === 'read' ? 'none' : COLOURS[action]}
          stroke={action === 'read' ? COLOURS[action] : 'none'}
          opacity={0.75}
        />
      ))}
      {costs.map((one, index) => {
        const at = y(one.costSeconds * 1e3);
        const middle = labels[index]!;
        return (
          <g key={one.action} data-cost={one.action}>
            <line x1={LEFT} x2={right} y1={at} y2={at} stroke={COLOURS[one.action]} strokeDasharray="6 5" />
            <path d={`M${right} ${at}L${right + 12} ${middle - 6}`} stroke={COLOURS[one.action]} fill="none" />
            <text x={right + 18} y={middle - 6} dy="0.35em" fill={COLOURS[one.action]} fontWeight={650}>
              {NAMES[one.action]}: {formatDuration(one.costSeconds)} a file
            </text>
            <text x={right + 18} y={middle + 9} dy="0.35em" fill={ink('second')}>
              {formatNumber(one.filesPerSecond)} files/s
            </text>
          </g>
        );
      })}
    </>
  );
}

/** At most one dot for each small square of the picture. */
function dotsOf(files: FileColumns, x: PictureScale, y: PictureScale): Dot[] {
  const taken = new Set<string>();
  const dots: Dot[] = [];
  // Deleting moves no bytes: a file is found at its place in the order of creation.
  const sizes = files.action.flatMap((action, row) => (action === 'create' ? [files.bytes[row]!] : []));
  let deleted = 0;
  files.action.forEach((action, row) => {
    if (action === 'list') return;
    const bytes = action === 'delete' ? (sizes[deleted++] ?? 0) : files.bytes[row]!;
    if (bytes <= 0) return;
    const dot = {
      action,
      x: Math.round(x(bytes) / GRID) * GRID,
      y: Math.round(y(files.seconds[row]! * 1e3) / GRID) * GRID,
    };
    const key = `${action} ${dot.x} ${dot.y}`;
    if (taken.has(key)) return;
    taken.add(key);
    dots.push(dot);
  });
  return dots;
}
