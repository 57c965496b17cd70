import { dateText, dayText, daysAWeekText, type Days, type Phase } from '#core/sizing/calendar.ts';
import type { FillTimeline, Material } from '#core/sizing/material.ts';
import { byteUnit, formatNumber, type ByteUnits } from '#core/units/format.ts';
import { ink } from '../../theme/tokens.ts';
import { BottomAxis, LeftAxis } from '../kit/Axis.tsx';
import { HaloText } from '../kit/HaloText.tsx';
import { fitText, placeLabels, textWidth } from '../kit/labels.ts';
import { LABEL_SIZE, Picture } from '../kit/Picture.tsx';
import { linearScale, type PictureScale } from '../kit/scale.ts';
import { pressable } from '../kit/pressable.ts';
import { LIFE_ROW, MaterialLife } from './MaterialLife.tsx';

/** What a build holds, as a line across the days. */
export interface FillLine {
  key: string;
  /** Its drives, and what is around them. */
  label: string;
  more: string;
  usableBytes: number;
  /** Day on which it is full; null when it never is. */
  fullOnDay: number | null;
}

interface FillPictureProps {
  materials: readonly Material[];
  phases: readonly Phase[];
  units: ByteUnits;
  /** Date of the first day, where it is known. */
  startsOn: string | null;
  /** A material is to be kept so many days; null to the end. */
  onKeep: (material: number, keepDays: number | null) => void;
  /** A material is to come on other days. */
  onDays: (material: number, days: Days) => void;
  timeline: FillTimeline;
  lines: readonly FillLine[];
  selected: string | null;
  onSelect: (key: string) => void;
}

const PLOT = { left: 58, right: 236, top: 24, bottom: 42 };
/** Height of a lane of the project's parts above the plot. */
const PHASE_LANE = 18;
/** Height of what is said of a build beside its line. */
const LINE_WORDS = 48;
/** Kinds of material are told apart by hatching and their names: colours mean writing and reading. */
const HATCHES = [
  { angle: 45, gap: 7 },
  { angle: -45, gap: 7 },
  { angle: 0, gap: 6 },
  { angle: 90, gap: 6 },
  { angle: 45, gap: 3.5 },
  { angle: -45, gap: 3.5 },
];

/** Terabytes over the days of a project, kind upon kind, with what builds hold as lines and the day each is full. */
export function FillPicture(props: FillPictureProps) {
  return (
    <Picture
      isInteractive
      label={`Material over ${props.timeline.total.length} days, and what ${props.lines.length} builds hold`}
    >
      {(width, height) => <Drawing {...props} width={width} height={height} />}
    </Picture>
  );
}

function Drawing({
  materials,
  phases,
  units,
  startsOn,
  onKeep,
  onDays,
  timeline,
  lines,
  selected,
  onSelect,
  width,
  height,
}: FillPictureProps & { width: number; height: number }) {
  const { total } = timeline;
  const days = total.length;
  const most = Math.max(
    timeline.peakBytes,
    ...lines.map(({ usableBytes }) => Math.min(usableBytes, 1.6 * timeline.peakBytes)),
  );
  if (most <= 0 || height < 120) return null;
  const unit = byteUnit(most, units);
  const lanes = phaseLanes(phases);
  const [left, right, top, bottom] = [
    PLOT.left,
    width - PLOT.right,
    PLOT.top + PHASE_LANE * lanes.length,
    height - PLOT.bottom - LIFE_ROW * materials.length,
  ];
  const x = linearScale(0, days, [left, right], 8, false);
  const y = linearScale(0, most / unit.bytes, [bottom, top], 6);
  return (
    <>
      <LeftAxis scale={y} format={formatNumber} title={unit.unit} left={left} right={right} top={top} />
      <BottomAxis
        scale={x}
        format={formatNumber}
        title={startsOn === null ? 'days' : `days from ${dateText(1, startsOn)}`}
        y={bottom}
        left={left}
        right={right}
      />
      {lanes.map((lane, index) =>
        lane.map((phase) => (
          <PhaseBand key={phase.name} phase={phase} days={days} x={x} y={PLOT.top + PHASE_LANE * (index + 0.2)} />
        )),
      )}
      <Areas
        materials={materials}
        perMaterial={timeline.perMaterial}
        unitBytes={unit.bytes}
        x={x}
        y={y}
        right={right}
      />
      <BuildLines
        lines={lines}
        selected={selected}
        onSelect={onSelect}
        words={({ usableBytes, fullOnDay }) =>
          `${formatNumber(usableBytes / unit.bytes)} ${unit.unit}${fullOnDay === null ? '' : `, full on ${dayText(fullOnDay, startsOn)}`}`
        }
        x={x}
        yOf={(bytes) => y(Math.min(bytes / unit.bytes, y.invert(top)))}
        plot={{ left, right, top, bottom }}
      />
      {materials.map((material, kind) => (
        <MaterialLife
          key={kind}
          material={material}
          days={days}
          x={x}
          y={bottom + PLOT.bottom + LIFE_ROW * (kind + 0.5)}
          right={right}
          room={PLOT.right}
          onKeep={(keepDays) => onKeep(kind, keepDays)}
          onDays={(next) => onDays(kind, next)}
        />
      ))}
    </>
  );
}

