import { greatest, least } from '#core/1-ground/numbers/statistics.ts';
import type { Pass } from '#core/4-runs/trace/passes.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { ink } from '../../theme/tokens.ts';
import { DIRECTION_STYLE } from '../kit/direction-style.ts';
import type { Plot } from '../kit/Marks.tsx';
import { STRIP } from './trace-layout.ts';
import { MEGABYTE } from '../kit/units.ts';

export interface PassStripProps {
  passes: readonly Pass[];
  apart: ReadonlySet<Pass>;
  /** Of the trace, whose axis of rates in MB/s it shares. */
  plot: Plot;
}

/** Passes drawn at most; of more, the newest. */
const MOST_PASSES = 24;

/** A dot for each pass with whiskers from its slowest to its fastest moment. */
export function PassStrip({ passes, apart, plot: { y, bottom, right: edge } }: PassStripProps) {
  const [left, right] = [edge + 14, edge + STRIP - 8];
  const newest = greatest(passes.map((pass) => pass.pass));
  const shown = passes.filter((pass) => pass.pass > newest - MOST_PASSES);
  const first = least(shown.map((pass) => pass.pass));
  const step = (right - left) / Math.max(3, newest - first + 1);
  return (
    <g>
      <text x={(left + right) / 2} y={bottom + 18} textAnchor="middle" fill={ink('second')}>
        {first === newest ? 'pass' : `passes ${first} – ${newest}`}
      </text>
      {shown.map((pass) => {
        const { colour } = DIRECTION_STYLE[pass.direction];
        const x = left + (pass.pass - first + 0.5) * step + (pass.direction === 'write' ? -2.5 : 2.5);
        let [low, high] = [Infinity, 0];
        for (const { bytesPerSecond } of pass.intervals) {
          low = Math.min(low, bytesPerSecond);
          high = Math.max(high, bytesPerSecond);
        }
        const at = y(pass.bytesPerSecond / MEGABYTE);
        return (
          <g
            key={`${pass.pass} ${pass.direction}`}
            stroke={colour}
            fill={pass.direction === 'write' ? colour : ink('page')}
            opacity={apart.has(pass) ? 0.4 : 1}
          >
            <title>{`Pass ${pass.pass}, ${DIRECTION_STYLE[pass.direction].name}: ${formatNumber(pass.bytesPerSecond / MEGABYTE)} MB/s`}</title>
            <line x1={x} x2={x} y1={y(low / MEGABYTE)} y2={y(high / MEGABYTE)} strokeWidth={1.2} />
            {pass.direction === 'write' ? (
              <circle cx={x} cy={at} r={3.4} strokeWidth={0} />
            ) : (
              <path d={`M${x} ${at - 4.4}l4.4 4.4l-4.4 4.4l-4.4 -4.4z`} strokeWidth={1.5} />
            )}
          </g>
        );
      })}
    </g>
  );
}
