import { greatest, least } from '#core/1-ground/numbers/statistics.ts';
import { Line } from 'recharts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';
import { bytesText, byteUnit, formatNumber, rateText } from '#core/1-ground/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { Chart, STILL } from './kit/Chart.tsx';
import { HaloText } from './kit/HaloText.tsx';
import { placeLabels } from '#core/1-ground/place-labels.ts';
import { LABEL_SIZE, fitText } from './kit/labels.ts';
import { Marks, type Plot } from './kit/Marks.tsx';
import { pressable } from './kit/pressable.ts';
import { linearSpan, logSpan, rateSpan, type AxisSpan } from '#core/1-ground/axis-span.ts';
import { stepPoints, type Step } from './kit/steps.ts';
import { MEGABYTE, timeUnitFor } from './kit/units.ts';
import { DIRECTION_STYLE } from './kit/direction-style.ts';

/** The longest transfer of one drive. */
export interface OverlaidTrace {
  key: string;
  label: string;
  curve: SupplyCurve;
}

export interface OverlayPictureProps {
  traces: readonly OverlaidTrace[];
  direction: Direction;
  axis: 'bytes' | 'seconds';
  selected: string | null;
  onSelect: (key: string) => void;
}

/** Room for the names beside the plot. */
const NAMES = 150;
/** Columns of a trace: as many as can be told apart. */
const COLUMNS = 220;
/** Lines are told apart by their dashes and their names, since colour means writing and reading. */
const DASHES = ['', '9 4', '2 3', '9 3 2 3', '14 5', '5 5', '2 6', '12 3 2 3 2 3'];

/** Mean rates of stretches of a trace, equal in bytes or in time. */
function stepsOf(curve: SupplyCurve, axis: 'bytes' | 'seconds'): Step[] {
  const { seconds, bytes } = curve;
  const along = curve[axis];
  // The flush at the end moves nothing: it is no step down.
  const end = bytes.findLastIndex((moved, point) => moved > (bytes[point - 1] ?? 0));
  const steps: Step[] = [];
  let last = 0;
  for (let point = 1; point <= end; point += 1) {
    if (point < end && along[point]! - along[last]! < along[end]! / COLUMNS) continue;
    const passed = seconds[point]! - seconds[last]!;
    if (passed > 0 && along[point]! > along[last]!) {
      steps.push({ from: along[last]!, to: along[point]!, rate: (bytes[point]! - bytes[last]!) / passed });
      last = point;
    }
  }
  return steps;
}

/** Traces of several drives over each other, on one scale. */
export default function OverlayPicture({ traces, direction, axis, selected, onSelect }: OverlayPictureProps) {
  const all = traces
    .map((trace) => ({ ...trace, steps: stepsOf(trace.curve, axis) }))
    .filter(({ steps }) => steps.length > 0);
  const rates = all.flatMap(({ steps }) => steps.map(({ rate }) => rate / MEGABYTE)).filter((rate) => rate > 0);
  if (rates.length === 0) return null;
  const ends = all.map(({ steps }) => steps.at(-1)!.to);
  const [shortest, longest] = [least(ends), greatest(ends)];
  // A short pass beside a long fill would be a dot: then both axes count by tens.
  const isWide = longest > 40 * shortest;
  // No one unit suits both ends of a wide axis: amounts have each its own, times that of the short end.
  const unit =
    axis === 'bytes'
      ? { size: byteUnit(longest).bytes, name: isWide ? '' : `${byteUnit(longest).unit} ` }
      : { size: timeUnitFor(isWide ? shortest : longest).seconds, name: timeUnitFor(isWide ? shortest : longest).name };
  const x = isWide
    ? logSpan(Math.max(shortest / 20, longest / 1e5) / unit.size, longest / unit.size, 8)
    : linearSpan(0, longest / unit.size, 8, false);
  const [low, high] = [least(rates), greatest(rates)];
  const y = rateSpan(low, high, 6);
  const kind = (span: AxisSpan) => (span.isLog ? ', logarithmic' : '');
  const formatX = axis === 'bytes' && isWide ? (tick: number) => bytesText(tick * unit.size) : formatNumber;
  return (
    <Chart
      isInteractive
      label={`Traces of ${traces.length} drives over each other, ${DIRECTION_STYLE[direction].name}`}
      plot={{ left: 62, right: NAMES, top: 36, bottom: 44 }}
      x={{ span: x, format: formatX, title: `${axis === 'bytes' ? `${unit.name}moved` : unit.name}${kind(x)}` }}
      y={{ span: y, format: formatNumber, title: `MB/s${kind(y)}` }}
      readOut={(at) => [
        { text: `${formatX(at)} ${axis === 'bytes' ? `${unit.name}moved` : unit.name}` },
        ...all.flatMap(({ label, steps }) => {
          const step = steps.find(({ from, to }) => from <= at * unit.size && at * unit.size <= to);
          return step ? [{ text: `${label}: ${rateText(step.rate)}` }] : [];
        }),
      ]}
    >
      {all.map(({ key, steps }, index) => {
        const isSelected = key === selected;
        return (
          <Line
            key={key}
            {...STILL}
            data={stepPoints(steps, unit.size)}
            dataKey="rate"
            type="stepAfter"
            stroke={ink(isSelected ? 'text' : 'second')}
            strokeWidth={isSelected ? 2.6 : 1.6}
            strokeDasharray={DASHES[index % DASHES.length]}
          />
        );
      })}
      <Marks>
        {(plot) => (
          <Names
            traces={all.map(({ key, label, steps }) => {
              const { to, rate } = steps.at(-1)!;
              return { key, label, x: plot.x(to / unit.size), y: plot.y(rate / MEGABYTE) };
            })}
            plot={plot}
            selected={selected}
            onSelect={onSelect}
          />
        )}
      </Marks>
    </Chart>
  );
}

interface NamesProps extends Pick<OverlayPictureProps, 'selected' | 'onSelect'> {
  /** With the ends of their lines, pixels. */
  traces: readonly { key: string; label: string; x: number; y: number }[];
  plot: Plot;
}

/** The names of the lines beside the plot, by which they are chosen. */
function Names({ traces, plot: { top, bottom, right }, selected, onSelect }: NamesProps) {
  const heights = placeLabels(
    traces.map(({ y }) => ({ wanted: y, size: 17 })),
    top,
    bottom,
  );
  return traces.map(({ key, label, x, y }, index) => {
    const isSelected = key === selected;
    return (
      <g key={key} data-overlay={key} {...pressable(label, isSelected, () => onSelect(key))}>
        <line x1={x} x2={right + 8} y1={y} y2={heights[index]} stroke={ink('rule')} />
        <rect x={right + 8} y={heights[index]! - 8} width={NAMES - 8} height={17} fill="transparent" />
        <HaloText x={right + 12} y={heights[index]} dy="0.35em" fill={ink('text')} fontWeight={isSelected ? 700 : 400}>
          {fitText(label, LABEL_SIZE, NAMES - 16, isSelected)}
        </HaloText>
      </g>
    );
  });
}
