import { Line } from 'recharts';
import { linearSpan } from '#core/1-ground/axis-span.ts';
import { greatest, least } from '#core/1-ground/numbers/statistics.ts';
import { decibelText, formatNumber } from '#core/1-ground/units/format.ts';
import type { Loudness } from '#core/4-runs/run/loudness.ts';
import { ink } from '../theme/tokens.ts';
import { Chart, STILL } from './kit/Chart.tsx';
import { Marks } from './kit/Marks.tsx';
import { timeUnitFor } from './kit/units.ts';

export interface LoudnessPictureProps {
  loudness: Loudness;
  /** When data was moved, seconds since the run began. */
  movedSeconds: readonly [number, number];
  /** The level that stands at 0 where none is known, decibels in the levels' own scale, and when it was so. */
  zero: { level: number; when: string };
}

/** Smallest range of decibels drawn, so that an even sound looks even. */
const LEAST_RANGE = 12;

/** How loud it was over the time of a run, and when data was moved. */
export default function LoudnessPicture({ loudness, movedSeconds, zero }: LoudnessPictureProps) {
  const { fromSeconds, stepSeconds, levels, offsetDecibels } = loudness;
  const shift = offsetDecibels ?? -zero.level;
  const end = fromSeconds + levels.length * stepSeconds;
  const unit = timeUnitFor(end - fromSeconds);
  const data = levels.map((level, at) => ({
    x: (fromSeconds + (at + 0.5) * stepSeconds) / unit.seconds,
    level: level === null ? null : level + shift,
  }));
  const known = data.flatMap(({ level }) => (level === null ? [] : [level]));
  const low = least(known);
  const unitName = offsetDecibels === null ? 'dB' : 'dB(A)';
  return (
    <Chart
      label="How loud it was over the time of the run, A-weighted"
      height={150}
      plot={{ left: 62, right: 112, top: 30, bottom: 40 }}
      x={{
        span: linearSpan(Math.min(0, fromSeconds) / unit.seconds, end / unit.seconds, 7, false),
        format: formatNumber,
        title: `${unit.name} since the run began`,
      }}
      y={{
        span: linearSpan(low, Math.max(greatest(known), low + LEAST_RANGE), 3),
        format: formatNumber,
        title: offsetDecibels === null ? `dB, A-weighted, against ${zero.when}` : 'dB(A), where the microphone stood',
      }}
      readOut={(at) => {
        const level = data.find(({ x }) => x >= at)?.level ?? null;
        return [
          { text: `${formatNumber(at)} ${unit.short}` },
          { text: level === null ? 'not heard' : decibelText(level).replace('dB', unitName) },
        ];
      }}
    >
      <Marks at="behind">
        {({ x, left, right, top, bottom }) => {
          const [from, to] = movedSeconds.map((seconds) => Math.min(right, Math.max(left, x(seconds / unit.seconds))));
          return (
            <>
              <rect x={from} y={top} width={to! - from!} height={bottom - top} fill={ink('text')} fillOpacity={0.05} />
              <text x={to! - 6} y={top + 14} textAnchor="end" fill={ink('second')}>
                moving data
              </text>
            </>
          );
        }}
      </Marks>
      <Line {...STILL} data={data} dataKey="level" type="linear" stroke={ink('text')} strokeWidth={1.6} />
    </Chart>
  );
}
