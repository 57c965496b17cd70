import Box from '@mui/material/Box';
import { useMemo } from 'react';
import { IN_TURN_ID } from '#core/5-answers/verdict/in-turn.ts';
import { bindingHop } from '#core/2-trade/links/connection.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { DirectionFigures, RunFigures } from '#core/4-runs/trace/figures.ts';
import { bytesText, formatDuration, formatRate, orDash, rateText } from '#core/1-ground/units/format.ts';
import { FigureTable, type TableRow } from '../../../kit/table.tsx';
import { FigureText } from '../../../kit/words.tsx';
import { DIRECTION_STYLE } from '../../../pictures/kit/direction-style.ts';
import type { StillMark } from '../../../pictures/trace/TraceMarks.tsx';
import { useContextStore } from '../../../state/context.ts';
import { ink } from '../../../theme/tokens.ts';
import type { RunAnalysis } from '../use-analysis.ts';
import type { MeasureView } from './measure-view.ts';
import { Tip } from '../../../kit/Tip.tsx';
import { TracePicture } from '../../../pictures/pictures.tsx';

/** Levels of the drive: the trace over the need lines, and figures of both directions. */
export const levelsView: MeasureView = {
  picture: (run, analysis) => (analysis.passes.length > 0 ? <Trace run={run} analysis={analysis} /> : null),
  table: (figures) => (
    <>
      {directionTable(figures)}
      <LevelLine figures={figures} />
    </>
  ),
  word: () => null,
  hasTraceAxis: true,
};

const rateNumber = (value: number) => formatRate(value).number;

function directionTable(figures: RunFigures) {
  const shown = DIRECTIONS.filter((direction) => figures[direction] !== null);
  if (shown.length === 0) return null;
  // A figure that there is not yet has no column.
  const several = shown.some((direction) => figures[direction]!.passes > 1);
  const interval = shown.some((direction) => figures[direction]!.medianInterval95 !== null);
  return (
    <FigureTable
      heads={[
        'Direction',
        several ? 'Median of passes' : 'On average',
        ...(interval ? [{ head: '95 % interval', wideOnly: true } as const] : []),
        ...(several ? ['Slowest – fastest pass'] : []),
        'Worst second',
        { head: 'Latency p50', wideOnly: true },
        'p99',
        'Longest',
      ]}
      rows={shown.map((direction) => directionRow(direction, figures[direction]!, { several, interval }))}
    />
  );
}

function directionRow(
  direction: Direction,
  figures: DirectionFigures,
  has: { several: boolean; interval: boolean },
): TableRow {
  const interval = figures.medianInterval95;
  return {
    key: direction,
    data: { 'data-figures': direction },
    cells: [
      <DirectionName key="name" direction={direction} />,
      <Tip key="median" text={rateText(figures.medianBytesPerSecond, 'full')}>
        <span>
          <FigureText figure={formatRate(figures.medianBytesPerSecond)} size={20} />
        </span>
      </Tip>,
      ...(has.interval ? [interval ? `${rateNumber(interval[0])} – ${rateNumber(interval[1])}` : '–'] : []),
      ...(has.several ? [<PassRange key="range" figures={figures} />] : []),
      orDash(figures.worstSecondBytesPerSecond, rateNumber),
      orDash(figures.latencyP50Seconds, formatDuration),
      orDash(figures.latencyP99Seconds, formatDuration),
      orDash(figures.latencyMaxSeconds, formatDuration),
    ],
  };
}

function PassRange({ figures }: { figures: DirectionFigures }) {
  const { lowestPassBytesPerSecond: lowest, highestPassBytesPerSecond: highest, passes } = figures;
  if (passes === 1) return <>1 pass</>;
  return (
    <span>
      {rateNumber(lowest)} – {rateNumber(highest)}
      <span style={{ color: ink('second') }}>, {passes} passes</span>
    </span>
  );
}

