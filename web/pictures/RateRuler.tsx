import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { Direction } from '#core/run/run-document.ts';
import type { RateSpan } from '#core/supply/evidence.ts';
import { formatNumber, formatShare } from '#core/units/format.ts';
import type { VerdictWord } from '#core/verdict/judge.ts';
import { ink } from '../theme/tokens.ts';
import { fitText, placeLabels, textWidth } from './labels.ts';
import { LABEL_SIZE, Picture } from './Picture.tsx';
import { logScale, type PictureScale } from './scale.ts';
import { HatchDefinition, VerdictMark } from './verdict-marks.tsx';

/** A drive on the ruler with the spans of its runs. */
export interface RulerLane {
  driveId: string;
  label: string;
  /** Null until the drive's runs have been read. */
  spans: Record<Direction, RateSpan | null> | null;
}

/** An item of the workload on the ruler. */
export interface RulerPin {
  itemId: string;
  name: string;
  direction: Direction;
  bytesPerSecond: number;
  /** Verdict on each lane, by drive id. */
  verdicts: Record<string, VerdictWord>;
}

interface RateRulerProps {
  lanes: readonly RulerLane[];
  pins: readonly RulerPin[];
  selected: string | null;
  onSelect: (itemId: string, driveId?: string) => void;
  /** The drive whose sentences are shown, and choosing another. */
  currentDrive: string | null;
  onDrive: (driveId: string) => void;
  headroomShare: number;
  onHeadroom: (share: number) => void;
}

const NAMES = 132;
const RIGHT = 30;
const LABEL_ROW = 19;
const MOST_LABEL_ROWS = 4;
const LABELS_TO_LANES = 28;
const AXIS = 40;
const MEGABYTE = 1e6;
/** Pins closer than this are drawn as one that opens on hover. */
const GROUP_PIXELS = 14;
const MOST_HEADROOM = 2;

/** Few lanes are drawn taller, many as low as they can be read. */
function laneHeight(lanes: number): number {
  return lanes <= 2 ? 88 : lanes <= 4 ? 66 : 48;
}

/** One logarithmic axis of rates: drives as lanes, items as pins that cross them all. */
export function RateRuler(props: RateRulerProps) {
  const lanes = Math.max(1, props.lanes.length);
  return (
    <Picture
      label={`Rate ruler with ${props.lanes.length} drives and ${props.pins.length} items`}
      height={(width) => layoutOf(props, width).top + lanes * laneHeight(props.lanes.length) + AXIS}
    >
      {(width) => <Drawing {...props} width={width} layout={layoutOf(props, width)} />}
    </Picture>
  );
}

interface RulerLayout {
  x: PictureScale;
  groups: PinGroup[];
  labels: { row: number; middle: number }[];
  /** Where the lanes begin, under the rows of labels. */
  top: number;
}

function layoutOf(props: RateRulerProps, width: number): RulerLayout {
  const x = rulerScale(props, width);
  const groups = groupPins(props.pins, x);
  const labels = labelRows(
    groups.map((group) => ({ x: group.x, width: textWidth(groupText(group), LABEL_SIZE, true) + 14 })),
    width,
  );
  const rows = Math.max(1, ...labels.map((label) => label.row + 1));
  return { x, groups, labels, top: rows * LABEL_ROW + LABELS_TO_LANES };
}

const groupText = ({ pins }: PinGroup): string => (pins.length === 1 ? pins[0]!.name : `${pins.length} items`);

interface PinGroup {
  x: number;
  pins: RulerPin[];
}

function groupPins(pins: readonly RulerPin[], x: PictureScale): PinGroup[] {
  const groups: PinGroup[] = [];
  for (const pin of [...pins].sort((a, b) => a.bytesPerSecond - b.bytesPerSecond)) {
    const at = x(pin.bytesPerSecond / MEGABYTE);
    const last = groups.at(-1);
    if (last && at - last.x < GROUP_PIXELS) last.pins.push(pin);
    else groups.push({ x: at, pins: [pin] });
  }
  return groups;
}

