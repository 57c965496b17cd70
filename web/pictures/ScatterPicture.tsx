import { memo, useMemo } from 'react';
import type { FileAction, FileColumns } from '#core/4-runs/run/run-document.ts';
import type { FileFigures } from '#core/4-runs/trace/file-costs.ts';
import { bytesText, formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { Chart } from './kit/Chart.tsx';
import { DIRECTION_STYLE } from './kit/direction-style.ts';
import { placeLabels } from '#core/1-ground/place-labels.ts';
import { Marks, type Plot } from './kit/Marks.tsx';
import { logSpan } from '#core/1-ground/axis-span.ts';

/** Dots closer than this are one, pixels. */
const GRID = 3;

type DrawnAction = Exclude<FileAction, 'list'>;
const DRAWN: readonly DrawnAction[] = ['create', 'read', 'delete'];
/** Creating writes and reading reads; deleting moves nothing and takes a neutral tone. */
const COLOURS: Record<DrawnAction, string> = {
  create: DIRECTION_STYLE.write.colour,
  read: DIRECTION_STYLE.read.colour,
  delete: ink('second'),
};

/** Shapes of a dot around a place. */
const SHAPES: Record<DrawnAction, (x: number, y: number) => string> = {
  create: (x, y) => `M${x - 1.6} ${y}a1.6 1.6 0 1 0 3.2 0a1.6 1.6 0 1 0 -3.2 0`,
  read: (x, y) => `M${x} ${y - 2.2}l2.2 2.2l-2.2 2.2l-2.2 -2.2z`,
  delete: (x, y) => `M${x - 1.2} ${y - 1.2}h2.4v2.4h-2.4z`,
};

/** A file that was worked on. */
interface Dot {
  action: DrawnAction;
  bytes: number;
  milliseconds: number;
}

/** Time of every file against its size: small files show what a file costs, large ones what a byte does. */
export default function ScatterPicture({ files, figures }: { files: FileColumns; figures: readonly FileFigures[] }) {
  // The columns are changed in place while the run goes on.
  const rows = files.action.length;
  const dots = useMemo(() => (rows > 0 ? dotsOf(files) : []), [files, rows]);
  if (dots.length === 0) return null;
  const [small, large] = extentOf(dots, ({ bytes }) => bytes);
  const [quick, slow] = extentOf(dots, ({ milliseconds }) => milliseconds);
  const costs = figures.filter((one): one is FileFigures & { action: DrawnAction } => one.action !== 'list');
  return (
    <Chart
      label={`Time of ${rows} files against their size, logarithmic`}
      plot={{ left: 66, right: 190, top: 36, bottom: 46 }}
      x={{
        span: logSpan(small, Math.max(2 * small, large), 8),
        format: bytesText,
        title: 'size of the file, logarithmic',
      }}
      y={{
        span: logSpan(quick, Math.max(slow, 2 * quick), 8),
        format: (tick) => formatDuration(tick / 1e3),
        title: 'time of a file, logarithmic',
      }}
    >
      <Marks at="lines">{(plot) => <Dots dots={dots} plot={plot} />}</Marks>
      <Marks>{(plot) => <Costs costs={costs} plot={plot} />}</Marks>
    </Chart>
  );
}

function extentOf(dots: readonly Dot[], valueOf: (dot: Dot) => number): [number, number] {
  let [low, high] = [Infinity, 0];
  for (const dot of dots) {
    low = Math.min(low, valueOf(dot));
    high = Math.max(high, valueOf(dot));
  }
  return [low, high];
}

/** Files in the order in which they were worked on. */
function dotsOf(files: FileColumns): Dot[] {
  // Deleting moves no bytes: a file is found at its place in the order of creation.
  const sizes = files.action.flatMap((action, row) => (action === 'create' ? [files.bytes[row]!] : []));
  let deleted = 0;
  return files.action.flatMap((action, row) => {
    if (action === 'list') return [];
    const bytes = action === 'delete' ? (sizes[deleted++] ?? 0) : files.bytes[row]!;
    return bytes > 0 ? [{ action, bytes, milliseconds: Math.max(1e-4, files.seconds[row]! * 1e3) }] : [];
  });
}

/** One path for all dots of a kind, at most one dot in each small square: there are as many as there are files. */
const Dots = memo(
  ({ dots, plot }: { dots: readonly Dot[]; plot: Plot }) => {
    const taken = new Set<string>();
    const paths: Record<DrawnAction, string[]> = { create: [], read: [], delete: [] };
    for (const { action, bytes, milliseconds } of dots) {
      const [x, y] = [plot.x(bytes), plot.y(milliseconds)].map((at) => Math.round(at / GRID) * GRID) as [
        number,
        number,
      ];
      const key = `${action} ${x} ${y}`;
      if (taken.has(key)) continue;
      taken.add(key);
      paths[action].push(SHAPES[action](x, y));
    }
    return DRAWN.map((action) => (
      <path
        key={action}
        data-dots={action}
        d={paths[action].join('')}
        fill={action === 'read' ? 'none' : COLOURS[action]}
        stroke={action === 'read' ? COLOURS[action] : 'none'}
        opacity={0.75}
      />
    ));
  },
  (before, now) =>
    before.dots === now.dots && before.plot.right === now.plot.right && before.plot.bottom === now.plot.bottom,
);

/** What a file costs, as a line across, with its words beside the plot. */
function Costs({ costs, plot }: { costs: readonly (FileFigures & { action: DrawnAction })[]; plot: Plot }) {
  const { left, right, top, bottom, y } = plot;
  const labels = placeLabels(
    costs.map((one) => ({ wanted: y(one.costSeconds * 1e3), size: 34 })),
    top,
    bottom,
  );
  return costs.map((one, index) => {
    const at = y(one.costSeconds * 1e3);
    const middle = labels[index]!;
    return (
      <g key={one.action} data-cost={one.action}>
        <line x1={left} x2={right} y1={at} y2={at} stroke={COLOURS[one.action]} strokeDasharray="6 5" />
        <path d={`M${right} ${at}L${right + 12} ${middle - 6}`} stroke={COLOURS[one.action]} fill="none" />
        <text x={right + 18} y={middle - 6} dy="0.35em" fill={COLOURS[one.action]} fontWeight={650}>
          {one.action}: {formatDuration(one.costSeconds)} a file
        </text>
        <text x={right + 18} y={middle + 9} dy="0.35em" fill={ink('second')}>
          {formatNumber(one.filesPerSecond)} files/s
        </text>
      </g>
    );
  });
}