function DirectionName({ direction }: { direction: Direction }) {
  const { colour, dash, name } = DIRECTION_STYLE[direction];
  return (
    <>
      <svg width={28} height={8} aria-hidden="true" style={{ marginRight: 8, verticalAlign: 'middle' }}>
        <line
          x1={0}
          x2={28}
          y1={4}
          y2={4}
          stroke={colour}
          strokeWidth={2.4}
          {...(dash ? { strokeDasharray: dash } : {})}
        />
      </svg>
      {name}
    </>
  );
}

/** Opening, knee and floor, and what rests regained, in one line. */
function LevelLine({ figures: { write, recovery } }: { figures: RunFigures }) {
  const reading = write?.reading;
  const parts: string[] = [];
  if (reading?.slope) {
    const { startBytesPerSecond, endBytesPerSecond } = reading.slope;
    parts.push(`slopes from ${rateText(startBytesPerSecond)} to ${rateText(endBytesPerSecond)}`);
  }
  if (reading && reading.kneeBytes !== null) {
    parts.push(`opening ${orDash(reading.openingBytesPerSecond, rateText)}`);
    const [from, to] = reading.kneeSpreadBytes ?? [null, null];
    parts.push(
      from === null ? `knee at ${bytesText(reading.kneeBytes)}` : `falls from ${bytesText(from)} to ${bytesText(to)}`,
    );
    parts.push(`floor ${orDash(reading.floorBytesPerSecond, rateText)} for ${formatDuration(reading.floorSeconds)}`);
  }
  if (reading?.sawtooth) {
    const { lowBytesPerSecond, highBytesPerSecond, periodSeconds } = reading.sawtooth;
    parts.push(
      `swings ${rateNumber(lowBytesPerSecond)} – ${rateNumber(highBytesPerSecond)} every ${formatDuration(periodSeconds)}`,
    );
  }
  for (const { restSeconds, regainedBytes, atLeast } of recovery ?? []) {
    parts.push(
      `${formatDuration(restSeconds)} of rest regains ${atLeast ? 'at least ' : ''}${bytesText(regainedBytes)}`,
    );
  }
  if (parts.length === 0) return null;
  return (
    <Box component="p" sx={{ m: 0, pt: 0.75, fontSize: 13.5, color: ink('second') }} data-levels="">
      {parts.join(' · ')}
    </Box>
  );
}

const isStill = (kind: string): kind is StillMark['kind'] => ['pause', 'rest', 'sleep'].includes(kind);

function Trace({ run, analysis }: { run: RunDocument; analysis: RunAnalysis }) {
  const { passes, apart, judged, levels, doubts } = analysis;
  const traceAxis = useContextStore((state) => state.traceAxis);
  const needLines = useMemo(
    () =>
      // What a load needs are requests of its own size, and no rate of this trace.
      judged
        .filter(({ verdict }) => verdict.reason !== 'over-limit' && verdict.reason !== 'requests-unknown')
        .filter(({ demand }) => demand.itemId !== IN_TURN_ID)
        .map(({ demand, verdict }) => ({
          id: demand.itemId,
          name: demand.name,
          bytesPerSecond: demand.bytesPerSecond,
          verdict: verdict.verdict,
        })),
    [judged],
  );
  const hop = bindingHop(run.connection);
  const { series } = run.conditions;
  const temperature = series.atSeconds.map((atSeconds, row) => ({
    atSeconds,
    celsius: series.temperatureCelsius[row]!,
  }));
  const still = run.markers.flatMap(({ kind, atSeconds, seconds, note }) =>
    isStill(kind) ? [{ kind, atSeconds, seconds, note }] : [],
  );
  return (
    <TracePicture
      passes={passes}
      apart={apart}
      axis={traceAxis}
      needLines={needLines}
      ceiling={hop ? { label: hop.label, bytesPerSecond: hop.ceilingBytesPerSecond } : null}
      temperature={temperature}
      levels={levels}
      doubts={doubts}
      still={still}
      live={run.endedAt === null}
    />
  );
}