function rulerScale({ lanes, pins }: RateRulerProps, width: number): PictureScale {
  const rates = [
    ...pins.flatMap((pin) => [pin.bytesPerSecond, pin.bytesPerSecond * 1.3]),
    ...lanes.flatMap((lane) => Object.values(lane.spans ?? {}).flatMap((span) => (span ? [span.worstSecondBytesPerSecond, span.openingBytesPerSecond] : []))),
  ].filter((rate) => rate > 0);
  const [low, high] = rates.length > 0 ? [Math.min(...rates), Math.max(...rates)] : [10 * MEGABYTE, 10_000 * MEGABYTE];
  return logScale(low / MEGABYTE, high / MEGABYTE, [NAMES, width - RIGHT], width > 700 ? 12 : 7);
}

function Drawing(props: RateRulerProps & { width: number; layout: RulerLayout }) {
  const { lanes, selected, headroomShare, currentDrive, onDrive, width } = props;
  const [open, setOpen] = useState<number | null>(null);
  const { x, groups, top } = props.layout;
  const lane = laneHeight(lanes.length);
  const bottom = top + Math.max(1, lanes.length) * lane;
  return (
    <>
      <HatchDefinition />
      {x.ticks.map((tick) => (
        <g key={tick}>
          <line x1={x(tick)} x2={x(tick)} y1={top} y2={bottom} stroke={ink('grid')} />
          <text x={x(tick)} y={bottom + 18} textAnchor="middle" fill={ink('second')}>
            {formatNumber(tick)}
          </text>
        </g>
      ))}
      <text x={width - RIGHT} y={bottom + 35} textAnchor="end" fill={ink('second')}>
        MB/s, logarithmic. Bars from worst second to opening, notch at the median
      </text>
      {groups.map((group) => (
        <HeadroomShade
          key={group.pins[0]!.itemId}
          group={group}
          x={x}
          top={top}
          bottom={bottom}
          share={headroomShare}
          strong={group.pins.some((pin) => pin.itemId === selected)}
        />
      ))}
      {lanes.map((one, index) => (
        <Lane
          key={one.driveId}
          lane={one}
          x={x}
          height={lane}
          top={top + index * lane}
          width={width}
          last={index === lanes.length - 1}
          current={one.driveId === currentDrive}
          onChoose={() => onDrive(one.driveId)}
        />
      ))}
      <Pins {...props} lane={lane} bottom={bottom} open={open} onOpen={setOpen} />
      <HeadroomHandle {...props} x={x} bottom={bottom} />
    </>
  );
}

/** Where a direction's bar lies within a lane of a height. */
function barOf(direction: Direction, height: number): { y: number; height: number } {
  return direction === 'write' ? { y: height * 0.2, height: height * 0.3 } : { y: height * 0.64, height: height * 0.17 };
}

interface LaneProps {
  lane: RulerLane;
  x: PictureScale;
  top: number;
  height: number;
  width: number;
  last: boolean;
  current: boolean;
  onChoose: () => void;
}

function Lane({ lane, x, top, height, width, last, current, onChoose }: LaneProps) {
  const words = lane.spans === null ? 'reading its runs' : lane.spans.write === null && lane.spans.read === null ? 'no run that counts yet' : null;
  return (
    <g transform={`translate(0 ${top})`} data-lane={lane.driveId}>
      {!last && <line x1={0} x2={width - RIGHT} y1={height} y2={height} stroke={ink('grid')} />}
      <g
        role="button"
        tabIndex={0}
        aria-pressed={current}
        aria-label={lane.label}
        onClick={onChoose}
        onKeyDown={(event) => {
          if (event.key === 'Enter') onChoose();
        }}
        style={{ cursor: 'pointer' }}
      >
        <rect x={0} y={4} width={NAMES - 6} height={height - 8} fill={current ? ink('rail') : 'transparent'} />
        {current && <rect x={0} y={4} width={3} height={height - 8} fill={ink('text')} />}
        <text x={NAMES - 16} y={height / 2} dy="0.35em" textAnchor="end" fontWeight={700} fontSize={14} fill={ink('text')}>
          <title>{lane.label}</title>
          {fitText(lane.label, 14, NAMES - 28, true)}
        </text>
      </g>
      {words !== null && (
        <text x={NAMES + 10} y={height / 2} dy="0.35em" fill={ink('second')}>
          {words}
        </text>
      )}
      {(['write', 'read'] as const).map((direction) => {
        const span = lane.spans?.[direction];
        return span && <SpanBar key={direction} span={span} direction={direction} bar={barOf(direction, height)} x={x} />;
      })}
    </g>
  );
}

