import { greatest } from '#core/1-ground/numbers/statistics.ts';
import { Area } from 'recharts';
import type { BacklogCurve } from '#core/5-answers/verdict/backlog-curve.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { byteUnit, bytesText, formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { Chart, STILL } from './kit/Chart.tsx';
import type { ReadOutLine } from './kit/Cursor.tsx';
import { DIRECTION_STYLE, directionLine } from './kit/direction-style.ts';
import { HaloText } from './kit/HaloText.tsx';
import { LABEL_SIZE, textWidth } from './kit/labels.ts';
import { Marks, type Plot } from './kit/Marks.tsx';
import { linearSpan } from '#core/1-ground/axis-span.ts';
import { timeUnitFor } from './kit/units.ts';
import { HATCH, HatchDefinition, VerdictMark } from './kit/verdict-marks.tsx';

export interface BacklogPictureProps {
  curve: BacklogCurve;
  direction: Direction;
  takeSeconds: number;
  bufferBytes: number;
  breaksAtSeconds: number | null;
}

/** What waits in the buffer over the take, against what the buffer holds. */
export default function BacklogPicture({
  curve,
  direction,
  takeSeconds,
  bufferBytes,
  breaksAtSeconds,
}: BacklogPictureProps) {
  const peak = greatest(curve.bytes);
  // Beyond the break it no longer matters how much would wait: the picture is about the buffer.
  const top = Math.max(1, bufferBytes * 1.35, Math.min(peak * 1.1, bufferBytes * 3));
  const shown = breaksAtSeconds === null ? takeSeconds : Math.min(takeSeconds, breaksAtSeconds * 1.6 + 1);
  const time = timeUnitFor(shown);
  const { unit, bytes } = byteUnit(top);
  const data = curve.seconds.map((second, index) => ({
    x: second / time.seconds,
    waiting: curve.bytes[index]! / bytes,
  }));
  const endSeconds = curve.seconds.at(-1)!;
  const isOpen = breaksAtSeconds === null && endSeconds < shown * 0.995;
  const { continuedFromSeconds: continued } = curve;
  return (
    <Chart
      label={`Backlog over ${formatDuration(takeSeconds)}: at most ${bytesText(peak)} waiting, the buffer holds ${bytesText(bufferBytes)}`}
      plot={{ left: 58, right: 30, top: 34, bottom: 42 }}
      x={{
        span: linearSpan(0, shown / time.seconds, 9, false),
        format: formatNumber,
        title: `${time.name} of the take`,
      }}
      y={{
        span: linearSpan(0, top / bytes, 4, false),
        format: formatNumber,
        title: direction === 'write' ? `${unit} waiting to be written` : `${unit} behind what is shown`,
      }}
      readOut={(at) => backlogLines(curve, at * time.seconds)}
    >
      <Area
        {...STILL}
        {...directionLine(direction)}
        data={data}
        dataKey="waiting"
        type="linear"
        strokeWidth={1.8}
        fill={DIRECTION_STYLE[direction].colour}
        fillOpacity={0.16}
      />
      <Marks>
        {(plot) => {
          const toX = (seconds: number) => plot.x(seconds / time.seconds);
          const level = plot.y(bufferBytes / bytes);
          return (
            <>
              {continued !== null && continued < shown && (
                <g>
                  <line
                    x1={toX(continued)}
                    x2={toX(continued)}
                    y1={plot.top}
                    y2={plot.bottom}
                    stroke={ink('second')}
                    strokeDasharray="2 4"
                  />
                  <HaloText x={toX(continued) + 6} y={plot.bottom - 8} fill={ink('second')}>
                    floor taken to go on
                  </HaloText>
                </g>
              )}
              {isOpen && <NotProven seconds={endSeconds} from={toX(endSeconds)} plot={plot} level={level} />}
              <line x1={plot.left} x2={plot.right} y1={level} y2={level} stroke={ink('text')} strokeWidth={1.4} />
              <HaloText x={plot.right} y={level - 7} textAnchor="end" fill={ink('text')}>
                the buffer holds {bytesText(bufferBytes)}
              </HaloText>
              {breaksAtSeconds !== null && breaksAtSeconds <= shown && (
                <g transform={`translate(${toX(breaksAtSeconds)} ${level})`}>
                  <VerdictMark verdict="breaks" x={0} y={0} />
                  <HaloText x={-10} y={18} textAnchor="end" fontWeight={650} fill={ink('breaks')}>
                    breaks after {formatDuration(breaksAtSeconds)}
                  </HaloText>
                </g>
              )}
            </>
          );
        }}
      </Marks>
    </Chart>
  );
}

interface NotProvenProps {
  /** Of the take, after which the run ends. */
  seconds: number;
  from: number;
  plot: Plot;
  /** Height of what the buffer holds. */
  level: number;
}

/** What the run does not show, and that it ended: in the middle of it, or at its right edge where it is narrow. */
function NotProven({ seconds, from, plot: { top, bottom, right }, level }: NotProvenProps) {
  const words = `not proven: the run ends after ${formatDuration(seconds)} of the take`;
  const isNarrow = textWidth(words, LABEL_SIZE) > right - from;
  return (
    <g>
      <HatchDefinition />
      <rect x={from} y={top} width={right - from} height={bottom - top} fill={`url(#${HATCH})`} opacity={0.35} />
      <HaloText
        x={isNarrow ? right : (from + right) / 2}
        y={(level + bottom) / 2}
        textAnchor={isNarrow ? 'end' : 'middle'}
        fill={ink('text')}
        halo={6}
      >
        {words}
      </HaloText>
    </g>
  );
}

/** What waits at a moment of the take. */
function backlogLines(curve: BacklogCurve, seconds: number): ReadOutLine[] {
  const bytes = curve.bytes[curve.seconds.findIndex((one) => one >= seconds)];
  return [
    { text: `after ${formatDuration(seconds)}` },
    { text: bytes === undefined ? 'not proven' : `${bytesText(bytes)} waiting` },
  ];
}
