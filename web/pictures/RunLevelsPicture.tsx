import Typography from '@mui/material/Typography';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { RateSpan } from '#core/4-runs/supply/evidence.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { Chart } from './kit/Chart.tsx';
import { DIRECTION_STYLE, directionLine } from './kit/direction-style.ts';
import { DoubleLine } from './kit/DoubleLine.tsx';
import { HaloText } from './kit/HaloText.tsx';
import { Marks, type Plot } from './kit/Marks.tsx';
import { pressable } from './kit/pressable.ts';
import { linearSpan, logSpan } from '#core/1-ground/axis-span.ts';
import { MEGABYTE } from './kit/units.ts';

/** What one run saw of a direction, and under which conditions. */
export interface RunLevels {
  runId: string;
  direction: Direction;
  span: RateSpan;
  /** Days since the first run, share of the volume in use, and °C at its start; null where not known. */
  days: number;
  fillShare: number | null;
  celsius: number | null;
  /** For the read-out under the pointer. */
  words: string;
}

export type LevelsAxis = 'days' | 'fill' | 'celsius';

export interface RunLevelsPictureProps {
  runs: readonly RunLevels[];
  axis: LevelsAxis;
  /** Rates promised on the box, bytes per second. */
  rated: Record<Direction, number | null>;
  onOpen: (runId: string) => void;
}

const TITLES: Record<LevelsAxis, string> = {
  days: 'days since its first run',
  fill: '% of it in use',
  celsius: '°C at the start',
};

const valueOf = ({ days, fillShare, celsius }: RunLevels, axis: LevelsAxis): number | null =>
  axis === 'days' ? days : axis === 'fill' ? (fillShare === null ? null : 100 * fillShare) : celsius;

/** An axis is never without any length. */
const LEAST_SPAN: Record<LevelsAxis, number> = { days: 1, fill: 5, celsius: 4 };

/** Every run of a drive, from its worst second to its opening with a notch at the floor: over time, filling or heat. */
export default function RunLevelsPicture({ runs, axis, rated, onOpen }: RunLevelsPictureProps) {
  const known = runs.flatMap((run) => {
    const value = valueOf(run, axis);
    return value === null ? [] : [{ run, value }];
  });
  const rates = [
    ...known.flatMap(({ run: { span } }) => [span.worstSecondBytesPerSecond, span.openingBytesPerSecond]),
    ...Object.values(rated).filter((rate) => rate !== null),
  ]
    .map((rate) => rate / MEGABYTE)
    .filter((rate) => rate > 0);
  if (known.length === 0 || rates.length === 0) {
    return (
      <Typography variant="body2" color="textSecondary" sx={{ m: 'auto', flex: 'none' }}>
        {axis === 'celsius' ? 'Its runs were not told how warm it was.' : 'No run of it shows levels yet.'}
      </Typography>
    );
  }
  const values = known.map(({ value }) => value);
  // Runs of one day are told apart by their hours.
  const isHours = axis === 'days' && Math.max(...values) < 3;
  const unit = isHours ? 24 : 1;
  const [low, high] = [Math.min(...values) * unit, Math.max(...values) * unit];
  const pad = Math.max(LEAST_SPAN[axis], high - low) * 0.08;
  // Neither time nor a share of filling is less than none.
  const from = axis === 'celsius' ? low - pad : Math.max(0, low - pad);
  return (
    <Chart
      isInteractive
      label={`${runs.length} measurements of this drive, ${TITLES[axis]}`}
      plot={{ left: 62, right: 26, top: 40, bottom: 46 }}
      x={{
        span: linearSpan(from, high + pad, 8, false),
        format: formatNumber,
        title: isHours ? 'hours since its first run' : TITLES[axis],
      }}
      y={{
        span: logSpan(Math.min(...rates), Math.max(...rates), 8),
        format: formatNumber,
        title: 'MB/s, logarithmic. From worst second to opening, notch at the floor',
      }}
    >
      <Marks>
        {(plot) => (
          <>
            {DIRECTIONS.map((direction) => {
              const rate = rated[direction];
              return rate === null ? null : <Promised key={direction} direction={direction} rate={rate} plot={plot} />;
            })}
            {known.map(({ run, value }, index) => (
              <RunMark
                key={`${run.runId} ${run.direction}`}
                run={run}
                at={plot.x(value * unit) + markShift(known, index)}
                plot={plot}
                onOpen={onOpen}
              />
            ))}
          </>
        )}
      </Marks>
    </Chart>
  );
}

/** Marks at the same place stand beside each other. */
function markShift(known: readonly { value: number }[], index: number): number {
  const { value } = known[index]!;
  const same = known.filter((one) => one.value === value);
  return (same.indexOf(known[index]!) - (same.length - 1) / 2) * 13;
}

function Promised({ direction, rate, plot }: { direction: Direction; rate: number; plot: Plot }) {
  const at = plot.y(rate / MEGABYTE);
  const isWriting = direction === 'write';
  return (
    <g>
      <DoubleLine at={at} from={plot.left} to={plot.right} colour={DIRECTION_STYLE[direction].colour} />
      <HaloText
        x={isWriting ? plot.right : plot.left + 6}
        y={at - 8}
        textAnchor={isWriting ? 'end' : 'start'}
        fill={ink('second')}
      >
        {`${DIRECTION_STYLE[direction].name} on its box: ${formatNumber(rate / MEGABYTE)}`}
      </HaloText>
    </g>
  );
}

interface RunMarkProps {
  run: RunLevels;
  at: number;
  plot: Plot;
  onOpen: (runId: string) => void;
}

function RunMark({ run, at, plot, onOpen }: RunMarkProps) {
  const { span, direction, words, runId } = run;
  const [from, to, notch] = [span.worstSecondBytesPerSecond, span.openingBytesPerSecond, span.floorBytesPerSecond].map(
    (rate) => plot.y(rate / MEGABYTE),
  ) as [number, number, number];
  return (
    <g data-run-levels={runId} {...pressable(words, null, () => onOpen(runId))}>
      <title>{words}</title>
      <rect x={at - 6} y={Math.min(from, to) - 6} width={12} height={Math.abs(from - to) + 12} fill="transparent" />
      <line
        {...directionLine(direction)}
        x1={at}
        x2={at}
        y1={from}
        y2={Math.min(to, from - 2)}
        strokeWidth={6}
        opacity={0.45}
      />
      <line
        x1={at - 7}
        x2={at + 7}
        y1={notch}
        y2={notch}
        stroke={DIRECTION_STYLE[direction].colour}
        strokeWidth={2.4}
      />
    </g>
  );
}
