import { useState } from 'react';
import { ACCESS_ORDERS, type AccessOrder } from '#core/recipes/block-ladder.ts';
import { DIRECTIONS } from '#core/run/direction.ts';
import type { LadderRung } from '#core/trace/ladder.ts';
import { blockText, formatDuration, formatNumber } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { DIRECTION_STYLE } from './kit/direction-style.ts';
import { placeLabels } from './kit/labels.ts';
import { Picture } from './kit/Picture.tsx';
import { logScale, type PictureScale } from './kit/scale.ts';
import { MEGABYTE } from './kit/units.ts';
import { HaloText } from './kit/HaloText.tsx';

const LEFT = 62;
const TOP = 40;
const BOTTOM = 46;
const GAP = 26;
/** Room for the labels of the lines at the right of each panel. */
const LINE_LABELS = 64;
/** Constant operations a second run diagonally across the plot. */
const OPERATION_GUIDES = [10, 100, 1e3, 1e4, 1e5, 1e6];

/** Rate against block size, a line for each queue depth; sequential and random side by side. */
export default function LadderPicture({ ladder }: { ladder: readonly LadderRung[] }) {
  return (
    <Picture label={`Ladder of ${ladder.length} rungs: rate against block size, a line for each queue depth`}>
      {(width, height) => <Drawing ladder={ladder} width={width} height={height} />}
    </Picture>
  );
}

function Drawing({ ladder, width, height }: { ladder: readonly LadderRung[]; width: number; height: number }) {
  const [hover, setHover] = useState<LadderRung | null>(null);
  const orders = ACCESS_ORDERS.filter((order) => ladder.some((rung) => rung.order === order));
  const rates = ladder.map((rung) => rung.bytesPerSecond / MEGABYTE).filter((rate) => rate > 0);
  if (rates.length === 0) return null;
  const bottom = height - BOTTOM;
  const y = logScale(Math.min(...rates), Math.max(...rates), [bottom, TOP], 9);
  const blocks = [...new Set(ladder.map((rung) => rung.blockBytes))].sort((a, b) => a - b);
  const panel = (width - LEFT - GAP * (orders.length - 1)) / orders.length;
  return (
    <>
      <LeftAxis
        scale={y}
        format={(tick) => formatNumber(tick)}
        title="MB/s, logarithmic"
        left={LEFT}
        right={width - LINE_LABELS}
        top={TOP}
      />
      {orders.map((order, index) => {
        const left = LEFT + index * (panel + GAP);
        return (
          <Panel
            key={order}
            order={order}
            rungs={ladder.filter((rung) => rung.order === order)}
            blocks={blocks}
            left={left}
            right={left + panel - LINE_LABELS}
            bottom={bottom}
            y={y}
            hover={hover}
            onHover={setHover}
          />
        );
      })}
      {hover && <ReadOut rung={hover} x={width - LINE_LABELS} />}
    </>
  );
}

interface PanelProps {
  order: AccessOrder;
  rungs: readonly LadderRung[];
  blocks: readonly number[];
  left: number;
  right: number;
  bottom: number;
  y: PictureScale;
  hover: LadderRung | null;
  onHover: (rung: LadderRung | null) => void;
}

