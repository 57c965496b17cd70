import type { BacklogCurve } from '#core/verdict/backlog-curve.ts';
import { byteUnit, bytesText, formatDuration, formatNumber } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, RateAxis } from './Axis.tsx';
import { Picture } from './Picture.tsx';
import { linearScale } from './scale.ts';
import { HATCH, HatchDefinition } from './verdict-marks.tsx';

interface BacklogPictureProps {
  curve: BacklogCurve;
  direction: 'write' | 'read';
  takeSeconds: number;
  bufferBytes: number;
  breaksAtSeconds: number | null;
}

const LEFT = 58;
const TOP = 34;
const BOTTOM = 42;
const RIGHT = 30;

/** What waits in the buffer over the take, against what the buffer holds. */
export function BacklogPicture(props: BacklogPictureProps) {
  const peak = Math.max(...props.curve.bytes);
  return (
    <Picture
      label={`Backlog over ${formatDuration(props.takeSeconds)}: at most ${bytesText(peak)} waiting, the buffer holds ${bytesText(props.bufferBytes)}`}
    >
      {(width, height) => <Drawing {...props} width={width} height={height} />}
    </Picture>
  );
}

function Drawing({
  curve,
  direction,
  takeSeconds,
  bufferBytes,
  breaksAtSeconds,
  width,
  height,
}: BacklogPictureProps & { width: number; height: number }) {
  const bottom = height - BOTTOM;
  // Beyond the break it no longer matters how much would wait: the picture is about the buffer.
  const peak = Math.max(...curve.bytes);
  const top = Math.max(1, bufferBytes * 1.35, Math.min(peak * 1.1, bufferBytes * 3));
  const shown = breaksAtSeconds === null ? takeSeconds : Math.min(takeSeconds, breaksAtSeconds * 1.6 + 1);
  const isMinutes = shown > 180;
  const { unit, bytes: factor } = byteUnit(top);
  const y = linearScale(0, top / factor, [bottom, TOP], 4, false);
  const x = linearScale(0, shown / (isMinutes ? 60 : 1), [LEFT, width - RIGHT], 9, false);
  const toX = (seconds: number) => x(seconds / (isMinutes ? 60 : 1));
  const toY = (bytes: number) => Math.max(TOP, y(bytes / factor));
  const points = curve.seconds.flatMap((second, index) =>
    second <= shown * 1.001 ? [`${toX(second).toFixed(1)} ${toY(curve.bytes[index]!).toFixed(1)}`] : [],
  );
  const colour = ink(direction === 'write' ? 'writing' : 'reading');
  const last = points.at(-1)?.split(' ')[0] ?? String(LEFT);
  const level = toY(bufferBytes);
  const endSeconds = curve.seconds.at(-1)!;
  const title = direction === 'write' ? `${unit} waiting to be written` : `${unit} behind what is shown`;
  return (
    <>
      <RateAxis scale={y} format={formatNumber} title={title} left={LEFT} right={width - RIGHT} top={TOP} />
      <path d={`M${LEFT} ${bottom}L${points.join('L')}L${last} ${bottom}Z`} fill={colour} opacity={0.16} />
      <path
        d={`M${points.join('L')}`}
        fill="none"
        stroke={colour}
        strokeWidth={1.8}
        {...(direction === 'read' ? { strokeDasharray: '7 4' } : {})}
      />
      {curve.continuedFromSeconds !== null && curve.continuedFromSeconds < shown && (
        <g>
          <line
            x1={toX(curve.continuedFromSeconds)}
            x2={toX(curve.continuedFromSeconds)}
            y1={TOP}
            y2={bottom}
            stroke={ink('second')}
            strokeDasharray="2 4"
          />
          <text
            x={toX(curve.continuedFromSeconds) + 6}
            y={bottom - 8}
            fill={ink('second')}
            stroke={ink('page')}
            strokeWidth={4}
            paintOrder="stroke"
          >
            floor taken to go on
          </text>
        </g>
      )}
      {breaksAtSeconds === null && endSeconds < shown * 0.995 && (
        <g>
          <HatchDefinition />
          <rect
            x={toX(endSeconds)}
            y={TOP}
            width={width - RIGHT - toX(endSeconds)}
            height={bottom - TOP}
            fill={`url(#${HATCH})`}
            opacity={0.35}
          />
          <text
            x={(toX(endSeconds) + width - RIGHT) / 2}
            y={(level + bottom) / 2}
            textAnchor="middle"
            fill={ink('text')}
            stroke={ink('page')}
            strokeWidth={6}
            paintOrder="stroke"
          >
            not proven: the run ends after {formatDuration(endSeconds)} of the take
          </text>
        </g>
      )}
      <line x1={LEFT} x2={width - RIGHT} y1={level} y2={level} stroke={ink('text')} strokeWidth={1.4} />
      <text
        x={width - RIGHT}
        y={level - 7}
        textAnchor="end"
        fill={ink('text')}
        stroke={ink('page')}
        strokeWidth={4}
        paintOrder="stroke"
      >
        the buffer holds {bytesText(bufferBytes)}
      </text>
      {breaksAtSeconds !== null && breaksAtSeconds <= shown && (
        <g transform={`translate(${toX(breaksAtSeconds)} ${level})`}>
          <path d="M-6 -6h7l5 6-5 6h-7l4-6z" fill={ink('breaks')} stroke={ink('page')} strokeWidth={1.5} />
          <text
            x={-10}
            y={18}
            textAnchor="end"
            fontWeight={650}
            fill={ink('breaks')}
            stroke={ink('page')}
            strokeWidth={4}
            paintOrder="stroke"
          >
            breaks after {formatDuration(breaksAtSeconds)}
          </text>
        </g>
      )}
      <BottomAxis
        scale={x}
        format={formatNumber}
        title={isMinutes ? 'minutes of the take' : 'seconds of the take'}
        y={bottom}
        right={width - RIGHT}
      />
    </>
  );
}
