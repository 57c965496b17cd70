import { bindingText } from '#core/copies/copy-words.ts';
import { sameBinding, type CopyStretch } from '#core/copies/stretches.ts';
import { byteUnit, formatNumber } from '#core/units/format.ts';
import { ink, type TokenName } from '../theme/tokens.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { HaloText } from './kit/HaloText.tsx';
import { fitText, textWidth } from './kit/labels.ts';
import { LABEL_SIZE, Picture } from './kit/Picture.tsx';
import { linearScale, logScale } from './kit/scale.ts';
import { MEGABYTE } from './kit/units.ts';

interface HopTraceProps {
  stretches: readonly CopyStretch[];
  /** What its first seconds promise, bytes per second; null while that is not known. */
  earlyBytesPerSecond: number | null;
  /** Other copies of the same way, drawn thin beside it with their names. */
  beside?: readonly { label: string; stretches: readonly CopyStretch[] }[];
}

const PLOT = { left: 62, right: 24, top: 38, bottom: 44 };
/** Steps drawn at most: a trace of thousands would be a band. */
const MOST_STEPS = 400;
const BESIDE_DASHES = ['1 3', '6 3', '6 3 1 3'];
const INKS: Record<CopyStretch['binds']['kind'], { colour: TokenName; dash: string }> = {
  source: { colour: 'reading', dash: '' },
  target: { colour: 'writing', dash: '' },
  hop: { colour: 'text', dash: '9 3' },
  'same-drive': { colour: 'text', dash: '2 3' },
};

/** The rate of a copy over what is copied, in the ink of what holds it back, which is written along it. */
export function HopTrace(props: HopTraceProps) {
  return (
    <Picture label="Rate of the copy over the data copied, and what holds it back">
      {(width, height) => <Drawing {...props} width={width} height={height} />}
    </Picture>
  );
}

/** Neighbours of one cause as one, until few enough are left to be drawn. */
function gathered(stretches: readonly CopyStretch[]): CopyStretch[] {
  const end = stretches.at(-1)?.toBytes ?? 0;
  const steps: CopyStretch[] = [];
  let seconds = 0;
  for (const one of stretches) {
    const last = steps.at(-1);
    const took = (one.toBytes - one.fromBytes) / one.bytesPerSecond;
    if (last && sameBinding(last.binds, one.binds) && last.toBytes - last.fromBytes < end / MOST_STEPS) {
      seconds += took;
      last.toBytes = one.toBytes;
      last.bytesPerSecond = (last.toBytes - last.fromBytes) / seconds;
    } else {
      steps.push({ ...one });
      seconds = took;
    }
  }
  return steps;
}

