import { useState, type MouseEvent } from 'react';
import { Line } from 'recharts';
import { formatNumber, formatShare } from '#core/1-ground/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { Chart, STILL } from './kit/Chart.tsx';
import { HaloText } from './kit/HaloText.tsx';
import { LABEL_SIZE, fitText, textWidth } from './kit/labels.ts';
import { Marks, type Plot } from './kit/Marks.tsx';
import { pressable } from './kit/pressable.ts';
import { linearSpan } from '#core/1-ground/axis-span.ts';

interface Dot {
  key: string;
  cost: number;
  margin: number;
}

/** A build on the efficient front. */
export interface FrontDot extends Dot {
  label: string;
}

export interface CostPictureProps {
  /** What the dots are, in the plural. */
  what: string;
  sample: readonly Dot[];
  front: readonly FrontDot[];
  /** The ones that are ruled out and tempt most, with the reason in their label. */
  ruledOut: readonly Omit<FrontDot, 'margin'>[];
  currency: string;
  selected: string | null;
  onSelect: (key: string) => void;
}

/** Height of the strip of those that are ruled out. */
const STRIP = 34;
/** Beyond twice of what is asked nobody looks. */
const MOST_MARGIN = 2;
/** A dot is meant from this near, pixels. */
const NEAR = 9;

/** Every feasible build by cost and by what it has to spare; those that no other beats are joined. */
export default function CostPicture(props: CostPictureProps) {
  const { what, sample, front, ruledOut, currency } = props;
  const shown = front.filter(({ margin }) => margin <= MOST_MARGIN * 1.5 || front.length < 4);
  const dots = shown.length > 0 ? shown : front;
  if (dots.length + ruledOut.length === 0) return null;
  const costs = [...dots, ...(dots.length < 2 ? ruledOut : [])].map(({ cost }) => cost);
  const highest = Math.max(...dots.map(({ margin }) => Math.min(margin, 3 * MOST_MARGIN)), 0.1);
  // What tempts is cheaper: the axis begins far enough to the left for the nearest of it.
  const least = Math.max(0.6 * Math.min(...costs), Math.min(...costs, ...ruledOut.map(({ cost }) => cost)));
  const x = linearSpan(least * 0.94, Math.max(...costs) * 1.04 + 1, 8);
  // A little below nothing, so that words find room under the lowest of them; and the strip below that.
  const strip = ruledOut.length > 0 ? 0.18 * highest : 0;
  const scale = linearSpan(-0.09 * highest - strip, 1.02 * highest, 6, false);
  const y = { ...scale, ticks: scale.ticks.filter((tick) => tick >= 0) };
  const isInside = ({ cost }: { cost: number }) => cost >= x.from && cost <= x.to;
  return (
    <Chart
      isInteractive
      label={`${front.length} efficient ${what} by cost and by what they have to spare`}
      plot={{ left: 62, right: 24, top: 36, bottom: 44 }}
      x={{ span: x, format: (cost) => formatNumber(cost, 'full'), title: currency }}
      y={{ span: y, format: (share) => formatShare(share), title: 'to spare, at least' }}
    >
      <Line
        {...STILL}
        data={dots.map(({ cost, margin }) => ({ x: cost, margin: Math.min(margin, highest) }))}
        dataKey="margin"
        type="linear"
        stroke={ink('text')}
        strokeWidth={1.4}
      />
      <Marks>
        {(plot) => (
          <Builds
            {...props}
            front={dots}
            sample={sample.filter((dot) => isInside(dot) && dot.margin <= y.to)}
            ruledOut={ruledOut.filter(isInside)}
            at={({ cost, margin }) => ({ x: plot.x(cost), y: plot.y(Math.min(margin, highest)) })}
            plot={plot}
          />
        )}
      </Marks>
    </Chart>
  );
}

/** Where a dot stands. */
interface At {
  x: number;
  y: number;
}

interface BuildsProps extends CostPictureProps {
  at: (dot: { cost: number; margin: number }) => At;
  plot: Plot;
}

