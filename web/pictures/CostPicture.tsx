import { useState, type MouseEvent } from 'react';
import { formatNumber, formatShare } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { HaloText } from './kit/HaloText.tsx';
import { LABEL_SIZE, Picture } from './kit/Picture.tsx';
import { fitText, textWidth } from './kit/labels.ts';
import { pressable } from './kit/pressable.ts';
import { linearScale, type PictureScale } from './kit/scale.ts';

interface Dot {
  key: string;
  cost: number;
  margin: number;
}

/** A build on the efficient front. */
export interface FrontDot extends Dot {
  label: string;
}

interface CostPictureProps {
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

const PLOT = { left: 62, right: 24, top: 36, bottom: 44 };
/** Height of the strip of those that are ruled out. */
const STRIP = 34;
/** Beyond twice of what is asked nobody looks. */
const MOST_MARGIN = 2;
/** A dot is meant from this near, pixels. */
const NEAR = 9;

/** Every feasible build by cost and by what it has to spare; those that no other beats are joined. */
export function CostPicture(props: CostPictureProps) {
  return (
    <Picture
      isInteractive
      label={`${props.front.length} efficient ${props.what} by cost and by what they have to spare`}
    >
      {(width, height) => <Drawing {...props} width={width} height={height} />}
    </Picture>
  );
}

/** Where a dot stands. */
interface At {
  x: number;
  y: number;
}

function Drawing({
  sample,
  front,
  ruledOut,
  currency,
  selected,
  onSelect,
  width,
  height,
}: CostPictureProps & { width: number; height: number }) {
  const [hovered, setHovered] = useState<{ text: string; at: At; isRuledOut: boolean } | null>(null);
  const shown = front.filter(({ margin }) => margin <= MOST_MARGIN * 1.5 || front.length < 4);
  const dots = shown.length > 0 ? shown : front;
  const strip = ruledOut.length > 0 ? STRIP : 0;
  if (dots.length + ruledOut.length === 0 || height < 160) return null;
  const [left, right, top] = [PLOT.left, width - PLOT.right, PLOT.top];
  const [bottom, stripAt] = [height - PLOT.bottom - strip, height - PLOT.bottom - strip / 2];
  const costs = [...dots, ...(dots.length < 2 ? ruledOut : [])].map(({ cost }) => cost);
  const highest = Math.max(...dots.map(({ margin }) => Math.min(margin, 3 * MOST_MARGIN)), 0.1);
  // What tempts is cheaper: the axis begins far enough to the left for the nearest of it.
  const least = Math.max(0.6 * Math.min(...costs), Math.min(...costs, ...ruledOut.map(({ cost }) => cost)));
  const x = linearScale(least * 0.94, Math.max(...costs) * 1.04 + 1, [left, right], 8);
  // A little below nothing, so that words find room under the lowest of them.
  const y = linearScale(-0.09 * highest, 1.02 * highest, [bottom, top], 6, false);
  const inside = sample.filter(({ cost, margin }) => x(cost) <= right && x(cost) >= left && margin <= y.invert(top));
  const at = ({ cost, margin }: { cost: number; margin: number }): At => ({
    x: x(cost),
    y: y(Math.min(margin, highest)),
  });
  const nearest = (event: MouseEvent<SVGElement>): Dot | undefined => {
    const { offsetX, offsetY } = event.nativeEvent;
    const away = (dot: Dot) => Math.hypot(at(dot).x - offsetX, at(dot).y - offsetY);
    const near = inside.reduce<Dot | undefined>(
      (best, dot) => (best && away(best) <= away(dot) ? best : dot),
      undefined,
    );
    return near && away(near) <= NEAR ? near : undefined;
  };
  return (
    <>
      <LeftAxis
        scale={y}
        format={(share) => formatShare(share)}
        title="to spare, at least"
        left={left}
        right={right}
        top={top}
      />
      <BottomAxis
        scale={x}
        format={(cost) => formatNumber(cost, 'full')}
        title={currency}
        y={bottom + strip}
        left={left}
        right={right}
      />
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
      {inside.map((dot, index) => (
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
      <path
        d={dots.map((dot, index) => `${index === 0 ? 'M' : 'L'}${at(dot).x} ${at(dot).y}`).join('')}
        fill="none"
        stroke={ink('text')}
        strokeWidth={1.4}
        pointerEvents="none"
      />
      {dots.map((dot) => (
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
      {strip > 0 && (
        <RuledOut
          marks={ruledOut.filter(({ cost }) => x(cost) >= left && x(cost) <= right)}
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
            bottom={hovered.isRuledOut ? height : bottom}
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
  x: PictureScale;
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
