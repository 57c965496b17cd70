import { daysAWeekText, type Days } from '#core/5-answers/sizing/calendar.ts';
import type { Material } from '#core/5-answers/sizing/material.ts';
import { ink } from '../../theme/tokens.ts';
import { LABEL_SIZE, fitText } from '../kit/labels.ts';
import type { ChartScale } from '#core/1-ground/axis-span.ts';

/** Height of the line of one material's days under the axis. */
export const LIFE_ROW = 17;

export interface MaterialLifeProps {
  material: Material;
  days: number;
  x: ChartScale;
  y: number;
  right: number;
  /** Pixels beside the plot for words. */
  room: number;
  onKeep: (keepDays: number | null) => void;
  onDays: (days: Days) => void;
}

/** The days on which a material comes, and those for which it is kept; their ends are moved by hand or by arrow keys. */
export function MaterialLife({ material, days, x, y, right, room, onKeep, onDays }: MaterialLifeProps) {
  const { name, fromDay, toDay, keepDays, daysAWeek } = material;
  const last = Math.min(days, toDay);
  const end = keepDays === null ? days : Math.min(days, toDay + keepDays);
  const isOnce = fromDay === toDay;
  const kept = keepDays === null ? 'kept to the end' : `kept ${keepDays} days`;
  // Those of a part of the project stand above it.
  const words = [...(material.during === null ? daysAWeekText(daysAWeek) : []), kept].join(', ');
  return (
    <>
      <line x1={x(last)} x2={x(end)} y1={y} y2={y} stroke={ink('second')} strokeDasharray="4 3" />
      <line x1={x(fromDay - 1)} x2={x(last)} y1={y} y2={y} stroke={ink('text')} strokeWidth={2.4} />
      <text x={right + 12} y={y} dy="0.35em" fill={ink('second')}>
        {fitText(`${name}, ${words}`, LABEL_SIZE, room - 16)}
      </text>
      {isOnce ? (
        <DayHandle
          mark="diamond"
          data={`once ${name}`}
          label={`${name}: day it comes`}
          day={fromDay}
          least={1}
          most={days}
          words={`day ${fromDay}`}
          at={x(fromDay - 0.5)}
          y={y}
          x={x}
          onDay={(day) => onDays({ fromDay: day, toDay: day })}
        />
      ) : (
        <>
          <DayHandle
            mark="from"
            data={`from ${name}`}
            label={`${name}: first day`}
            day={fromDay}
            least={1}
            most={toDay - 1}
            words={`day ${fromDay}`}
            at={x(fromDay - 1)}
            y={y}
            x={x}
            // The handle is at the beginning of its day.
            offset={1}
            onDay={(day) => onDays({ fromDay: day, toDay })}
          />
          <DayHandle
            mark="to"
            data={`to ${name}`}
            label={`${name}: last day it comes`}
            day={toDay}
            least={fromDay + 1}
            most={days}
            words={`day ${toDay}`}
            at={x(last)}
            y={y}
            x={x}
            onDay={(day) => onDays({ fromDay, toDay: day })}
          />
        </>
      )}
      <DayHandle
        mark="end"
        data={name}
        label={`${name}: last day it is kept`}
        day={end}
        least={last}
        most={days}
        words={words}
        at={x(end)}
        y={y}
        x={x}
        onDay={(day) => onKeep(day >= days ? null : day - toDay)}
      />
    </>
  );
}

type Mark = 'from' | 'to' | 'end' | 'diamond';

/** Shapes of handles around (0, 0): where coming begins and ends, a single day, and the end of keeping. */
const MARKS: Record<Mark, string> = {
  from: 'M3 -5H-0.5V5H3',
  to: 'M-3 -5H0.5V5H-3',
  diamond: 'M0 -5.5L5.5 0L0 5.5L-5.5 0Z',
  end: 'M-3 -6H3V6H-3Z',
};

interface DayHandleProps {
  mark: Mark;
  data: string;
  label: string;
  day: number;
  least: number;
  most: number;
  words: string;
  at: number;
  y: number;
  x: ChartScale;
  /** Days that the handle stands before the day it means. */
  offset?: number;
  onDay: (day: number) => void;
}

/** A day that is moved along the axis, by hand or by arrow keys. */
function DayHandle({ mark, data, label, day, least, most, words, at, y, x, offset = 0, onDay }: DayHandleProps) {
  const move = (to: number) => {
    const next = Math.max(least, Math.min(most, Math.round(to)));
    if (next !== day) onDay(next);
  };
  const isFilled = mark === 'end' || mark === 'diamond';
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={least}
      aria-valuemax={most}
      aria-valuenow={day}
      aria-valuetext={words}
      data-keep={data}
      transform={`translate(${at} ${y})`}
      style={{ cursor: 'ew-resize', touchAction: 'none' }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        const { left } = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
        move(x.invert(event.clientX - left) + offset);
      }}
      onKeyDown={(event) => {
        if (event.key === 'ArrowLeft') move(day - 1);
        else if (event.key === 'ArrowRight') move(day + 1);
        else return;
        event.preventDefault();
      }}
    >
      <rect x={-9} y={-LIFE_ROW / 2} width={18} height={LIFE_ROW} fill="transparent" />
      <path
        d={MARKS[mark]}
        fill={isFilled ? ink('text') : 'none'}
        stroke={ink('text')}
        strokeWidth={isFilled ? 0 : 1.6}
      />
    </g>
  );
}
