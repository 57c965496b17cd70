import type { Direction } from '#core/run/direction.ts';
import type { SupplyCurve } from '#core/trace/supply-curve.ts';
import { bytesText, byteUnit, formatNumber } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { HaloText } from './kit/HaloText.tsx';
import { fitText, placeLabels } from './kit/labels.ts';
import { LABEL_SIZE, Picture } from './kit/Picture.tsx';
import { pressable } from './kit/pressable.ts';
import { linearScale, logScale, type PictureScale } from './kit/scale.ts';
import { MEGABYTE, timeUnitFor } from './kit/units.ts';

/** The longest transfer of one drive. */
export interface OverlaidTrace {
  key: string;
  label: string;
  curve: SupplyCurve;
}

interface OverlayPictureProps {
  traces: readonly OverlaidTrace[];
  direction: Direction;
  axis: 'bytes' | 'seconds';
  selected: string | null;
  onSelect: (key: string) => void;
}

const PLOT = { left: 62, right: 150, top: 36, bottom: 44 };
/** Columns of a trace: as many as can be told apart. */
const COLUMNS = 220;
/** Lines are told apart by their dashes and their names, since colour means writing and reading. */
const DASHES = ['', '9 4', '2 3', '9 3 2 3', '14 5', '5 5', '2 6', '12 3 2 3 2 3'];

interface Step {
  from: number;
  to: number;
  rate: number;
}

/** Mean rates of stretches of a trace, equal in bytes or in time. */
function stepsOf(curve: SupplyCurve, axis: 'bytes' | 'seconds'): Step[] {
  const points = curve;
  const { seconds, bytes } = points;
  const along = points[axis];
  // The flush at the end moves nothing: it is no step down.
  const end = bytes.findLastIndex((moved, point) => moved > (bytes[point - 1] ?? 0));
  const steps: Step[] = [];
  let last = 0;
  for (let point = 1; point <= end; point += 1) {
    if (point < end && along[point]! - along[last]! < along[end]! / COLUMNS) continue;
    const took = seconds[point]! - seconds[last]!;
    if (took > 0 && along[point]! > along[last]!) {
      steps.push({ from: along[last]!, to: along[point]!, rate: (bytes[point]! - bytes[last]!) / took });
      last = point;
    }
  }
  return steps;
}

/** Traces of several drives over each other, on one scale. */
export function OverlayPicture(props: OverlayPictureProps) {
  const way = props.direction === 'write' ? 'writing' : 'reading';
  return (
    <Picture isInteractive label={`Traces of ${props.traces.length} drives over each other, ${way}`}>
      {(width, height) => <Drawing {...props} width={width} height={height} />}
    </Picture>
  );
}

function Drawing({
  traces,
  axis,
  selected,
  onSelect,
  width,
  height,
}: OverlayPictureProps & { width: number; height: number }) {
  const all = traces
    .map((trace) => ({ ...trace, steps: stepsOf(trace.curve, axis) }))
    .filter(({ steps }) => steps.length > 0);
  const rates = all.flatMap(({ steps }) => steps.map(({ rate }) => rate / MEGABYTE)).filter((rate) => rate > 0);
  if (rates.length === 0) return null;
  const ends = all.map(({ steps }) => steps.at(-1)!.to);
  const longest = Math.max(...ends);
  const [left, right, top, bottom] = [PLOT.left, width - PLOT.right, PLOT.top, height - PLOT.bottom];
  const shortest = Math.min(...ends);
  // A short pass beside a long fill would be a dot: then both axes count by tens.
  const isWide = longest > 40 * shortest;
  // No one unit suits both ends of a wide axis: amounts have each its own, times that of the short end.
  const unit =
    axis === 'bytes'
      ? { size: byteUnit(longest).bytes, name: isWide ? '' : `${byteUnit(longest).unit} ` }
      : { size: timeUnitFor(isWide ? shortest : longest).seconds, name: timeUnitFor(isWide ? shortest : longest).name };
  const x = isWide
    ? logScale(Math.max(shortest / 20, longest / 1e5) / unit.size, longest / unit.size, [left, right], 8)
    : linearScale(0, longest / unit.size, [left, right], 8, false);
  const [low, high] = [Math.min(...rates), Math.max(...rates)];
  const y = high > 8 * low ? logScale(low, high, [bottom, top], 7) : linearScale(0, high, [bottom, top], 6);
  const kind = (scale: PictureScale) => (scale.isLog ? ', logarithmic' : '');
  const names = placeLabels(
    all.map(({ steps }) => ({ wanted: y(steps.at(-1)!.rate / MEGABYTE), size: 17 })),
    top,
    bottom,
  );
  return (
    <>
      <LeftAxis scale={y} format={formatNumber} title={`MB/s${kind(y)}`} left={left} right={right} top={top} />
      <BottomAxis
        scale={x}
        format={axis === 'bytes' && isWide ? (tick) => bytesText(tick * unit.size) : formatNumber}
        title={`${axis === 'bytes' ? `${unit.name}moved` : unit.name}${kind(x)}`}
        y={bottom}
        left={left}
        right={right}
      />
      {all.map(({ key, label, steps }, index) => {
        const isSelected = key === selected;
        const path = steps
          .map(
            ({ from, to, rate }, step) =>
              `${step === 0 ? 'M' : 'L'}${x(from / unit.size).toFixed(1)} ${y(rate / MEGABYTE).toFixed(1)}L${x(to / unit.size).toFixed(1)} ${y(rate / MEGABYTE).toFixed(1)}`,
          )
          .join('');
        const last = steps.at(-1)!;
        const fill = ink(isSelected ? 'text' : 'second');
        return (
          <g key={key} data-overlay={key} {...pressable(label, isSelected, () => onSelect(key))}>
            <path
              d={path}
              fill="none"
              stroke={fill}
              strokeWidth={isSelected ? 2.6 : 1.6}
              strokeDasharray={DASHES[index % DASHES.length]}
            />
            <line
              x1={x(last.to / unit.size)}
              x2={right + 8}
              y1={y(last.rate / MEGABYTE)}
              y2={names[index]}
              stroke={ink('rule')}
            />
            <HaloText
              x={right + 12}
              y={names[index]}
              dy="0.35em"
              fill={ink('text')}
              fontWeight={isSelected ? 700 : 400}
            >
              {fitText(label, LABEL_SIZE, PLOT.right - 16, isSelected)}
            </HaloText>
          </g>
        );
      })}
    </>
  );
}