function Drawing({
  stretches,
  earlyBytesPerSecond,
  beside = [],
  width,
  height,
}: HopTraceProps & { width: number; height: number }) {
  const steps = gathered(stretches);
  const others = beside.map((one) => ({ ...one, steps: gathered(one.stretches) }));
  const end = Math.max(steps.at(-1)?.toBytes ?? 0, ...others.map((one) => one.steps.at(-1)?.toBytes ?? 0));
  if (end <= 0 || height < 120) return null;
  const unit = byteUnit(end);
  const rates = [
    ...[steps, ...others.map((one) => one.steps)].flat().map(({ bytesPerSecond }) => bytesPerSecond / MEGABYTE),
    ...(earlyBytesPerSecond === null ? [] : [earlyBytesPerSecond / MEGABYTE]),
  ];
  const [left, right, top, bottom] = [PLOT.left, width - PLOT.right, PLOT.top, height - PLOT.bottom];
  const [low, high] = [Math.min(...rates), Math.max(...rates)];
  const x = linearScale(0, end / unit.bytes, [left, right], 8, false);
  const y = high > 8 * low ? logScale(low, high, [bottom, top], 6) : linearScale(0, high, [bottom, top], 5);
  const causes = causesOf(steps);
  return (
    <>
      <LeftAxis
        scale={y}
        format={formatNumber}
        title={`MB/s${y.isLog ? ', logarithmic' : ''}`}
        left={left}
        right={right}
        top={top}
      />
      <BottomAxis scale={x} format={formatNumber} title={`${unit.unit} copied`} y={bottom} left={left} right={right} />
      {earlyBytesPerSecond !== null && (
        <EarlyLine
          at={y(earlyBytesPerSecond / MEGABYTE)}
          rate={earlyBytesPerSecond}
          // Away from the end of the curve, along which it is written.
          offset={earlyOffset((steps.at(-1)?.bytesPerSecond ?? 0) / earlyBytesPerSecond)}
          left={left}
          right={right}
        />
      )}
      {others.map(({ label, steps: thin }, index) => {
        const path = thin
          .map(
            ({ fromBytes, toBytes, bytesPerSecond }, step) =>
              `${step === 0 ? 'M' : 'L'}${x(fromBytes / unit.bytes).toFixed(1)} ${y(bytesPerSecond / MEGABYTE).toFixed(1)}H${x(toBytes / unit.bytes).toFixed(1)}`,
          )
          .join('');
        const middle = thin[Math.floor(thin.length * (0.35 + 0.2 * (index % 3)))];
        return (
          <g key={label} data-beside={label}>
            <path
              d={path}
              fill="none"
              stroke={ink('second')}
              strokeWidth={1.2}
              strokeDasharray={BESIDE_DASHES[index % 3]}
            />
            {middle && (
              <HaloText
                x={x(middle.fromBytes / unit.bytes)}
                y={y(middle.bytesPerSecond / MEGABYTE) - 8}
                fill={ink('second')}
              >
                {fitText(label, LABEL_SIZE, 200)}
              </HaloText>
            )}
          </g>
        );
      })}
      {steps.map((step, index) => {
        const before = steps[index - 1];
        const [from, to] = [x(step.fromBytes / unit.bytes), x(step.toBytes / unit.bytes)];
        const at = y(step.bytesPerSecond / MEGABYTE);
        const { colour, dash } = INKS[step.binds.kind];
        return (
          <g key={step.fromBytes} data-binds={step.binds.kind}>
            {before && (
              <line
                x1={from}
                x2={from}
                y1={y(before.bytesPerSecond / MEGABYTE)}
                y2={at}
                stroke={ink(colour)}
                strokeWidth={1.2}
              />
            )}
            <line
              x1={from}
              x2={Math.max(from + 0.8, to)}
              y1={at}
              y2={at}
              stroke={ink(colour)}
              strokeWidth={2.6}
              strokeDasharray={dash}
            />
          </g>
        );
      })}
      {causes.map(({ fromBytes, toBytes, step, lowestBytesPerSecond }) => {
        const from = x(fromBytes / unit.bytes);
        const room = x(toBytes / unit.bytes) - from - 10;
        const text = bindingText(step.binds);
        // Cut short only where no other stretch of the same cause is longer and says it whole.
        const isLongest = causes.every(
          (one) => !sameBinding(one.step.binds, step.binds) || one.toBytes - one.fromBytes <= toBytes - fromBytes,
        );
        if (textWidth(text, LABEL_SIZE) > room && (!isLongest || room < 60)) return null;
        return (
          <HaloText
            key={fromBytes}
            x={from + 6}
            y={Math.min(bottom - 8, y(lowestBytesPerSecond / MEGABYTE) + 18)}
            fill={ink('text')}
          >
            {fitText(text, LABEL_SIZE, room)}
          </HaloText>
        );
      })}
    </>
  );
}

/** Words of a line stand clear of a curve that ends so many times as high. */
function earlyOffset(times: number): number {
  if (Math.abs(times - 1) < 0.12) return 44;
  return times > 1 ? 16 : -7;
}

interface EarlyLineProps {
  at: number;
  rate: number;
  /** Of its words, pixels below the line. */
  offset: number;
  left: number;
  right: number;
}

function EarlyLine({ at, rate, offset, left, right }: EarlyLineProps) {
  return (
    <>
      <line x1={left} x2={right} y1={at} y2={at} stroke={ink('second')} strokeDasharray="2 4" />
      <HaloText x={right} y={at + offset} textAnchor="end" fill={ink('second')}>
        {`as its first seconds promise: ${formatNumber(rate / MEGABYTE)}`}
      </HaloText>
    </>
  );
}

interface Cause {
  fromBytes: number;
  toBytes: number;
  /** The first of its steps. */
  step: CopyStretch;
  lowestBytesPerSecond: number;
}

/** Runs of steps with one cause, for its name to be written once, under the lowest of them. */
function causesOf(steps: readonly CopyStretch[]): Cause[] {
  const causes: Cause[] = [];
  for (const step of steps) {
    const last = causes.at(-1);
    const isLike =
      last &&
      sameBinding(last.step.binds, step.binds) &&
      Math.abs(Math.log(step.bytesPerSecond / last.step.bytesPerSecond)) < 0.25;
    if (isLike) {
      last.toBytes = step.toBytes;
      last.lowestBytesPerSecond = Math.min(last.lowestBytesPerSecond, step.bytesPerSecond);
    } else {
      const { fromBytes, toBytes, bytesPerSecond } = step;
      causes.push({ fromBytes, toBytes, step, lowestBytesPerSecond: bytesPerSecond });
    }
  }
  return causes;
}
