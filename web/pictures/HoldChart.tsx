import { bytesText, formatDuration } from '#core/1-ground/units/format.ts';
import { VERDICT_INK, verdictName, type Verdict } from '#core/5-answers/verdict/verdict.ts';
import { ink } from '../theme/tokens.ts';
import { HaloText } from './kit/HaloText.tsx';
import { LABEL_SIZE, textWidth } from './kit/labels.ts';
import { NAMES, RIGHT } from './ruler/ruler-layout.ts';
import { RowName, RowsChart } from './kit/RowsChart.tsx';
import { timeUnitFor } from './kit/units.ts';
import { linearSpan } from '#core/1-ground/axis-span.ts';
import { HATCH, HatchDefinition } from './kit/verdict-marks.tsx';

/** A take on a drive: for how long it holds. */
export interface HoldRow {
  key: string;
  label: string;
  /** It is a drive of which nothing was measured. */
  isFromBox: boolean;
  takeSeconds: number;
  takes: number;
  verdict: Verdict;
  /** The verdict in a few words, where it is no matter of a rate held for a time; else null. */
  short: string | null;
}

export interface HoldChartProps {
  rows: readonly HoldRow[];
  selected: string | null;
  /** A row that is chosen already opens its backlog. */
  onSelect: (key: string) => void;
}

/** For how long each take holds: solid until it breaks, then open; hatched where not proven. */
export default function HoldChart({ rows, selected, onSelect }: HoldChartProps) {
  const longest = Math.max(1, ...rows.map((row) => row.takeSeconds));
  const unit = timeUnitFor(longest);
  return (
    <RowsChart
      label="For how long each take holds"
      rows={rows.map((row) => ({
        key: row.key,
        label: `${row.label}: ${saidInFull(row)}`,
        data: { 'data-row': row.key, 'data-verdict': row.verdict.verdict },
        row,
      }))}
      selected={selected}
      onSelect={onSelect}
      span={linearSpan(0, longest / unit.seconds, 9, false)}
      title={`${unit.name} of the take`}
      left={NAMES}
      right={RIGHT}
      least={32}
      most={60}
    >
      {({ row }, { x, width, height }) => (
        <>
          <HatchDefinition />
          <RowName name={row.label} right={NAMES - 16} y={height / 2} isFromBox={row.isFromBox} />
          <Bar row={row} toX={(seconds) => x(seconds / unit.seconds)} right={width} height={height} />
        </>
      )}
    </RowsChart>
  );
}

interface BarProps {
  row: HoldRow;
  toX: (seconds: number) => number;
  right: number;
  height: number;
}

function Bar({ row, toX, right, height }: BarProps) {
  const { verdict, takeSeconds } = row;
  const bar = height * 0.6;
  const y = (height - bar) / 2;
  const [from, end] = [toX(0), toX(takeSeconds)];
  const colour = ink(VERDICT_INK[verdict.verdict]);
  const isWhole = verdict.verdict === 'holds' || verdict.verdict === 'tight';
  const until = isWhole ? end : Math.min(end, toX(carriedSeconds(row)));
  const words = rowText(row);
  const width = textWidth(words, LABEL_SIZE, true);
  const solidRoom = until - from > width + 20;
  // Words beside the bar stand over the grid.
  const Words = solidRoom ? 'text' : HaloText;
  const parts = {
    holds: <rect x={from} y={y} width={Math.max(2, end - from)} height={bar} fill={colour} />,
    tight: (
      <path
        d={`M${from} ${y}H${end}V${y + bar}H${from}Z M${Math.max(from, end - 12)} ${y}v9h6v-9z`}
        fillRule="evenodd"
        fill={colour}
      />
    ),
    breaks: (
      <>
        <path
          d={`M${from} ${y}H${Math.max(from, until - 7)}L${Math.max(from + 6, until)} ${y + bar / 2}L${Math.max(from, until - 7)} ${y + bar}H${from}Z`}
          fill={colour}
        />
        <line
          x1={Math.max(from + 8, until + 3)}
          x2={end}
          y1={height / 2}
          y2={height / 2}
          stroke={colour}
          strokeDasharray="1.5 5"
        />
      </>
    ),
    'not-proven': (
      <>
        {until > from + 1 && <rect x={from} y={y} width={until - from} height={bar} fill={ink('notProven')} />}
        <rect
          x={until}
          y={y}
          width={Math.max(0, end - until)}
          height={bar}
          fill={`url(#${HATCH})`}
          stroke={colour}
          strokeWidth={1}
        />
      </>
    ),
  };
  const start = solidRoom ? from + 10 : Math.min(Math.max(from + 10, until + 12), right - width - 8);
  return (
    <g>
      {parts[verdict.verdict]}
      <Words
        x={start}
        y={height / 2}
        dy="0.35em"
        fontWeight={650}
        fill={solidRoom ? ink('page') : verdict.verdict === 'breaks' ? colour : ink('text')}
      >
        {words}
      </Words>
    </g>
  );
}

/** Seconds of the take up to which the bar is solid. */
function carriedSeconds({ verdict, takeSeconds }: HoldRow): number {
  if (verdict.verdict === 'breaks') return verdict.breaksInTake === null ? (verdict.breaksAtSeconds ?? 0) : takeSeconds;
  // A run that proves neither way carried nothing that counts.
  if (verdict.reason === 'doubtful' || verdict.reason === 'no-run') return 0;
  if (verdict.reason === 'several-streams' || verdict.reason === 'mixed') return 0;
  return verdict.provenSeconds ?? 0;
}

/** The verdict and what is said of it, where that does not begin with it. */
function saidInFull(row: HoldRow): string {
  const [name, text] = [verdictName(row.verdict), rowText(row)];
  return text.startsWith(name) ? text : `${name}, ${text}`;
}

/** The verdict in a few words, for the row. */
function rowText({ verdict, takeSeconds, takes, short }: HoldRow): string {
  if (short !== null) return short;
  const proven = formatDuration(verdict.provenSeconds ?? 0);
  switch (verdict.verdict) {
    case 'holds':
    case 'tight': {
      const all =
        takes > 1 ? `all ${takes} takes of ${formatDuration(takeSeconds)}` : `all ${formatDuration(takeSeconds)}`;
      return `${verdictName(verdict)}: ${all}`;
    }
    case 'breaks': {
      const at = formatDuration(verdict.breaksAtSeconds ?? 0);
      if (verdict.reason === 'full')
        return `Full after ${at}${verdict.unknownFromTake === null ? '' : ' at the latest'}`;
      const breaks = verdictName(verdict);
      if (verdict.reason === 'mixed') return `${breaks}: cannot do both`;
      return verdict.breaksInTake === null
        ? `${breaks}: ${verdict.atLeast ? 'at least ' : ''}${at}`
        : `${breaks} in take ${verdict.breaksInTake}, after ${at}`;
    }
    case 'not-proven':
      switch (verdict.reason) {
        case 'later-takes':
          return `First take ${verdict.isPromise ? 'would hold' : 'holds'}, the others not proven`;
        case 'too-short':
          return `${verdict.isPromise ? 'Promised' : 'Proven'} for ${proven}`;
        case 'several-streams':
          return 'Not proven: several streams';
        case 'mixed':
          return 'Not proven: both ways at once';
        case 'doubtful':
          return 'Not proven: doubts';
        case 'worst-moment':
          return `Not proven: its worst moments need ${bytesText(verdict.leastBufferBytes ?? 0)} of buffer`;
        default:
          return 'Not proven: no run';
      }
  }
}
