import type { Direction } from '#core/1-ground/curves/direction.ts';
import { rateText } from '#core/1-ground/units/format.ts';
import { VERDICT_INK, verdictName, type Verdict } from '#core/5-answers/verdict/verdict.ts';
import { ink } from '../theme/tokens.ts';
import { DIRECTION_STYLE, directionLine } from './kit/direction-style.ts';
import type { ChartScale } from '#core/1-ground/axis-span.ts';
import { RowName, RowsChart } from './kit/RowsChart.tsx';
import { logSpan } from '#core/1-ground/axis-span.ts';
import { MEGABYTE } from './kit/units.ts';

/** A drive as it would be behind one link. Rates in bytes per second. */
export interface LinkRow {
  key: string;
  label: string;
  ceilingBytesPerSecond: number;
  /** Where it is now. */
  isNow: boolean;
  write: { floor: number; opening: number; held: boolean } | null;
  read: { floor: number; opening: number; held: boolean } | null;
  /** On the largest item of the workload; null where nothing is chosen or known. */
  verdict: Pick<Verdict, 'verdict' | 'isPromise'> | null;
}

export interface LinkRowsProps {
  rows: readonly LinkRow[];
  selected: string;
  onSelect: (key: string) => void;
}

const NAMES = 262;
const ROW = 38;

/** A drive behind every link it could be put behind: what it writes and reads there, and the ceiling that binds. */
export default function LinkRows({ rows, selected, onSelect }: LinkRowsProps) {
  const rates = rows
    .flatMap(({ ceilingBytesPerSecond, write, read }) => [
      ceilingBytesPerSecond,
      ...[write, read].flatMap((one) => (one ? [one.floor] : [])),
    ])
    .map((rate) => rate / MEGABYTE);
  return (
    <RowsChart
      label="The drive behind other links"
      rows={rows.map((row) => ({
        key: row.key,
        label: `${row.label}: carries ${rateText(row.ceilingBytesPerSecond)}${row.isNow ? ', as it is now' : ''}${row.verdict ? `, ${verdictName(row.verdict)}` : ''}`,
        data: { 'data-link': row.label },
        row,
      }))}
      selected={selected}
      onSelect={onSelect}
      span={logSpan(Math.min(...rates), Math.max(...rates), 8)}
      title="MB/s, logarithmic"
      left={NAMES}
      right={96}
      least={ROW}
      most={ROW}
      ruled
      // Where it is now stands in the middle when it is opened.
      middleKey={rows.find(({ isNow }) => isNow)?.key}
    >
      {({ row }, { x, width }) => {
        const ceiling = x(row.ceilingBytesPerSecond / MEGABYTE);
        return (
          <>
            <RowName
              name={row.label}
              right={NAMES - 14}
              y={ROW / 2}
              {...(row.isNow ? { note: { text: 'as it is now', fill: ink('second') } } : {})}
            />
            <line x1={ceiling} x2={ceiling} y1={4} y2={ROW - 4} stroke={ink('text')} strokeWidth={1.4} />
            <LevelBar level={row.write} direction="write" y={ROW / 2 - 6} x={x} />
            <LevelBar level={row.read} direction="read" y={ROW / 2 + 6} x={x} />
            {row.verdict && (
              <text x={width} y={ROW / 2} dy="0.35em" textAnchor="end" fill={ink(VERDICT_INK[row.verdict.verdict])}>
                {verdictName(row.verdict)}
              </text>
            )}
          </>
        );
      }}
    </RowsChart>
  );
}

interface LevelBarProps {
  level: LinkRow['write'];
  direction: Direction;
  y: number;
  x: ChartScale;
}

/** From the floor, with its notch, to the opening. */
function LevelBar({ level, direction, y, x }: LevelBarProps) {
  if (level === null) return null;
  const [floor, opening] = [x(level.floor / MEGABYTE), x(level.opening / MEGABYTE)];
  return (
    <>
      <line {...directionLine(direction)} x1={floor} x2={Math.max(floor + 2, opening)} y1={y} y2={y} strokeWidth={4} />
      <line x1={floor} x2={floor} y1={y - 5} y2={y + 5} stroke={DIRECTION_STYLE[direction].colour} strokeWidth={2} />
    </>
  );
}
