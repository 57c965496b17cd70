import { useState } from 'react';
import { boxMark } from '#core/2-trade/drives/medium.ts';
import type { RateSpan } from '#core/4-runs/supply/evidence.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { ink } from '../../theme/tokens.ts';
import { LABEL_SIZE, textWidth } from '../kit/labels.ts';
import { RowName } from '../kit/RowsChart.tsx';
import { Picture } from './Picture.tsx';
import { pressable } from '../kit/pressable.ts';
import {
  AXIS,
  NAMES,
  RIGHT,
  barOf,
  layoutOf,
  type PinGroup,
  type RateRulerProps,
  type RulerLane,
  type RulerLayout,
} from './ruler-layout.ts';
import { HeadroomHandle, RulerPins } from './RulerPins.tsx';
import type { PictureScale } from '#core/1-ground/axis-span.ts';
import { HatchDefinition } from '../kit/verdict-marks.tsx';
import { MEGABYTE } from '../kit/units.ts';
import { HaloText } from '../kit/HaloText.tsx';
import { RulerAxis } from './RulerAxis.tsx';

/** Few lanes are drawn taller, many as low as they can be read. */
function laneHeight(lanes: number): number {
  return lanes <= 2 ? 64 : lanes <= 4 ? 50 : lanes <= 6 ? 40 : lanes <= 8 ? 32 : 24;
}

/** One logarithmic axis of rates: drives as lanes, items as pins that cross them all. */
export function RateRuler(props: RateRulerProps) {
  const lanes = Math.max(1, props.lanes.length);
  return (
    <Picture
      isInteractive
      label={`Rate ruler with ${props.lanes.length} drives and ${props.pins.length} items`}
      height={(width) => layoutOf(props, width).top + lanes * laneHeight(props.lanes.length) + AXIS}
    >
      {(width) => <Drawing {...props} width={width} layout={layoutOf(props, width)} />}
    </Picture>
  );
}

/** What the axis is; in a narrow window without what its bars are. */
const SHORT_TITLE = 'MB/s, logarithmic';
const TITLE = `${SHORT_TITLE}. Bars from worst second to opening, notch at the floor, or the median`;

function Drawing(props: RateRulerProps & { width: number; layout: RulerLayout }) {
  const { lanes, selected, headroomShare, currentDrive, onDrive, width } = props;
  const [open, setOpen] = useState<number | null>(null);
  const { x, groups, top } = props.layout;
  const lane = laneHeight(lanes.length);
  const bottom = top + Math.max(1, lanes.length) * lane;
  return (
    <>
      <HatchDefinition />
      <RulerAxis
        scale={x}
        format={formatNumber}
        title={width - RIGHT - textWidth(TITLE, LABEL_SIZE) > 0 ? TITLE : SHORT_TITLE}
        y={bottom}
        left={NAMES}
        right={width - RIGHT}
        top={top}
      />
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
      <RulerPins {...props} lane={lane} bottom={bottom} open={open} onOpen={setOpen} />
      <HeadroomHandle {...props} x={x} bottom={bottom} />
    </>
  );
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

/** Least height of a lane in which a line has room under the name. */
const TWO_LINES = 30;

function Lane({ lane, x, top, height, width, last, current, onChoose }: LaneProps) {
  const words =
    lane.spans === null
      ? 'reading its runs'
      : lane.spans.write === null && lane.spans.read === null
        ? (lane.otherRuns ?? 'no run that counts yet')
        : null;
  return (
    <g transform={`translate(0 ${top})`} data-lane={lane.driveId}>
      {!last && <line x1={0} x2={width - RIGHT} y1={height} y2={height} stroke={ink('grid')} />}
      <g {...pressable(null, current, onChoose)}>
        <title>{`${lane.label}${boxMark(lane.isPromise)}`}</title>
        <rect x={0} y={4} width={NAMES - 6} height={height - 8} fill={current ? ink('rail') : 'transparent'} />
        {current && <rect x={0} y={4} width={3} height={height - 8} fill={ink('text')} />}
        <RowName
          name={lane.label}
          right={NAMES - 16}
          y={height / 2}
          isFromBox={lane.isPromise && height >= TWO_LINES}
        />
      </g>
      {words !== null && (
        <text x={NAMES + 10} y={height / 2} dy="0.35em" fill={ink('second')}>
          {words}
        </text>
      )}
      {(['write', 'read'] as const).map((direction) => {
        const span = lane.spans?.[direction];
        return (
          span && <SpanBar key={direction} span={span} direction={direction} bar={barOf(direction, height)} x={x} />
        );
      })}
    </g>
  );
}

function SpanBar({
  span,
  direction,
  bar: { y, height },
  x,
}: {
  span: RateSpan;
  direction: Direction;
  bar: ReturnType<typeof barOf>;
  x: PictureScale;
}) {
  const at = (rate: number) => x(rate / MEGABYTE);
  const from = at(span.worstSecondBytesPerSecond);
  const to = Math.max(from + 3, at(span.openingBytesPerSecond));
  const notch = at(span.floorBytesPerSecond);
  const colour = ink(direction === 'write' ? 'writing' : 'reading');
  return (
    <g>
      <title>
        {`${direction === 'write' ? 'Writing' : 'Reading'}: worst second ${formatNumber(span.worstSecondBytesPerSecond / MEGABYTE)}, floor or median ${formatNumber(span.floorBytesPerSecond / MEGABYTE)}, opening ${formatNumber(span.openingBytesPerSecond / MEGABYTE)} MB/s`}
      </title>
      <rect
        x={from}
        y={y}
        width={to - from}
        height={height}
        fill={colour}
        opacity={0.38}
        {...(direction === 'read' ? { rx: 2 } : {})}
      />
      <line x1={notch} x2={notch} y1={y - 3} y2={y + height + 3} stroke={colour} strokeWidth={2.4} />
      <HaloText x={to + 7} y={y + height / 2} dy="0.35em" fill={ink('text')} fontSize={12} halo={3}>
        {formatNumber(span.floorBytesPerSecond / MEGABYTE)}
      </HaloText>
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
  return width > 0 ? (
    <rect x={from} y={top} width={width} height={bottom - top} fill={ink('text')} opacity={strong ? 0.13 : 0.05} />
  ) : null;
}