/** Parts of a project in as few lanes as they do not overlap in. */
function phaseLanes(phases: readonly Phase[]): Phase[][] {
  const lanes: Phase[][] = [];
  for (const phase of phases) {
    const lane = lanes.find((one) => one.every(({ fromDay, toDay }) => phase.fromDay > toDay || phase.toDay < fromDay));
    if (lane) lane.push(phase);
    else lanes.push([phase]);
  }
  return lanes;
}

function PhaseBand({ phase, days, x, y }: { phase: Phase; days: number; x: PictureScale; y: number }) {
  if (phase.fromDay > days) return null;
  const [from, to] = [x(phase.fromDay - 1), x(Math.min(days, phase.toDay))];
  const name = fitText([phase.name, ...daysAWeekText(phase.daysAWeek)].join(', '), LABEL_SIZE, to - from - 16);
  const half = textWidth(name, LABEL_SIZE) / 2 + 6;
  const middle = (from + to) / 2;
  return (
    <g data-phase={phase.name}>
      <path
        d={`M${from + 1} ${y - 4}v8m0 -4H${middle - half}M${middle + half} ${y}H${to - 1}m0 -4v8`}
        stroke={ink('second')}
        fill="none"
      />
      <text x={middle} y={y} dy="0.35em" textAnchor="middle" fill={ink('second')}>
        {name}
      </text>
    </g>
  );
}

interface AreasProps {
  materials: readonly Material[];
  perMaterial: readonly (readonly number[])[];
  unitBytes: number;
  x: PictureScale;
  y: PictureScale;
  right: number;
}

