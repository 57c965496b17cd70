import type { Direction } from '#core/run/direction.ts';
import type { RateSpan } from '#core/supply/evidence.ts';
import { formatNumber } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { DIRECTION_STYLE } from './kit/direction-style.ts';
import { HaloText } from './kit/HaloText.tsx';
import { pressable } from './kit/pressable.ts';
import { Picture } from './kit/Picture.tsx';
import { linearScale, logScale, type PictureScale } from './kit/scale.ts';
import { MEGABYTE } from './kit/units.ts';

/** What one run saw of a direction, and under which conditions. */
export interface RunLevels {
  runId: string;
  direction: Direction;
  span: RateSpan;
  /** Days since the first run, share of the volume in use, and °C at its start; null where not known. */
  days: number;
  fillShare: number;
  celsius: number | null;
  /** For the read-out under the pointer. */
  words: string;
}

export type LevelsAxis = 'days' | 'fill' | 'celsius';

interface RunLevelsPictureProps {
  runs: readonly RunLevels[];
  axis: LevelsAxis;
  /** Rates promised on the box, bytes per second. */
  rated: Record<Direction, number | null>;
  onOpen: (runId: string) => void;
}

const PLOT = { left: 62, right: 26, top: 40, bottom: 46 };
const TITLES: Record<LevelsAxis, string> = {
  days: 'days since its first run',
  fill: '% of it in use',
  celsius: '°C at the start',
};

/** Every run of a drive, from its worst second to its opening with a notch at the floor: over time, filling or heat. */
export function RunLevelsPicture(props: RunLevelsPictureProps) {
  return (
    <Picture isInteractive label={`${props.runs.length} measurements of this drive, ${TITLES[props.axis]}`}>
      {(width, height) => <Drawing {...props} width={width} height={height} />}
    </Picture>
  );
}

const valueOf = ({ days, fillShare, celsius }: RunLevels, axis: LevelsAxis): number | null =>
  axis === 'days' ? days : axis === 'fill' ? 100 * fillShare : celsius;

function Drawing({
  runs,
  axis,
  rated,
  onOpen,
  width,
  height,
}: RunLevelsPictureProps & { width: number; height: number }) {
  const known = runs.flatMap((run) => {
    const value = valueOf(run, axis);
    return value === null ? [] : [{ run, value }];
  });
  const promised = Object.values(rated).filter((rate) => rate !== null);
  const rates = [
    ...known.flatMap(({ run: { span } }) => [span.worstSecondBytesPerSecond, span.openingBytesPerSecond]),
    ...promised,
  ]
    .map((rate) => rate / MEGABYTE)
    .filter((rate) => rate > 0);
  const [left, right, top, bottom] = [PLOT.left, width - PLOT.right, PLOT.top, height - PLOT.bottom];
  if (known.length === 0 || rates.length === 0) {
    return (
      <text x={left} y={height / 2} fill={ink('second')}>
        {axis === 'celsius' ? 'Its runs were not told how warm it was.' : 'No run of it shows levels yet.'}
      </text>
    );
  }
  const y = logScale(Math.min(...rates), Math.max(...rates), [bottom, top], 8);
  const values = known.map(({ value }) => value);
  // Runs of one day are told apart by their hours.
  const isHours = axis === 'days' && Math.max(...values) < 3;
  const unit = isHours ? 24 : 1;
  const [low, high] = [Math.min(...values) * unit, Math.max(...values) * unit];
  const pad = Math.max(LEAST_SPAN[axis], high - low) * 0.08;
  // Neither time nor a share of filling is less than none.
  const from = axis === 'celsius' ? low - pad : Math.max(0, low - pad);
  const x = linearScale(from, high + pad, [left, right], 8, false);
  return (
    <>
      <LeftAxis
        scale={y}
        format={formatNumber}
        title="MB/s, logarithmic. From worst second to opening, notch at the floor"
        left={left}
        right={right}
        top={top}
      />
      <BottomAxis
        scale={x}
        format={formatNumber}
        title={isHours ? 'hours since its first run' : TITLES[axis]}
        y={bottom}
        left={left}
        right={right}
      />
      {(['write', 'read'] as const).map((direction) => {
        const rate = rated[direction];
        return rate === null ? null : (
          <Promised key={direction} direction={direction} rate={rate} y={y} left={left} right={right} />
        );
      })}
      {known.map(({ run, value }, index) => (
        <RunMark
          key={`${run.runId} ${run.direction}`}
          run={run}
          at={x(value * unit) + markShift(known, index)}
          y={y}
          onOpen={onOpen}
        />
      ))}
    </>
  );
}

/** An axis is never without any length. */
const LEAST_SPAN: Record<LevelsAxis, number> = { days: 1, fill: 5, celsius: 4 };

/** Marks at the same place stand beside each other. */
function markShift(known: readonly { value: number }[], index: number): number {
  const { value } = known[index]!;
  const same = known.filter((one) => one.value === value);
  return (same.indexOf(known[index]!) - (same.length - 1) / 2) * 13;
}

function Promised({
  direction,
  rate,
  y,
  left,
  right,
}: {
  direction: Direction;
  rate: number;
  y: PictureScale;
  left: number;
  right: number;
}) {
  const at = y(rate / MEGABYTE);
  const { colour } = DIRECTION_STYLE[direction];
  return (
    <g>
      <line x1={left} x2={right} y1={at - 1.5} y2={at - 1.5} stroke={colour} strokeWidth={0.8} />
      <line x1={left} x2={right} y1={at + 1.5} y2={at + 1.5} stroke={colour} strokeWidth={0.8} />
      <HaloText
        x={direction === 'write' ? right : left + 6}
        y={at - 8}
        textAnchor={direction === 'write' ? 'end' : 'start'}
        fill={ink('second')}
      >
        {`${direction === 'write' ? 'writing' : 'reading'} on its box: ${formatNumber(rate / MEGABYTE)}`}
      </HaloText>
    </g>
  );
}

function RunMark({
  run,
  at,
  y,
  onOpen,
}: {
  run: RunLevels;
  at: number;
  y: PictureScale;
  onOpen: (runId: string) => void;
}) {
  const { span, direction, words, runId } = run;
  const { colour, dash } = DIRECTION_STYLE[direction];
  const [from, to, notch] = [span.worstSecondBytesPerSecond, span.openingBytesPerSecond, span.floorBytesPerSecond].map(
    (rate) => y(Math.max(rate, 1) / MEGABYTE),
  ) as [number, number, number];
  return (
    <g data-run-levels={runId} {...pressable(words, null, () => onOpen(runId))}>
      <title>{words}</title>
      <rect x={at - 6} y={Math.min(from, to) - 6} width={12} height={Math.abs(from - to) + 12} fill="transparent" />
      <line
        x1={at}
        x2={at}
        y1={from}
        y2={Math.min(to, from - 2)}
        stroke={colour}
        strokeWidth={6}
        opacity={0.45}
        {...(dash ? { strokeDasharray: dash } : {})}
      />
      <line x1={at - 7} x2={at + 7} y1={notch} y2={notch} stroke={colour} strokeWidth={2.4} />
    </g>
  );
}
