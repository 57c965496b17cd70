import { Area } from 'recharts';
import { dateText, dayText, daysAWeekText, type Days, type CalendarPart } from '#core/5-answers/sizing/calendar.ts';
import type { FillTimeline, Material } from '#core/5-answers/sizing/material.ts';
import { byteUnit, formatNumber, type ByteUnits } from '#core/1-ground/units/format.ts';
import { ink } from '../../theme/tokens.ts';
import { Chart, STILL } from '../kit/Chart.tsx';
import { HaloText } from '../kit/HaloText.tsx';
import { placeLabels } from '#core/1-ground/place-labels.ts';
import { LABEL_SIZE, fitText, textWidth } from '../kit/labels.ts';
import { Marks, type Plot } from '../kit/Marks.tsx';
import { linearSpan, type ChartScale } from '#core/1-ground/axis-span.ts';
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

export interface FillPictureProps {
  materials: readonly Material[];
  phases: readonly CalendarPart[];
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

/** Room beside the plot for what is said of builds and materials. */
const WORDS = 236;
/** Above the plot, without the lanes of the project's parts; and of the axis under it, pixels. */
const TOP = 24;
const AXIS = 42;
/** Height of a lane of the project's parts above the plot. */
const CALENDAR_LANE = 18;
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
export default function FillPicture({
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
}: FillPictureProps) {
  const { total, perMaterial, peakBytes } = timeline;
  const days = total.length;
  const most = Math.max(peakBytes, ...lines.map(({ usableBytes }) => Math.min(usableBytes, 1.6 * peakBytes)));
  if (most <= 0) return null;
  const unit = byteUnit(most, units);
  const lanes = calendarLanes(phases);
  const y = linearSpan(0, most / unit.bytes, 6);
  const amount = (bytes: number) => `${formatNumber(bytes / unit.bytes)} ${unit.unit}`;
  return (
    <Chart
      isInteractive
      label={`Material over ${days} days, and what ${lines.length} builds hold`}
      plot={{
        left: 58,
        right: WORDS,
        top: TOP + CALENDAR_LANE * lanes.length,
        bottom: AXIS + LIFE_ROW * materials.length,
      }}
      x={{
        span: linearSpan(0, days, 8, false),
        format: formatNumber,
        title: startsOn === null ? 'days' : `days from ${dateText(1, startsOn)}`,
      }}
      y={{ span: y, format: formatNumber, title: unit.unit }}
      readOut={(at) => {
        const day = Math.min(days - 1, Math.floor(at));
        return [
          { text: `${dayText(day + 1, startsOn)}: ${amount(total[day]!)}` },
          ...materials.flatMap(({ name }, kind) => {
            const bytes = perMaterial[kind]?.[day] ?? 0;
            return bytes > 0 ? [{ text: `${name} ${amount(bytes)}`, colour: ink('second') }] : [];
          }),
        ];
      }}
    >
      <Hatches />
      <Areas materials={materials} perMaterial={perMaterial} unitBytes={unit.bytes} />
      <Marks>
        {(plot) => (
          <>
            {lanes.map((lane, index) =>
              lane.map((phase) => (
                <CalendarBand
                  key={phase.name}
                  phase={phase}
                  days={days}
                  x={plot.x}
                  y={TOP + CALENDAR_LANE * (index + 0.2)}
                />
              )),
            )}
            <AreaNames materials={materials} perMaterial={perMaterial} unitBytes={unit.bytes} plot={plot} />
            <BuildLines
              lines={lines}
              selected={selected}
              onSelect={onSelect}
              words={({ usableBytes, fullOnDay }) =>
                `${amount(usableBytes)}${fullOnDay === null ? '' : `, full on ${dayText(fullOnDay, startsOn)}`}`
              }
              yOf={(bytes) => plot.y(Math.min(bytes / unit.bytes, y.to))}
              plot={plot}
            />
            {materials.map((material, kind) => (
              <MaterialLife
                key={kind}
                material={material}
                days={days}
                x={plot.x}
                y={plot.bottom + AXIS + LIFE_ROW * (kind + 0.5)}
                right={plot.right}
                room={WORDS}
                onKeep={(keepDays) => onKeep(kind, keepDays)}
                onDays={(next) => onDays(kind, next)}
              />
            ))}
          </>
        )}
      </Marks>
    </Chart>
  );
}

/** Parts of a project in as few lanes as they do not overlap in. */
function calendarLanes(phases: readonly CalendarPart[]): CalendarPart[][] {
  const lanes: CalendarPart[][] = [];
  for (const phase of phases) {
    const lane = lanes.find((one) => one.every(({ fromDay, toDay }) => phase.fromDay > toDay || phase.toDay < fromDay));
    if (lane) lane.push(phase);
    else lanes.push([phase]);
  }
  return lanes;
}

function CalendarBand({ phase, days, x, y }: { phase: CalendarPart; days: number; x: ChartScale; y: number }) {
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

function Hatches() {
  return (
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
          <rect width={gap} height={gap} fill={ink('raised')} />
          <line x1={0} x2={0} y1={0} y2={gap} stroke={ink('second')} strokeWidth={1} strokeOpacity={0.55} />
        </pattern>
      ))}
    </defs>
  );
}

