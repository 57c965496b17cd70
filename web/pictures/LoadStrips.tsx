import type { LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { staysWithin, type LoadTimes, type PhaseTimes } from '#core/5-answers/verdict/loads/phase-times.ts';
import { VERDICT_INK, type VerdictWord } from '#core/5-answers/verdict/verdict.ts';
import { ink } from '../theme/tokens.ts';
import { HaloText } from './kit/HaloText.tsx';
import { LABEL_SIZE, fitText, textWidth } from './kit/labels.ts';
import { RowName, RowsChart } from './kit/RowsChart.tsx';
import { linearSpan } from '#core/1-ground/axis-span.ts';
import { timeUnitFor } from './kit/units.ts';

/** What a load takes on one drive, or from memory. */
export interface LoadRow {
  key: string;
  label: string;
  times: LoadTimes | null;
  /** Null for memory, which nobody buys. */
  verdict: VerdictWord | null;
  note: string;
}

export interface LoadStripsProps {
  item: Pick<LoadItem, 'phases'>;
  rows: readonly LoadRow[];
  selected: string | null;
  onSelect: (key: string) => void;
}

const NAMES = 168;
const WORDS = 96;
const STREAM = 190;
const GAP = 26;

/** One strip a drive: computing, waiting for the drive, and beside it what streams in with its stutters. */
export default function LoadStrips({ item, rows, selected, onSelect }: LoadStripsProps) {
  const streams = item.phases.some(({ stream }) => stream !== null);
  const waits = item.phases.some(({ stream }) => stream === null);
  const limit = limitOf(item);
  const totals = rows.map(({ times }) => times?.totalSeconds ?? 0);
  // A share that takes an hour would press the others into a line: it runs off the edge and says so.
  const sorted = [...totals].sort((a, b) => a - b);
  const usual = Math.max(sorted[Math.floor((sorted.length - 1) * 0.75)] ?? 0, limit?.atSeconds ?? 0, 0.1);
  const longest = Math.min(Math.max(...totals, usual), usual * 1.6);
  const unit = timeUnitFor(longest);
  return (
    <RowsChart
      label="What each drive takes for it"
      rows={rows.map((row) => ({
        key: row.key,
        label: [`${row.label}: ${row.note}`, ...(row.times?.phases ?? []).map(phaseText)].join('\n'),
        data: { 'data-load-row': row.key, ...(row.verdict ? { 'data-verdict': row.verdict } : {}) },
        row,
      }))}
      selected={selected}
      onSelect={onSelect}
      span={linearSpan(0, longest / unit.seconds, 8, false)}
      title={waits ? unit.name : ''}
      left={NAMES}
      right={WORDS + (streams ? STREAM + GAP : 0)}
      least={34}
      most={92}
      ruled
      head={({ x, right }) => (
        <>
          {limit && (
            <text x={Math.min(right, x(limit.atSeconds / unit.seconds))} y={17} textAnchor="end" fill={ink('second')}>
              {fitText(`${limit.name} within ${formatDuration(limit.atSeconds)}`, LABEL_SIZE, 190)}
            </text>
          )}
          {streams && (
            <text x={right + WORDS + GAP} y={17} fill={ink('second')}>
              while in use
            </text>
          )}
        </>
      )}
    >
      {({ row }, { x, right, height }) => {
        const toX = (seconds: number) => Math.min(right, x(seconds / unit.seconds));
        return (
          <>
            <RowName
              name={row.label}
              right={NAMES - 14}
              y={height / 2}
              note={{ text: row.note, fill: ink(row.verdict ? VERDICT_INK[row.verdict] : 'second') }}
            />
            {row.times ? (
              <>
                {waits && <Strip times={row.times} toX={toX} right={right} height={height} longest={longest} />}
                {limit && (
                  <line
                    x1={toX(limit.atSeconds)}
                    x2={toX(limit.atSeconds)}
                    y1={2}
                    y2={height - 2}
                    stroke={ink('text')}
                    strokeDasharray="2 3"
                  />
                )}
                {streams && (
                  <Streaming times={row.times} left={right + WORDS + GAP} width={STREAM - 12} height={height} />
                )}
              </>
            ) : (
              <text x={NAMES + 8} y={height / 2} dy="0.35em" fill={ink('second')}>
                {row.note}
              </text>
            )}
          </>
        );
      }}
    </RowsChart>
  );
}

/** What a phase takes, in words. */
function phaseText(phase: PhaseTimes): string {
  if (phase.stream !== null) {
    const { usualSeconds, deadlineSeconds } = phase.stream;
    return `${phase.name}: a chunk takes ${formatDuration(usualSeconds)}, wanted within ${formatDuration(deadlineSeconds)}`;
  }
  return `${phase.name}: ${formatDuration(phase.processorSeconds)} computing, ${formatDuration(phase.waitingSeconds)} waiting${staysWithin(phase) ? '' : ', too long'}`;
}

/** Moment by which all that is waited for has to be done; null where a phase of it may take any time. */
function limitOf({ phases }: Pick<LoadItem, 'phases'>): { name: string; atSeconds: number } | null {
  const waits = phases.filter(({ stream }) => stream === null);
  if (waits.some(({ limitSeconds }) => limitSeconds === null)) return null;
  const whole = waits.reduce((sum, { limitSeconds }) => sum + limitSeconds!, 0);
  return waits.length === 0 ? null : { name: waits.length === 1 ? waits[0]!.name : 'all', atSeconds: whole };
}

interface StripProps {
  times: LoadTimes;
  toX: (seconds: number) => number;
  right: number;
  height: number;
  /** Where the axis ends, seconds. */
  longest: number;
}

function Strip({ times, toX, right, height, longest }: StripProps) {
  const waits = times.phases.filter(({ stream }) => stream === null);
  const parts = waits.map((phase, index) => ({
    phase,
    from: waits.slice(0, index).reduce((sum, { totalSeconds }) => sum + totalSeconds, 0),
  }));
  const end = toX(times.totalSeconds);
  const runsOff = times.totalSeconds > longest * 1.001;
  return (
    <>
      {parts.map(({ phase, from }) => (
        <PhasePart key={`${phase.name} ${from}`} phase={phase} from={from} toX={toX} height={height} />
      ))}
      {runsOff && (
        <path d={`M${right - 8} ${height / 2 - 8}l7 8l-7 8`} fill="none" stroke={ink('page')} strokeWidth={3} />
      )}
      <HaloText x={end + 8} y={height / 2} dy="0.35em" fill={ink('text')} fontWeight={650}>
        {formatDuration(times.totalSeconds)}
      </HaloText>
    </>
  );
}

function PhasePart({
  phase,
  from,
  toX,
  height,
}: {
  phase: PhaseTimes;
  from: number;
  toX: (seconds: number) => number;
  height: number;
}) {
  const [left, middle, right] = [toX(from), toX(from + phase.processorSeconds), toX(from + phase.totalSeconds)];
  const [top, bar] = [7, height - 14];
  const within = staysWithin(phase);
  return (
    <g data-phase={phase.name}>
      <rect
        x={left}
        y={top}
        width={Math.max(0, middle - left)}
        height={bar}
        fill={ink('raised')}
        stroke={ink('rule')}
      />
      <rect x={middle} y={top} width={Math.max(0, right - middle)} height={bar} fill={ink('reading')} opacity={0.85} />
      {!within && <rect x={left} y={top + bar} width={Math.max(2, right - left)} height={3} fill={ink('breaks')} />}
      {middle - left > textWidth(phase.name, LABEL_SIZE) + 10 && (
        <text x={left + 6} y={height / 2} dy="0.35em" fill={ink('second')}>
          {phase.name}
        </text>
      )}
    </g>
  );
}

/** Ticks drawn at most: more would be a bar. */
const MOST_TICKS = 60;

/** What streams in, over the time it does: each stutter a tick. */
function Streaming({ times, left, width, height }: { times: LoadTimes; left: number; width: number; height: number }) {
  const streams = times.phases.filter(({ stream }) => stream !== null);
  const [worst] = [...streams].sort((a, b) => b.stream!.stuttersPerMinute - a.stream!.stuttersPerMinute);
  if (!worst?.stream) return null;
  const { stuttersPerMinute, forSeconds, usualSeconds, deadlineSeconds, everySeconds } = worst.stream;
  const busy = usualSeconds > 0 ? `${formatDuration(usualSeconds)} of ${formatDuration(everySeconds)}, ` : '';
  const stutters = Math.min(MOST_TICKS, Math.round((stuttersPerMinute * forSeconds) / 60));
  const [top, bar] = [9, height - 30];
  const late = usualSeconds > deadlineSeconds;
  return (
    <g>
      <rect
        x={left}
        y={top}
        width={width}
        height={Math.max(6, bar)}
        fill={ink('reading')}
        opacity={late ? 0.75 : 0.28}
      />
      {Array.from({ length: stutters }, (_, tick) => (
        <line
          key={tick}
          x1={left + ((tick + 0.5) * width) / stutters}
          x2={left + ((tick + 0.5) * width) / stutters}
          y1={top - 3}
          y2={top + Math.max(6, bar) + 3}
          stroke={ink('breaks')}
          strokeWidth={1.6}
        />
      ))}
      <text x={left} y={height - 7} fill={ink(stutters > 0 ? 'text' : 'second')}>
        {late
          ? 'cannot keep up'
          : stuttersPerMinute < 0.005
            ? `${busy}no stutter`
            : `${formatNumber(stuttersPerMinute)} stutters a minute`}
      </text>
    </g>
  );
}
