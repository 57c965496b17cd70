import type { Demand } from '#core/3-jobs/demand/demand.ts';
import {
  figureText,
  formatBitRate,
  formatBytes,
  formatDuration,
  formatNumber,
  rateText,
} from '#core/1-ground/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { DIRECTION_STYLE, directionLine } from './kit/direction-style.ts';
import { LABEL_SIZE, fitText } from './kit/labels.ts';
import { RowsChart } from './kit/RowsChart.tsx';
import { timeUnitFor } from './kit/units.ts';
import { linearSpan } from '#core/1-ground/axis-span.ts';

export interface DemandLanesProps {
  demands: readonly Demand[];
  /** Items that go on at the same time. */
  together: ReadonlySet<string>;
  selected: string | null;
  /** A lane that is chosen already is opened. */
  onSelect: (itemId: string) => void;
}

const NAMES = 214;
const NUMBERS = 218;
/** So many takes are drawn; a job of hundreds would be a line. */
const MOST_TAKES = 8;

/** What each item asks for over the job: takes and gaps in time, as high as their rate. */
export default function DemandLanes({ demands, together, selected, onSelect }: DemandLanesProps) {
  const longest = Math.max(1, ...demands.map(jobSeconds));
  const unit = timeUnitFor(longest);
  const rates = demands.flatMap((one) => [one.bytesPerSecond, one.peakBytesPerSecond]);
  const [low, high] = [Math.min(...rates) * 0.4, Math.max(...rates) * 1.02];
  // Items of a tenth of the largest must still be seen: heights are logarithmic.
  const share = (rate: number) => Math.max(0.02, Math.log(Math.max(rate, low) / low) / Math.log(high / low));
  return (
    <RowsChart
      label="What each item asks for over the job"
      rows={demands.map((demand) => ({
        key: demand.itemId,
        label: `${demand.name}: ${demand.formatText}, ${demand.act}s ${rateText(demand.bytesPerSecond)}`,
        data: { 'data-item': demand.itemId },
        demand,
      }))}
      selected={selected}
      onSelect={onSelect}
      span={linearSpan(0, longest / unit.seconds, 8, false)}
      title={`${unit.name} of the job`}
      note="height: rate, logarithmic"
      left={NAMES}
      right={NUMBERS}
      least={50}
      most={108}
      ruled
      head={({ right }) =>
        NUMBER_COLUMNS.map(({ head, at }) => (
          <text key={head} x={right + at} y={17} textAnchor="end" fill={ink('second')}>
            {head}
          </text>
        ))
      }
    >
      {({ demand }, { x, right, height }) => (
        <>
          <LaneName demand={demand} height={height} isTogether={together.has(demand.itemId)} />
          <Takes demand={demand} height={height} toX={(seconds) => x(seconds / unit.seconds)} share={share} />
          <LaneNumbers demand={demand} height={height} right={right} />
        </>
      )}
    </RowsChart>
  );
}

const NUMBER_COLUMNS = [
  { head: 'MB/s', at: 70 },
  { head: 'on a network', at: 152 },
  { head: 'an hour', at: 214 },
] as const;

const shownTakes = (demand: Demand): number => Math.min(demand.takes, MOST_TAKES);
const jobSeconds = (demand: Demand): number =>
  shownTakes(demand) * demand.takeSeconds + (shownTakes(demand) - 1) * demand.gapSeconds;

function LaneName({ demand, height, isTogether }: { demand: Demand; height: number; isTogether: boolean }) {
  const count = demand.takes > 1 ? `${demand.takes} × ` : '';
  const act = `${demand.act}, ${count}${formatDuration(demand.takeSeconds)}`;
  return (
    <>
      <text x={12} y={height / 2 - 8} dy="0.35em" fontSize={14} fontWeight={700} fill={ink('text')}>
        {fitText(demand.name, 14, NAMES - 30, true)}
      </text>
      <text x={12} y={height / 2 + 11} dy="0.35em" fill={ink('second')}>
        {fitText(isTogether ? `${act}, at once` : act, LABEL_SIZE, NAMES - 26)}
      </text>
    </>
  );
}

function Takes({
  demand,
  height,
  toX,
  share,
}: {
  demand: Demand;
  height: number;
  toX: (seconds: number) => number;
  share: (rate: number) => number;
}) {
  const style = DIRECTION_STYLE[demand.direction];
  const room = height - 12;
  const base = height - 5;
  return Array.from({ length: shownTakes(demand) }, (_, take) => {
    const from = take * (demand.takeSeconds + demand.gapSeconds);
    if (demand.curve)
      return (
        <CurveShape key={take} demand={demand} base={base} room={room} toX={(at) => toX(from + at)} share={share} />
      );
    const [left, right] = [toX(from), Math.max(toX(from) + 2, toX(from + demand.takeSeconds) - 1)];
    const top = base - room * share(demand.bytesPerSecond);
    const peak = base - room * share(demand.peakBytesPerSecond);
    return (
      <g key={take}>
        <rect x={left} y={top} width={right - left} height={base - top} fill={style.colour} opacity={0.34} />
        <line x1={left} x2={right} y1={top} y2={top} {...directionLine(demand.direction)} strokeWidth={2} />
        {peak < top - 2 && (
          <line x1={left} x2={right} y1={peak} y2={peak} stroke={style.colour} strokeWidth={1} strokeDasharray="1 3" />
        )}
      </g>
    );
  });
}

/** A demand that changes: its rate step by step. */
function CurveShape({
  demand: { curve, direction },
  base,
  room,
  toX,
  share,
}: {
  demand: Demand;
  base: number;
  room: number;
  toX: (seconds: number) => number;
  share: (rate: number) => number;
}) {
  const { seconds, bytes } = curve!;
  const style = DIRECTION_STYLE[direction];
  let path = `M${toX(0)} ${base}`;
  for (let row = 1; row < seconds.length; row += 1) {
    const took = seconds[row]! - seconds[row - 1]!;
    if (took <= 0) continue;
    const rate = (bytes[row]! - bytes[row - 1]!) / took;
    const y = rate > 0 ? base - room * share(rate) : base;
    path += `L${toX(seconds[row - 1]!).toFixed(1)} ${y.toFixed(1)}H${toX(seconds[row]!).toFixed(1)}`;
  }
  return (
    <path
      d={`${path}V${base}Z`}
      fill={style.colour}
      fillOpacity={0.34}
      {...directionLine(direction)}
      strokeWidth={1.4}
    />
  );
}

function LaneNumbers({ demand, height, right }: { demand: Demand; height: number; right: number }) {
  const texts = [
    formatNumber(demand.bytesPerSecond / 1e6),
    figureText(formatBitRate(demand.bytesPerSecond)),
    // What is over within its limit goes on for no hour.
    demand.act === 'load' || demand.act === 'simulate' ? '–' : figureText(formatBytes(demand.bytesPerSecond * 3600)),
  ];
  return texts.map((text, index) => (
    <text
      key={NUMBER_COLUMNS[index]!.head}
      x={right + NUMBER_COLUMNS[index]!.at}
      y={height / 2}
      dy="0.35em"
      textAnchor="end"
      fontSize={index === 0 ? 17 : 13}
      fontWeight={index === 0 ? 700 : 400}
      fill={ink(index === 0 ? 'text' : 'second')}
    >
      {text}
    </text>
  ));
}
