import { formatNumber, formatShare } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { HaloText } from './kit/HaloText.tsx';
import { LABEL_SIZE, Picture } from './kit/Picture.tsx';
import { fitText, textWidth } from './kit/labels.ts';
import { linearScale } from './kit/scale.ts';

/** A build on the efficient front. */
export interface FrontDot {
  key: string;
  label: string;
  cost: number;
  margin: number;
}

interface CostPictureProps {
  sample: readonly { cost: number; margin: number }[];
  front: readonly FrontDot[];
  currency: string;
  selected: string | null;
  onSelect: (key: string) => void;
}

const PLOT = { left: 62, right: 24, top: 36, bottom: 44 };
/** Beyond twice of what is asked nobody looks. */
const MOST_MARGIN = 2;

/** Every feasible build by cost and by what it has to spare; those that no other beats are joined. */
export function CostPicture(props: CostPictureProps) {
  return (
    <Picture isInteractive label={`${props.front.length} efficient builds by cost and by what they have to spare`}>
      {(width, height) => <Drawing {...props} width={width} height={height} />}
    </Picture>
  );
}

function Drawing({
  sample,
  front,
  currency,
  selected,
  onSelect,
  width,
  height,
}: CostPictureProps & { width: number; height: number }) {
  const shown = front.filter(({ margin }) => margin <= MOST_MARGIN * 1.5 || front.length < 4);
  const dots = shown.length > 0 ? shown : front;
  if (dots.length === 0 || height < 120) return null;
  const [left, right, top, bottom] = [PLOT.left, width - PLOT.right, PLOT.top, height - PLOT.bottom];
  const costs = dots.map(({ cost }) => cost);
  const highest = Math.max(...dots.map(({ margin }) => Math.min(margin, 3 * MOST_MARGIN)), 0.1);
  const x = linearScale(Math.min(...costs) * 0.94, Math.max(...costs) * 1.04 + 1, [left, right], 8);
  const y = linearScale(0, highest, [bottom, top], 6);
  const inside = sample.filter(({ cost, margin }) => x(cost) <= right && x(cost) >= left && margin <= y.invert(top));
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
        y={bottom}
        left={left}
        right={right}
      />
      {inside.map(({ cost, margin }, index) => (
        <circle key={index} cx={x(cost)} cy={y(margin)} r={1.8} fill={ink('second')} fillOpacity={0.45} />
      ))}
      <path
        d={dots
          .map(({ cost, margin }, index) => `${index === 0 ? 'M' : 'L'}${x(cost)} ${y(Math.min(margin, highest))}`)
          .join('')}
        fill="none"
        stroke={ink('text')}
        strokeWidth={1.4}
      />
      {dots.map(({ key, label, cost, margin }) => {
        const isSelected = key === selected;
        const at = { x: x(cost), y: y(Math.min(margin, highest)) };
        const isLeft = at.x + textWidth(label, LABEL_SIZE, true) + 12 < right;
        return (
          <g
            key={key}
            role="button"
            tabIndex={0}
            aria-label={label}
            aria-pressed={isSelected}
            data-front={key}
            onClick={() => onSelect(key)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') onSelect(key);
            }}
            style={{ cursor: 'pointer' }}
          >
            <rect x={at.x - 12} y={at.y - 12} width={24} height={24} fill="transparent" />
            <path
              d={`M${at.x} ${at.y - 6}l6 6l-6 6l-6 -6Z`}
              fill={isSelected ? ink('text') : ink('page')}
              stroke={ink('text')}
              strokeWidth={1.6}
            />
            {isSelected && (
              <HaloText
                x={isLeft ? at.x + 12 : at.x - 12}
                y={at.y + 18}
                textAnchor={isLeft ? 'start' : 'end'}
                fill={ink('text')}
                fontWeight={700}
              >
                {fitText(label, LABEL_SIZE, right - left - 20, true)}
              </HaloText>
            )}
          </g>
        );
      })}
    </>
  );
}