function SpanBar({ span, direction, bar: { y, height }, x }: { span: RateSpan; direction: Direction; bar: ReturnType<typeof barOf>; x: PictureScale }) {
  const at = (rate: number) => x(rate / MEGABYTE);
  const from = at(span.worstSecondBytesPerSecond);
  const to = Math.max(from + 3, at(span.openingBytesPerSecond));
  const notch = at(span.medianBytesPerSecond);
  const colour = ink(direction === 'write' ? 'writing' : 'reading');
  return (
    <g>
      <title>
        {`${direction === 'write' ? 'Writing' : 'Reading'}: worst second ${formatNumber(span.worstSecondBytesPerSecond / MEGABYTE)}, median ${formatNumber(span.medianBytesPerSecond / MEGABYTE)}, opening ${formatNumber(span.openingBytesPerSecond / MEGABYTE)} MB/s`}
      </title>
      <rect x={from} y={y} width={to - from} height={height} fill={colour} opacity={0.38} {...(direction === 'read' ? { rx: 2 } : {})} />
      <line x1={notch} x2={notch} y1={y - 3} y2={y + height + 3} stroke={colour} strokeWidth={2.4} />
      <text x={to + 7} y={y + height / 2} dy="0.35em" fill={ink('text')} fontSize={12} stroke={ink('page')} strokeWidth={3} paintOrder="stroke">
        {formatNumber(span.medianBytesPerSecond / MEGABYTE)}
      </text>
    </g>
  );
}

function HeadroomShade({
  group,
  x,
  top,
  bottom,
  share,
  strong,
}: {
  group: PinGroup;
  x: PictureScale;
  top: number;
  bottom: number;
  share: number;
  strong: boolean;
}) {
  const rate = Math.max(...group.pins.map((pin) => pin.bytesPerSecond)) / MEGABYTE;
  const from = x(rate);
  const width = x(rate * (1 + share)) - from;
  return width > 0 ? <rect x={from} y={top} width={width} height={bottom - top} fill={ink('text')} opacity={strong ? 0.13 : 0.05} /> : null;
}

interface PinsProps extends RateRulerProps {
  layout: RulerLayout;
  lane: number;
  bottom: number;
  open: number | null;
  onOpen: (group: number | null) => void;
  width: number;
}

function Pins({ layout: { groups, labels, top }, lanes, lane: laneSize, selected, onSelect, bottom, open, onOpen, width }: PinsProps) {
  return (
    <g>
      {groups.map((group, index) => {
        const isSelected = group.pins.some((pin) => pin.itemId === selected);
        const { row, middle } = labels[index]!;
        const labelY = top - LABELS_TO_LANES - row * LABEL_ROW;
        const choose = () => onSelect(group.pins[(group.pins.findIndex((pin) => pin.itemId === selected) + 1) % group.pins.length]!.itemId);
        return (
          <g key={group.pins[0]!.itemId}>
            <g
              role="button"
              tabIndex={0}
              aria-pressed={isSelected}
              aria-label={`${group.pins.map((pin) => pin.name).join(', ')}: ${formatNumber(group.pins[0]!.bytesPerSecond / MEGABYTE)} MB/s`}
              onClick={choose}
              onKeyDown={(event) => {
                if (event.key === 'Enter' || event.key === ' ') {
                  event.preventDefault();
                  choose();
                }
              }}
              onMouseEnter={() => onOpen(index)}
              onMouseLeave={() => onOpen(null)}
              style={{ cursor: 'pointer' }}
            >
              <line
                x1={group.x}
                x2={group.x}
                y1={labelY + 6}
                y2={bottom}
                stroke={ink(isSelected ? 'text' : 'second')}
                strokeWidth={isSelected ? 1.6 : 1}
                {...(isSelected ? {} : { strokeDasharray: '3 3' })}
              />
              <circle cx={group.x} cy={top - 9} r={4} fill={ink(isSelected ? 'text' : 'second')} />
              <text
                x={middle}
                y={labelY}
                textAnchor="middle"
                fill={ink('text')}
                fontWeight={isSelected ? 700 : 400}
                stroke={ink('page')}
                strokeWidth={5}
                paintOrder="stroke"
              >
                {groupText(group)}
              </text>
              <rect x={group.x - 8} y={labelY - 12} width={16} height={bottom - labelY} fill="transparent" />
            </g>
            {lanes.map((lane, laneIndex) =>
              group.pins.map((pin, pinIndex) => {
                const verdict = pin.verdicts[lane.driveId];
                if (!verdict) return null;
                const bar = barOf(pin.direction, laneSize);
                const y = top + laneIndex * laneSize + bar.y + bar.height / 2;
                return (
                  <g
                    key={`${lane.driveId} ${pin.itemId}`}
                    onClick={() => onSelect(pin.itemId, lane.driveId)}
                    style={{ cursor: 'pointer' }}
                    data-mark={verdict}
                    data-item={pin.itemId}
                  >
                    <VerdictMark verdict={verdict} x={group.x + pinIndex * 5} y={y} />
                  </g>
                );
              }),
            )}
            {open === index && group.pins.length > 1 && <OpenGroup group={group} top={top} width={width} />}
          </g>
        );
      })}
    </g>
  );
}

