import { Line } from 'recharts';
import { bindingText } from '#core/5-answers/copies/copy-words.ts';
import { sameBinding, type CopyStretch } from '#core/4-runs/trace/copy-stretches.ts';
import { byteUnit, formatNumber, rateText } from '#core/1-ground/units/format.ts';
import { ink, type TokenName } from '../theme/tokens.ts';
import { Chart, STILL } from './kit/Chart.tsx';
import { HaloText } from './kit/HaloText.tsx';
import { LABEL_SIZE, fitText, textWidth } from './kit/labels.ts';
import { Marks, type Plot } from './kit/Marks.tsx';
import { linearSpan, rateSpan } from '#core/1-ground/axis-span.ts';
import { stepPoints, type Step } from './kit/steps.ts';
import { MEGABYTE } from './kit/units.ts';

export interface HopTraceProps {
  stretches: readonly CopyStretch[];
  /** What its first seconds promise, bytes per second; null while that is not known. */
  earlyBytesPerSecond: number | null;
  /** Other copies of the same way, drawn thin beside it with their names. */
  beside?: readonly { label: string; stretches: readonly CopyStretch[] }[];
}

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
export default function HopTrace({ stretches, earlyBytesPerSecond, beside = [] }: HopTraceProps) {
  const steps = gathered(stretches);
  const others = beside.map((one) => ({ ...one, steps: gathered(one.stretches) }));
  const end = Math.max(steps.at(-1)?.toBytes ?? 0, ...others.map((one) => one.steps.at(-1)?.toBytes ?? 0));
  if (end <= 0) return null;
  const unit = byteUnit(end);
  const rates = [
    ...[steps, ...others.map((one) => one.steps)].flat().map(({ bytesPerSecond }) => bytesPerSecond / MEGABYTE),
    ...(earlyBytesPerSecond === null ? [] : [earlyBytesPerSecond / MEGABYTE]),
  ];
  const [low, high] = [Math.min(...rates), Math.max(...rates)];
  const y = rateSpan(low, high, 5);
  const causes = causesOf(steps);
  return (
    <Chart
      label="Rate of the copy over the data copied, and what holds it back"
      plot={{ left: 62, right: 24, top: 38, bottom: 44 }}
      x={{ span: linearSpan(0, end / unit.bytes, 8, false), format: formatNumber, title: `${unit.unit} copied` }}
      y={{ span: y, format: formatNumber, title: `MB/s${y.isLog ? ', logarithmic' : ''}` }}
      readOut={(at) => {
        const stepAt = (all: readonly CopyStretch[]) =>
          all.find(({ fromBytes, toBytes }) => fromBytes <= at * unit.bytes && at * unit.bytes <= toBytes);
        const step = stepAt(steps);
        return [
          { text: `${formatNumber(at)} ${unit.unit} copied` },
          ...(step ? [{ text: `${rateText(step.bytesPerSecond)}: ${bindingText(step.binds)}` }] : []),
          ...others.flatMap((other) => {
            const there = stepAt(other.steps);
            return there ? [{ text: `${other.label}: ${rateText(there.bytesPerSecond)}`, colour: ink('second') }] : [];
          }),
        ];
      }}
    >
      {others.map(({ label, steps: thin }, index) => (
        <Line
          key={label}
          {...STILL}
          data={stepPoints(stepsOf(thin), unit.bytes)}
          dataKey="rate"
          type="stepAfter"
          stroke={ink('second')}
          strokeWidth={1.2}
          strokeDasharray={BESIDE_DASHES[index % 3]}
        />
      ))}
      {steps.length > 0 && (
        <Line
          {...STILL}
          data={stepPoints(stepsOf(steps), unit.bytes)}
          dataKey="rate"
          type="stepAfter"
          stroke={ink('second')}
          strokeWidth={1}
        />
      )}
      <Marks at="lines">
        {({ x, y: up }) =>
          steps.map(({ fromBytes, toBytes, bytesPerSecond, binds }) => {
            const [from, to, at] = [x(fromBytes / unit.bytes), x(toBytes / unit.bytes), up(bytesPerSecond / MEGABYTE)];
            const { colour, dash } = INKS[binds.kind];
            return (
              <line
                key={fromBytes}
                data-binds={binds.kind}
                x1={from}
                x2={Math.max(from + 0.8, to)}
                y1={at}
                y2={at}
                stroke={ink(colour)}
                strokeWidth={2.6}
                strokeDasharray={dash}
              />
            );
          })
        }
      </Marks>
      <Marks>
        {(plot) => (
          <>
            {earlyBytesPerSecond !== null && (
              <EarlyLine
                at={plot.y(earlyBytesPerSecond / MEGABYTE)}
                rate={earlyBytesPerSecond}
                // Away from the end of the curve, along which it is written.
                offset={earlyOffset((steps.at(-1)?.bytesPerSecond ?? 0) / earlyBytesPerSecond)}
                plot={plot}
              />
            )}
            {others.map(({ label, steps: thin }, index) => {
              const middle = thin[Math.floor(thin.length * (0.35 + 0.2 * (index % 3)))];
              return (
                middle && (
                  <HaloText
                    key={label}
                    data-beside={label}
                    x={plot.x(middle.fromBytes / unit.bytes)}
                    y={plot.y(middle.bytesPerSecond / MEGABYTE) - 8}
                    fill={ink('second')}
                  >
                    {fitText(label, LABEL_SIZE, 200)}
                  </HaloText>
                )
              );
            })}
            {causes.map((cause) => (
              <CauseWords
                key={cause.fromBytes}
                cause={cause}
                causes={causes}
                from={plot.x(cause.fromBytes / unit.bytes)}
                to={plot.x(cause.toBytes / unit.bytes)}
                y={Math.min(plot.bottom - 8, plot.y(cause.lowestBytesPerSecond / MEGABYTE) + 18)}
              />
            ))}
          </>
        )}
      </Marks>
    </Chart>
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

const stepsOf = (stretches: readonly CopyStretch[]): Step[] =>
  stretches.map(({ fromBytes, toBytes, bytesPerSecond }) => ({ from: fromBytes, to: toBytes, rate: bytesPerSecond }));

interface CauseWordsProps {
  cause: Cause;
  causes: readonly Cause[];
  from: number;
  to: number;
  y: number;
}

/** What holds a stretch back, under it. */
function CauseWords({ cause: { step, fromBytes, toBytes }, causes, from, to, y }: CauseWordsProps) {
  const room = to - from - 10;
  const text = bindingText(step.binds);
  // Cut short only where no other stretch of the same cause is longer and says it whole.
  const isLongest = causes.every(
    (one) => !sameBinding(one.step.binds, step.binds) || one.toBytes - one.fromBytes <= toBytes - fromBytes,
  );
  if (textWidth(text, LABEL_SIZE) > room && (!isLongest || room < 60)) return null;
  return (
    <HaloText x={from + 6} y={y} fill={ink('text')}>
      {fitText(text, LABEL_SIZE, room)}
    </HaloText>
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
  plot: Plot;
}

function EarlyLine({ at, rate, offset, plot: { left, right } }: EarlyLineProps) {
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