function Panel({ order, rungs, blocks, left, right, bottom, y, hover, onHover }: PanelProps) {
  const [small, large] = [Math.log2(blocks[0]!), Math.log2(blocks.at(-1)!)];
  const x = (blockBytes: number) =>
    left + 14 + ((Math.log2(blockBytes) - small) / Math.max(1, large - small)) * (right - left - 28);
  const lines = DIRECTIONS.flatMap((direction) => {
    const depths = [...new Set(rungs.filter((rung) => rung.direction === direction).map((rung) => rung.depth))];
    return depths.map((depth, index) => ({
      direction,
      depth,
      /** The deepest queue is drawn fullest. */
      weight: (index + 1) / depths.length,
      rungs: rungs
        .filter((rung) => rung.direction === direction && rung.depth === depth)
        .sort((a, b) => a.blockBytes - b.blockBytes),
    }));
  });
  const ends = placeLabels(
    lines.map((line) => ({ wanted: y(line.rungs.at(-1)!.bytesPerSecond / MEGABYTE), size: 15 })),
    TOP - 6,
    bottom + 4,
  );
  return (
    <g data-panel={order}>
      <text x={right - 10} y={bottom - 14} textAnchor="end" fill={ink('text')} fontWeight={650}>
        {order}
      </text>
      <text x={right - 4} y={TOP - 16} fill={ink('second')} fontSize={12}>
        at depth
      </text>
      <BottomAxis
        scale={Object.assign(x, { ticks: [...blocks] })}
        format={blockText}
        title="block size"
        titleAnchor="middle"
        y={bottom}
        left={left}
        right={right}
      />
      {OPERATION_GUIDES.map((operations) => (
        <Guide key={operations} operations={operations} x={x} y={y} blocks={blocks} bottom={bottom} />
      ))}
      {lines.map((line, index) => {
        const { colour, dash } = DIRECTION_STYLE[line.direction];
        const points = line.rungs.map((rung) => `${x(rung.blockBytes)} ${y(rung.bytesPerSecond / MEGABYTE)}`);
        return (
          <g key={`${line.direction} ${line.depth}`} data-line={`${line.direction} ${line.depth}`}>
            <path
              d={`M${points.join('L')}`}
              fill="none"
              stroke={colour}
              strokeWidth={0.9 + 1.5 * line.weight}
              opacity={0.5 + 0.5 * line.weight}
              {...(dash ? { strokeDasharray: dash } : {})}
            />
            {line.rungs.map((rung) => (
              <RungDot
                key={rung.rung}
                rung={rung}
                at={[x(rung.blockBytes), y(rung.bytesPerSecond / MEGABYTE)]}
                large={hover?.rung === rung.rung}
                onHover={onHover}
              />
            ))}
            <text x={right - 4} y={ends[index]} dy="0.35em" fill={colour} fontSize={12}>
              {line.direction === 'write' ? 'write' : 'read'} {line.depth}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** A line of constant operations a second, named where it leaves the plot. */
function Guide({
  operations,
  x,
  y,
  blocks,
  bottom,
}: {
  operations: number;
  x: (blockBytes: number) => number;
  y: PictureScale;
  blocks: readonly number[];
  bottom: number;
}) {
  const low = y.invert(bottom) * MEGABYTE;
  const high = y.invert(TOP) * MEGABYTE;
  const from = Math.max(blocks[0]!, low / operations);
  const to = Math.min(blocks.at(-1)!, high / operations);
  if (from >= to) return null;
  const [x1, x2] = [x(from), x(to)];
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

function RungDot({
  rung,
  at: [x, y],
  large,
  onHover,
}: {
  rung: LadderRung;
  at: [number, number];
  large: boolean;
  onHover: (rung: LadderRung | null) => void;
}) {
  const { colour } = DIRECTION_STYLE[rung.direction];
  const size = large ? 5 : 3.2;
  return (
    <g onMouseEnter={() => onHover(rung)} onMouseLeave={() => onHover(null)}>
      <circle cx={x} cy={y} r={10} fill="transparent" />
      {rung.direction === 'write' ? (
        <circle cx={x} cy={y} r={size} fill={colour} />
      ) : (
        <path
          d={`M${x} ${y - size - 1}l${size + 1} ${size + 1}l${-size - 1} ${size + 1}l${-size - 1} ${-size - 1}z`}
          fill={ink('page')}
          stroke={colour}
          strokeWidth={1.5}
        />
      )}
    </g>
  );
}

function ReadOut({ rung, x }: { rung: LadderRung; x: number }) {
  const { colour, name } = DIRECTION_STYLE[rung.direction];
  const latency =
    rung.latencyP50Seconds === null
      ? ''
      : `, p50 ${formatDuration(rung.latencyP50Seconds)}, p99 ${formatDuration(rung.latencyP99Seconds!)}`;
  return (
    <text x={x} y={14} textAnchor="end" fill={colour} fontWeight={650} pointerEvents="none">
      {`${name} ${blockText(rung.blockBytes)} ${rung.order} at depth ${rung.depth}: ${formatNumber(rung.bytesPerSecond / MEGABYTE)} MB/s, ${formatNumber(rung.operationsPerSecond)} operations/s${latency}`}
    </text>
  );
}