interface AreasProps {
  materials: readonly Material[];
  perMaterial: readonly (readonly number[])[];
  unitBytes: number;
}

/** Kind upon kind, day by day. */
function Areas({ materials, perMaterial, unitBytes }: AreasProps) {
  const days = perMaterial[0]?.length ?? 0;
  const data = Array.from({ length: days + 1 }, (_, day) => ({
    x: day,
    bytes: perMaterial.map((bytes) => bytes[Math.min(day, days - 1)]! / unitBytes),
  }));
  return materials.map(({ name }, kind) => (
    <Area
      key={kind}
      {...STILL}
      data={data}
      dataKey={({ bytes }: (typeof data)[number]) => bytes[kind]!}
      stackId="material"
      type="stepAfter"
      data-material={name}
      stroke={ink('second')}
      strokeWidth={1}
      fill={`url(#material-${kind % HATCHES.length})`}
      fillOpacity={1}
    />
  ));
}

/** The name of each kind where it is thickest. */
function AreaNames({ materials, perMaterial, unitBytes, plot }: AreasProps & { plot: Plot }) {
  const { left, right, x, y } = plot;
  const below = (kind: number, day: number) =>
    perMaterial.slice(0, kind).reduce((sum, bytes) => sum + bytes[day]!, 0) / unitBytes;
  return materials.map(({ name }, kind) => {
    const bytes = perMaterial[kind]!;
    const widest = bytes.reduce((best, value, day) => (value > bytes[best]! ? day : best), 0);
    const [low, high] = [y(below(kind, widest)), y(below(kind + 1, widest))];
    if (low - high <= 15) return null;
    const at = x(widest + 0.5);
    return (
      <HaloText
        key={kind}
        x={Math.max(left + 4, Math.min(right - 60, at))}
        y={(low + high) / 2}
        dy="0.35em"
        textAnchor={at > right - 90 ? 'end' : 'middle'}
        fill={ink('text')}
        pointerEvents="none"
      >
        {fitText(name, LABEL_SIZE, 170)}
      </HaloText>
    );
  });
}

interface BuildLinesProps {
  lines: readonly FillLine[];
  selected: string | null;
  onSelect: (key: string) => void;
  words: (line: FillLine) => string;
  yOf: (bytes: number) => number;
  plot: Plot;
}

/** What builds hold, the day on which each is full, and beside the plot which they are. */
function BuildLines({ lines, selected, onSelect, words, yOf, plot }: BuildLinesProps) {
  const { left, right, top, bottom, x } = plot;
  const labels = placeLabels(
    lines.map(({ usableBytes }) => ({ wanted: yOf(usableBytes), size: LINE_WORDS })),
    top - 10,
    bottom,
  );
  const room = WORDS - 16;
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