/** The dots, those of the front to be chosen by keys too, and what is said of the one under the pointer. */
function Builds({ sample, front, ruledOut, currency, selected, onSelect, at, plot }: BuildsProps) {
  const [hovered, setHovered] = useState<{ text: string; at: At; isRuledOut: boolean } | null>(null);
  const { left, right, top, x } = plot;
  const stripAt = plot.bottom - STRIP / 2;
  const bottom = ruledOut.length > 0 ? plot.bottom - STRIP : plot.bottom;
  const nearest = (event: MouseEvent<SVGElement>): Dot | undefined => {
    const ground = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
    const away = (dot: Dot) =>
      Math.hypot(at(dot).x + ground.left - event.clientX, at(dot).y + ground.top - event.clientY);
    const near = sample.reduce<Dot | undefined>(
      (best, dot) => (best && away(best) <= away(dot) ? best : dot),
      undefined,
    );
    return near && away(near) <= NEAR ? near : undefined;
  };
  return (
    <>
      <rect
        x={left}
        y={top}
        width={Math.max(0, right - left)}
        height={Math.max(0, bottom - top)}
        fill="transparent"
        onMouseMove={(event) => {
          const dot = nearest(event);
          setHovered(
            dot
              ? {
                  text: `${formatNumber(dot.cost, 'full')} ${currency}, ${formatShare(dot.margin)} to spare`,
                  at: at(dot),
                  isRuledOut: false,
                }
              : null,
          );
        }}
        onMouseLeave={() => setHovered(null)}
        onClick={(event) => {
          const dot = nearest(event);
          if (dot) onSelect(dot.key);
        }}
      />
      {sample.map((dot, index) => (
        <circle
          key={index}
          cx={at(dot).x}
          cy={at(dot).y}
          r={dot.key === selected ? 4 : 1.8}
          fill={ink(dot.key === selected ? 'text' : 'second')}
          fillOpacity={dot.key === selected ? 1 : 0.45}
          pointerEvents="none"
        />
      ))}
      {front.map((dot) => (
        <g key={dot.key} data-front={dot.key} {...pressable(dot.label, dot.key === selected, () => onSelect(dot.key))}>
          <title>{dot.label}</title>
          <rect x={at(dot).x - 12} y={at(dot).y - 12} width={24} height={24} fill="transparent" />
          <path
            d={`M${at(dot).x} ${at(dot).y - 6}l6 6l-6 6l-6 -6Z`}
            fill={dot.key === selected ? ink('text') : ink('page')}
            stroke={ink('text')}
            strokeWidth={1.6}
          />
          {dot.key === selected && (
            <DotWords text={dot.label} at={at(dot)} left={left} right={right} bottom={bottom} isBold />
          )}
        </g>
      ))}
      {ruledOut.length > 0 && (
        <RuledOut
          marks={ruledOut}
          selected={selected}
          onSelect={onSelect}
          onHover={(text, from) =>
            setHovered(text === null ? null : { text, at: { x: from, y: stripAt - 16 }, isRuledOut: true })
          }
          isHovered={hovered?.isRuledOut ?? false}
          x={x}
          y={stripAt}
          left={left}
          right={right}
        />
      )}
      {hovered && (
        <g pointerEvents="none" data-read-out="">
          <DotWords
            text={hovered.text}
            at={hovered.at}
            left={left}
            right={right}
            bottom={hovered.isRuledOut ? Infinity : bottom}
          />
        </g>
      )}
    </>
  );
}

interface DotWordsProps {
  text: string;
  at: At;
  left: number;
  right: number;
  bottom: number;
  isBold?: boolean;
}

/** Words at a dot, on the side on which there is room. */
function DotWords({ text, at, left, right, bottom, isBold = false }: DotWordsProps) {
  const size = textWidth(text, LABEL_SIZE, isBold) + 12;
  const isAfter = at.x + size < right;
  const isBefore = !isAfter && at.x - size > left;
  return (
    <HaloText
      x={isAfter ? at.x + 12 : isBefore ? at.x - 12 : right}
      y={at.y + 20 > bottom ? at.y - 12 : at.y + 18}
      textAnchor={isAfter ? 'start' : 'end'}
      fill={ink('text')}
      fontWeight={isBold ? 700 : 400}
    >
      {fitText(text, LABEL_SIZE, right - left - 20, isBold)}
    </HaloText>
  );
}

interface RuledOutProps {
  marks: readonly Omit<FrontDot, 'margin'>[];
  selected: string | null;
  onSelect: (key: string) => void;
  onHover: (text: string | null, x: number) => void;
  /** Whether the words of one of them stand in the strip. */
  isHovered: boolean;
  x: (cost: number) => number;
  y: number;
  left: number;
  right: number;
}

/** The ones that are ruled out and tempt most, by their cost, under those that may be built. */
function RuledOut({ marks, selected, onSelect, onHover, isHovered, x, y, left, right }: RuledOutProps) {
  return (
    <>
      {!isHovered && (
        <text x={right} y={y + 2} textAnchor="end" fill={ink('second')}>
          ruled out, the most tempting
        </text>
      )}
      <line x1={left} x2={right} y1={y + 8} y2={y + 8} stroke={ink('grid')} />
      {marks.map(({ key, label, cost }) => (
        <g
          key={key}
          data-ruled-out={key}
          {...pressable(label, key === selected, () => onSelect(key))}
          onMouseEnter={() => onHover(label, x(cost))}
          onMouseLeave={() => onHover(null, 0)}
          onFocus={() => onHover(label, x(cost))}
          onBlur={() => onHover(null, 0)}
        >
          <rect x={x(cost) - 12} y={y - 12} width={24} height={26} fill="transparent" />
          <path
            d={`M${x(cost)} ${y - 7}v5m0 4v6`}
            stroke={ink('breaks')}
            strokeWidth={key === selected ? 5 : 3}
            fill="none"
          />
        </g>
      ))}
    </>
  );
}
