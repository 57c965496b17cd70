import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { formatNumber, formatShare } from '#core/1-ground/units/format.ts';
import { ink } from '../../theme/tokens.ts';
import { placeLabels } from '#core/1-ground/place-labels.ts';
import { LABEL_SIZE, textWidth } from '../kit/labels.ts';
import { pressable } from '../kit/pressable.ts';
import {
  LABEL_ROW,
  LABELS_TO_LANES,
  MOST_HEADROOM,
  barOf,
  groupText,
  type PinGroup,
  type RateRulerProps,
  type RulerLayout,
} from './ruler-layout.ts';
import type { PictureScale } from '#core/1-ground/axis-span.ts';
import { VerdictMark } from '../kit/verdict-marks.tsx';
import { MEGABYTE } from '../kit/units.ts';
import { HaloText } from '../kit/HaloText.tsx';

interface PinsProps extends RateRulerProps {
  layout: RulerLayout;
  lane: number;
  bottom: number;
  open: number | null;
  onOpen: (group: number | null) => void;
  width: number;
}

/** Pins with their labels above, and the mark of the verdict on each lane they cross. */
export function RulerPins({
  layout: { groups, labels, top },
  lanes,
  lane: laneSize,
  selected,
  onSelect,
  bottom,
  open,
  onOpen,
  width,
}: PinsProps) {
  return (
    <g>
      {groups.map((group, index) => {
        const isSelected = group.pins.some((pin) => pin.itemId === selected);
        const { row, middle } = labels[index]!;
        const labelY = top - LABELS_TO_LANES - row * LABEL_ROW;
        const choose = () =>
          onSelect(
            group.pins[(group.pins.findIndex((pin) => pin.itemId === selected) + 1) % group.pins.length]!.itemId,
          );
        const words = `${group.pins.map((pin) => pin.name).join(', ')}: ${formatNumber(group.pins[0]!.bytesPerSecond / MEGABYTE)} MB/s`;
        return (
          <g key={group.pins[0]!.itemId}>
            <g
              {...pressable(null, isSelected, choose)}
              onMouseEnter={() => onOpen(index)}
              onMouseLeave={() => onOpen(null)}
            >
              <title>{words}</title>
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
              <HaloText
                x={middle}
                y={labelY}
                textAnchor="middle"
                fill={ink('text')}
                fontWeight={isSelected ? 700 : 400}
                halo={5}
              >
                {groupText(group)}
              </HaloText>
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
export function HeadroomHandle({
  pins,
  selected,
  headroomShare,
  onHeadroom,
  x,
  bottom,
}: RateRulerProps & { x: PictureScale; bottom: number }) {
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