/** Kind upon kind, day by day, each with its name where it is thickest. */
function Areas({ materials, perMaterial, unitBytes, x, y, right }: AreasProps) {
  const days = perMaterial[0]?.length ?? 0;
  const sums = Array.from({ length: days }, () => 0);
  const areas = perMaterial.map((bytes, kind) => {
    const below = [...sums];
    bytes.forEach((value, day) => (sums[day]! += value));
    const step = (values: readonly number[], day: number) => y(values[day]! / unitBytes);
    const up = bytes
      .map((_, day) => `${x(day).toFixed(1)} ${step(sums, day).toFixed(1)}H${x(day + 1).toFixed(1)}`)
      .join('L');
    const down = bytes
      .map((_, index) => days - 1 - index)
      .map((day) => `${x(day + 1).toFixed(1)} ${step(below, day).toFixed(1)}H${x(day).toFixed(1)}`)
      .join('L');
    const widest = bytes.reduce((best, value, day) => (value > bytes[best]! ? day : best), 0);
    return {
      kind,
      path: `M${up}L${down}Z`,
      at: {
        x: x(widest + 0.5),
        y: (step(sums, widest) + step(below, widest)) / 2,
        height: step(below, widest) - step(sums, widest),
      },
    };
  });
  return (
    <>
      <defs>
        {HATCHES.map(({ angle, gap }, index) => (
          <pattern
            key={index}
            id={`material-${index}`}
            width={gap}
            height={gap}
            patternUnits="userSpaceOnUse"
            patternTransform={`rotate(${angle})`}
          >
            <line x1={0} x2={0} y1={0} y2={gap} stroke={ink('second')} strokeWidth={1} />
          </pattern>
        ))}
      </defs>
      {areas.map(({ kind, path }) => (
        <g key={kind} data-material={materials[kind]!.name}>
          <path d={path} fill={ink('raised')} />
          <path
            d={path}
            fill={`url(#material-${kind % HATCHES.length})`}
            fillOpacity={0.55}
            stroke={ink('second')}
            strokeWidth={1}
          />
        </g>
      ))}
      {areas.map(
        ({ kind, at }) =>
          at.height > 15 && (
            <HaloText
              key={kind}
              x={Math.max(PLOT.left + 4, Math.min(right - 60, at.x))}
              y={at.y}
              dy="0.35em"
              textAnchor={at.x > right - 90 ? 'end' : 'middle'}
              fill={ink('text')}
            >
              {fitText(materials[kind]!.name, LABEL_SIZE, 170)}
            </HaloText>
          ),
      )}
    </>
  );
}

interface BuildLinesProps {
  lines: readonly FillLine[];
  selected: string | null;
  onSelect: (key: string) => void;
  words: (line: FillLine) => string;
  x: PictureScale;
  yOf: (bytes: number) => number;
  plot: { left: number; right: number; top: number; bottom: number };
}

/** What builds hold, the day on which each is full, and beside the plot which they are. */
function BuildLines({ lines, selected, onSelect, words, x, yOf, plot }: BuildLinesProps) {
  const { left, right, top, bottom } = plot;
  const labels = placeLabels(
    lines.map(({ usableBytes }) => ({ wanted: yOf(usableBytes), size: LINE_WORDS })),
    top - 10,
    bottom,
  );
  const room = PLOT.right - 16;
  return lines.map((line, index) => {
    const { key, label, more, fullOnDay, usableBytes } = line;
    const isSelected = key === selected;
    const at = yOf(usableBytes);
    const middle = labels[index]!;
    return (
      <g key={key} data-build-line={key} {...pressable(null, isSelected, () => onSelect(key))}>
        <title>{`${label}, ${more}: ${words(line)}`}</title>
        <line
          x1={left}
          x2={right}
          y1={at}
          y2={at}
          stroke={ink(isSelected ? 'text' : 'second')}
          strokeWidth={isSelected ? 2.2 : 1.3}
          strokeDasharray={isSelected ? '' : '7 4'}
        />
        <line x1={right} x2={right + 8} y1={at} y2={middle - 15} stroke={ink('rule')} />
        <rect x={right + 10} y={middle - 24} width={room} height={LINE_WORDS} fill="transparent" />
        <HaloText x={right + 12} y={middle - 15} dy="0.35em" fill={ink('text')} fontWeight={isSelected ? 700 : 400}>
          {fitText(label, LABEL_SIZE, room, isSelected)}
        </HaloText>
        <HaloText x={right + 12} y={middle} dy="0.35em" fill={ink('second')}>
          {fitText(more, LABEL_SIZE, room)}
        </HaloText>
        <HaloText x={right + 12} y={middle + 15} dy="0.35em" fill={ink(fullOnDay === null ? 'second' : 'breaks')}>
          {words(line)}
        </HaloText>
        {fullOnDay !== null && (
          <path d={`M${x(fullOnDay - 1)} ${at - 6}v12m-4 -6h8`} stroke={ink('breaks')} strokeWidth={2} fill="none" />
        )}
      </g>
    );
  });
}
