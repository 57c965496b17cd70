import Box from '@mui/material/Box';
import { Line } from 'recharts';
import { ACCESS_ORDERS, type AccessOrder } from '#core/3-jobs/recipes/block-ladder.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { LadderRung } from '#core/4-runs/trace/ladder.ts';
import { blockText, formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { Chart, STILL } from './kit/Chart.tsx';
import { DIRECTION_STYLE, directionLine } from './kit/direction-style.ts';
import { HaloText } from './kit/HaloText.tsx';
import { placeLabels } from '#core/1-ground/place-labels.ts';
import { Marks, type Plot } from './kit/Marks.tsx';
import { logSpan, type AxisSpan } from '#core/1-ground/axis-span.ts';
import { MEGABYTE } from './kit/units.ts';

/** Room for the rates at the left of the first panel, and before the second; names of lines at the right of each. */
const RATES = 62;
const BEFORE = 26;
const LINE_LABELS = 64;
/** Constant operations a second run diagonally across the plot. */
const OPERATION_GUIDES = [10, 100, 1e3, 1e4, 1e5, 1e6];

/** The rungs of one queue depth in one direction, from the smallest block. */
interface LadderLine {
  direction: Direction;
  depth: number;
  /** The deepest queue is drawn fullest. */
  weight: number;
  rungs: LadderRung[];
}

/** Rate against block size, a line for each queue depth; sequential and random side by side. */
export default function LadderPicture({ ladder }: { ladder: readonly LadderRung[] }) {
  const orders = ACCESS_ORDERS.filter((order) => ladder.some((rung) => rung.order === order));
  const rates = ladder.map((rung) => rung.bytesPerSecond / MEGABYTE).filter((rate) => rate > 0);
  if (rates.length === 0) return null;
  const y = logSpan(Math.min(...rates), Math.max(...rates), 9);
  const blocks = [...new Set(ladder.map((rung) => rung.blockBytes))].sort((a, b) => a - b);
  return (
    <Box
      role="group"
      aria-label={`Ladder of ${ladder.length} rungs: rate against block size, a line for each queue depth`}
      sx={{
        flex: '1 1 0',
        minHeight: 0,
        display: 'grid',
        gridTemplateRows: 'minmax(0, 1fr)',
        gridTemplateColumns:
          orders.length > 1 ? `calc(50% + ${(RATES - BEFORE) / 2}px) minmax(0, 1fr)` : 'minmax(0, 1fr)',
      }}
    >
      {orders.map((order, index) => (
        <Box key={order} data-panel={order} sx={{ display: 'flex', minWidth: 0 }}>
          <Panel
            order={order}
            isFirst={index === 0}
            lines={linesOf(ladder.filter((rung) => rung.order === order))}
            blocks={blocks}
            y={y}
          />
        </Box>
      ))}
    </Box>
  );
}

function linesOf(rungs: readonly LadderRung[]): LadderLine[] {
  return DIRECTIONS.flatMap((direction) => {
    const depths = [...new Set(rungs.filter((rung) => rung.direction === direction).map((rung) => rung.depth))];
    return depths.map((depth, index) => ({
      direction,
      depth,
      weight: (index + 1) / depths.length,
      rungs: rungs
        .filter((rung) => rung.direction === direction && rung.depth === depth)
        .sort((a, b) => a.blockBytes - b.blockBytes),
    }));
  });
}

interface PanelProps {
  order: AccessOrder;
  /** The first has the numbers of the rates. */
  isFirst: boolean;
  lines: readonly LadderLine[];
  blocks: readonly number[];
  y: AxisSpan;
}

const lineName = ({ direction, depth }: Pick<LadderLine, 'direction' | 'depth'>): string => `${direction} ${depth}`;

function Panel({ order, isFirst, lines, blocks, y }: PanelProps) {
  const powers = blocks.map((block) => Math.log2(block));
  const pad = Math.max(1, powers.at(-1)! - powers[0]!) * 0.04;
  return (
    <Chart
      label={`${order}, ${lines.length} lines`}
      plot={{ left: isFirst ? RATES : BEFORE, right: LINE_LABELS, top: 40, bottom: 46 }}
      x={{
        span: { from: powers[0]! - pad, to: powers.at(-1)! + pad, ticks: powers, isLog: false },
        format: (power) => blockText(Math.round(2 ** power)),
        title: 'block size',
      }}
      y={{ span: y, format: isFirst ? formatNumber : () => '', title: isFirst ? 'MB/s, logarithmic' : '' }}
      readOut={(at) => {
        const nearest = blocks.reduce((best, block) =>
          Math.abs(Math.log2(block) - at) < Math.abs(Math.log2(best) - at) ? block : best,
        );
        return [
          { text: `${blockText(nearest)} ${order}` },
          ...lines.flatMap((line) => {
            const rung = line.rungs.find(({ blockBytes }) => blockBytes === nearest);
            return rung
              ? [{ text: `${lineName(line)}: ${rungText(rung)}`, colour: DIRECTION_STYLE[line.direction].colour }]
              : [];
          }),
        ];
      }}
    >
      <Marks at="behind">
        {(plot) =>
          OPERATION_GUIDES.map((operations) => (
            <Guide key={operations} operations={operations} plot={plot} blocks={blocks} />
          ))
        }
      </Marks>
      {lines.map((line) => (
        <Line
          key={lineName(line)}
          {...STILL}
          {...directionLine(line.direction)}
          data={line.rungs.map(({ blockBytes, bytesPerSecond }) => ({
            x: Math.log2(blockBytes),
            rate: bytesPerSecond / MEGABYTE,
          }))}
          dataKey="rate"
          type="linear"
          strokeWidth={0.9 + 1.5 * line.weight}
          strokeOpacity={0.5 + 0.5 * line.weight}
          dot={({ cx = 0, cy = 0, index }) => <RungDot key={index} direction={line.direction} x={cx} y={cy} />}
        />
      ))}
      <Marks>{(plot) => <LineNames order={order} lines={lines} plot={plot} />}</Marks>
    </Chart>
  );
}

/** What a rung was, in a few words. */
function rungText({ bytesPerSecond, operationsPerSecond, latencyP99Seconds }: LadderRung): string {
  const latency = latencyP99Seconds === null ? '' : `, p99 ${formatDuration(latencyP99Seconds)}`;
  return `${formatNumber(bytesPerSecond / MEGABYTE)} MB/s, ${formatNumber(operationsPerSecond)} operations/s${latency}`;
}

/** The direction and depth of each line, where it ends. */
function LineNames({ order, lines, plot }: { order: AccessOrder; lines: readonly LadderLine[]; plot: Plot }) {
  const { right, top, bottom, y } = plot;
  const ends = placeLabels(
    lines.map((line) => ({ wanted: y(line.rungs.at(-1)!.bytesPerSecond / MEGABYTE), size: 15 })),
    top - 6,
    bottom + 4,
  );
  return (
    <>
      <text x={right - 10} y={bottom - 14} textAnchor="end" fill={ink('text')} fontWeight={650}>
        {order}
      </text>
      <text x={right - 4} y={top - 16} fill={ink('second')} fontSize={12}>
        at depth
      </text>
      {lines.map((line, index) => (
        <text
          key={lineName(line)}
          data-line={lineName(line)}
          x={right + 6}
          y={ends[index]}
          dy="0.35em"
          fill={DIRECTION_STYLE[line.direction].colour}
          fontSize={12}
        >
          {lineName(line)}
        </text>
      ))}
    </>
  );
}

/** A line of constant operations a second, named where it enters the plot. */
function Guide({ operations, plot, blocks }: { operations: number; plot: Plot; blocks: readonly number[] }) {
  const { x, y, top, bottom } = plot;
  const from = Math.max(blocks[0]!, (y.invert(bottom) * MEGABYTE) / operations);
  const to = Math.min(blocks.at(-1)!, (y.invert(top) * MEGABYTE) / operations);
  if (from >= to) return null;
  const [x1, x2] = [x(Math.log2(from)), x(Math.log2(to))];
  const [y1, y2] = [y((from * operations) / MEGABYTE), y((to * operations) / MEGABYTE)];
  const name = operations >= 1e6 ? '1 M/s' : operations >= 1e3 ? `${operations / 1e3} k/s` : `${operations}/s`;
  return (
    <g>
      <line x1={x1} x2={x2} y1={y1} y2={y2} stroke={ink('rule')} strokeDasharray="1 3" />
      {x2 - x1 > 70 && (
        <HaloText
          transform={`translate(${x1 + 0.12 * (x2 - x1) + 5} ${y1 + 0.12 * (y2 - y1)}) rotate(${(Math.atan2(y2 - y1, x2 - x1) * 180) / Math.PI})`}
          textAnchor="middle"
          fill={ink('second')}
          fontSize={11}
          halo={3}
        >
          {name}
        </HaloText>
      )}
    </g>
  );
}

function RungDot({ direction, x, y }: { direction: Direction; x: number; y: number }) {
  const { colour } = DIRECTION_STYLE[direction];
  return direction === 'write' ? (
    <circle cx={x} cy={y} r={3.2} fill={colour} />
  ) : (
    <path d={`M${x} ${y - 4.2}l4.2 4.2l-4.2 4.2l-4.2 -4.2z`} fill={ink('page')} stroke={colour} strokeWidth={1.5} />
  );
}
