import type { FillTimeline, Material } from '#core/sizing/material.ts';
import { byteUnit, formatNumber } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { HaloText } from './kit/HaloText.tsx';
import { fitText, placeLabels } from './kit/labels.ts';
import { LABEL_SIZE, Picture } from './kit/Picture.tsx';
import { linearScale, type PictureScale } from './kit/scale.ts';

/** What a build holds, as a line across the days. */
export interface FillLine {
  key: string;
  label: string;
  usableBytes: number;
  /** Day on which it is full; null when it never is. */
  fullOnDay: number | null;
}

interface FillPictureProps {
  materials: readonly Material[];
  /** A material is to be kept so many days; null to the end. */
  onKeep: (material: number, keepDays: number | null) => void;
  timeline: FillTimeline;
  lines: readonly FillLine[];
  selected: string | null;
}

const PLOT = { left: 58, right: 236, top: 34, bottom: 42 };
/** Height of the line of one material's days under the axis. */
const LIFE_ROW = 17;
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
  onKeep,
  timeline,
  lines,
  selected,
  width,
  height,
}: FillPictureProps & { width: number; height: number }) {
  const { total, perMaterial } = timeline;
  const days = total.length;
  const most = Math.max(
    timeline.peakBytes,
    ...lines.map(({ usableBytes }) => Math.min(usableBytes, 1.6 * timeline.peakBytes)),
  );
  if (most <= 0 || height < 120) return null;
  const unit = byteUnit(most);
  const [left, right, top, bottom] = [
    PLOT.left,
    width - PLOT.right,
    PLOT.top,
    height - PLOT.bottom - LIFE_ROW * materials.length,
  ];
  const x = linearScale(0, days, [left, right], 8, false);
  const y = linearScale(0, most / unit.bytes, [bottom, top], 6);
  const sums = Array.from({ length: days }, () => 0);
  const areas = perMaterial.map((bytes, kind) => {
    const below = [...sums];
    bytes.forEach((value, day) => (sums[day]! += value));
    const step = (values: readonly number[], day: number) => y(values[day]! / unit.bytes);
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
  const shown = lines.map((line) => ({
    ...line,
    at: y(Math.min(line.usableBytes, y.invert(top) * unit.bytes) / unit.bytes),
  }));
  const labels = placeLabels(
    shown.map(({ at }) => ({ wanted: at, size: 34 })),
    top,
    bottom,
  );
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
      <LeftAxis scale={y} format={formatNumber} title={unit.unit} left={left} right={right} top={top} />
      <BottomAxis scale={x} format={formatNumber} title="days" y={bottom} left={left} right={right} />
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
              x={Math.max(left + 4, Math.min(right - 60, at.x))}
              y={at.y}
              dy="0.35em"
              textAnchor={at.x > right - 90 ? 'end' : 'middle'}
              fill={ink('text')}
            >
              {fitText(materials[kind]!.name, LABEL_SIZE, 170)}
            </HaloText>
          ),
      )}
      {shown.map(({ key, label, fullOnDay, at, usableBytes }, index) => {
        const isSelected = key === selected;
        const tone = ink(isSelected ? 'text' : 'second');
        return (
          <g key={key} data-build-line={key}>
            <line
              x1={left}
              x2={right}
              y1={at}
              y2={at}
              stroke={tone}
              strokeWidth={isSelected ? 2.2 : 1.3}
              strokeDasharray={isSelected ? '' : '7 4'}
            />
            <line x1={right} x2={right + 8} y1={at} y2={labels[index]! - 6} stroke={ink('rule')} />
            <HaloText
              x={right + 12}
              y={labels[index]! - 6}
              dy="0.35em"
              fill={ink('text')}
              fontWeight={isSelected ? 700 : 400}
            >
              {fitText(label, LABEL_SIZE, PLOT.right - 16, isSelected)}
            </HaloText>
            <HaloText
              x={right + 12}
              y={labels[index]! + 9}
              dy="0.35em"
              fill={ink(fullOnDay === null ? 'second' : 'breaks')}
            >
              {`${formatNumber(usableBytes / unit.bytes)} ${unit.unit}${fullOnDay === null ? '' : `, full on day ${fullOnDay}`}`}
            </HaloText>
            {fullOnDay !== null && (
              <path
                d={`M${x(fullOnDay - 1)} ${at - 6}v12m-4 -6h8`}
                stroke={ink('breaks')}
                strokeWidth={2}
                fill="none"
              />
            )}
          </g>
        );
      })}
      {materials.map((material, kind) => (
        <Life
          key={kind}
          material={material}
          days={days}
          x={x}
          y={bottom + PLOT.bottom + LIFE_ROW * (kind + 0.5)}
          right={right}
          onKeep={(keepDays) => onKeep(kind, keepDays)}
        />
      ))}
    </>
  );
}

interface LifeProps {
  material: Material;
  days: number;
  x: PictureScale;
  y: number;
  right: number;
  onKeep: (keepDays: number | null) => void;
}

/** The days on which a material comes, and those for which it is kept; their end is moved by hand or by arrow keys. */
function Life({ material, days, x, y, right, onKeep }: LifeProps) {
  const { name, fromDay, toDay, keepDays } = material;
  const last = Math.min(days, toDay);
  const end = keepDays === null ? days : Math.min(days, toDay + keepDays);
  const keepTo = (day: number) => {
    const next = Math.max(last, Math.min(days, Math.round(day)));
    onKeep(next >= days ? null : next - toDay);
  };
  const words = keepDays === null ? 'kept to the end' : `kept ${keepDays} days`;
  return (
    <>
      <line x1={x(fromDay - 1)} x2={x(last)} y1={y} y2={y} stroke={ink('text')} strokeWidth={2.4} />
      <line x1={x(last)} x2={x(end)} y1={y} y2={y} stroke={ink('second')} strokeDasharray="4 3" />
      <text x={right + 12} y={y} dy="0.35em" fill={ink('second')}>
        {fitText(`${name}, ${words}`, LABEL_SIZE, PLOT.right - 16)}
      </text>
      <g
        role="slider"
        tabIndex={0}
        aria-label={`${name}: last day it is kept`}
        aria-valuemin={last}
        aria-valuemax={days}
        aria-valuenow={end}
        aria-valuetext={words}
        data-keep={name}
        style={{ cursor: 'ew-resize', touchAction: 'none' }}
        onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
        onPointerMove={(event) => {
          if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
          keepTo(x.invert(event.clientX - event.currentTarget.ownerSVGElement!.getBoundingClientRect().left));
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowLeft') keepTo(end - 1);
          else if (event.key === 'ArrowRight') keepTo(end + 1);
          else return;
          event.preventDefault();
        }}
      >
        <rect x={x(end) - 12} y={y - LIFE_ROW / 2} width={24} height={LIFE_ROW} fill="transparent" />
        <rect x={x(end) - 3} y={y - 6} width={6} height={12} rx={1.5} fill={ink('text')} />
      </g>
    </>
  );
}