/** Row and middle of each pin's label: the lowest row in which it meets no other. */
function labelRows(labels: readonly { x: number; width: number }[], width: number): { row: number; middle: number }[] {
  const ends = new Array<number>(MOST_LABEL_ROWS).fill(-Infinity);
  return labels.map(({ x, width: labelWidth }) => {
    const middle = Math.min(width - labelWidth / 2, Math.max(NAMES + labelWidth / 2 - 60, x));
    const free = ends.findIndex((end) => end <= middle - labelWidth / 2);
    const row = free < 0 ? ends.indexOf(Math.min(...ends)) : free;
    ends[row] = middle + labelWidth / 2;
    return { row, middle };
  });
}

function OpenGroup({ group, top, width }: { group: PinGroup; top: number; width: number }) {
  const lines = group.pins.map((pin) => `${pin.name}, ${formatNumber(pin.bytesPerSecond / MEGABYTE)} MB/s`);
  const boxWidth = Math.max(...lines.map((line) => textWidth(line, LABEL_SIZE))) + 20;
  const x = Math.min(group.x + 10, width - boxWidth);
  const middles = placeLabels(
    lines.map(() => ({ wanted: 0, size: 18 })),
    0,
    lines.length * 18,
  );
  return (
    <g transform={`translate(${x} ${top + 4})`} pointerEvents="none">
      <rect width={boxWidth} height={lines.length * 18 + 12} rx={4} fill={ink('raised')} stroke={ink('rule')} />
      {lines.map((line, index) => (
        <text key={line} x={10} y={6 + middles[index]!} dy="0.35em" fill={ink('text')}>
          {line}
        </text>
      ))}
    </g>
  );
}

/** The edge of the selected pin's headroom, which can be dragged or moved with the arrow keys. */
function HeadroomHandle({ pins, selected, headroomShare, onHeadroom, x, bottom }: RateRulerProps & { x: PictureScale; bottom: number }) {
  const pin = pins.find((one) => one.itemId === selected);
  const handle = useRef<SVGGElement>(null);
  if (!pin) return null;
  const rate = pin.bytesPerSecond / MEGABYTE;
  const at = x(rate * (1 + headroomShare));
  const change = (share: number) => onHeadroom(Math.min(MOST_HEADROOM, Math.max(0, Math.round(share * 100) / 100)));
  const onMove = (event: PointerEvent<SVGGElement>) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const svg = handle.current!.ownerSVGElement!.getBoundingClientRect();
    change(x.invert(event.clientX - svg.left) / rate - 1);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 0.01, ArrowUp: 0.05, ArrowLeft: -0.01, ArrowDown: -0.05 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    change(headroomShare + step);
  };
  return (
    <g
      ref={handle}
      role="slider"
      tabIndex={0}
      aria-label="Headroom"
      aria-valuemin={0}
      aria-valuemax={MOST_HEADROOM * 100}
      aria-valuenow={Math.round(headroomShare * 100)}
      aria-valuetext={formatShare(headroomShare)}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={onMove}
      onKeyDown={onKeyDown}
      style={{ cursor: 'ew-resize', touchAction: 'none' }}
    >
      <rect x={at - 7} y={bottom - 12} width={14} height={24} fill="transparent" />
      <path d={`M${at} ${bottom}l5 8h-10z`} fill={ink('text')} />
    </g>
  );
}
