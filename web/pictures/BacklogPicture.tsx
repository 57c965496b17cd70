import type { BacklogCurve } from '#core/verdict/backlog-curve.ts';
import { byteUnit, bytesText, formatDuration, formatNumber } from '#core/units/format.ts';
import { ink } from '../theme/tokens.ts';
import { BottomAxis, LeftAxis } from './kit/Axis.tsx';
import { textWidth } from './kit/labels.ts';
import { LABEL_SIZE, Picture } from './kit/Picture.tsx';
import { linearScale } from './kit/scale.ts';
import { HATCH, HatchDefinition } from './kit/verdict-marks.tsx';
import { ReadOut, usePointer } from './kit/ReadOut.tsx';
import { timeUnitFor } from './kit/units.ts';
import { HaloText } from './kit/HaloText.tsx';

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
  const right = width - RIGHT;
  const pointer = usePointer({ left: LEFT, right, top: TOP, bottom });
  // Beyond the break it no longer matters how much would wait: the picture is about the buffer.
  const peak = Math.max(...curve.bytes);
  const top = Math.max(1, bufferBytes * 1.35, Math.min(peak * 1.1, bufferBytes * 3));
  const shown = breaksAtSeconds === null ? takeSeconds : Math.min(takeSeconds, breaksAtSeconds * 1.6 + 1);
  const time = timeUnitFor(shown);
  const { unit, bytes: factor } = byteUnit(top);
  const y = linearScale(0, top / factor, [bottom, TOP], 4, false);
  const x = linearScale(0, shown / time.seconds, [LEFT, right], 9, false);
  const toX = (seconds: number) => x(seconds / time.seconds);
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
      <LeftAxis scale={y} format={formatNumber} title={title} left={LEFT} right={right} top={TOP} />
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
          <HaloText x={toX(curve.continuedFromSeconds) + 6} y={bottom - 8} fill={ink('second')}>
            floor taken to go on
          </HaloText>
        </g>
      )}
      {breaksAtSeconds === null && endSeconds < shown * 0.995 && (
        <g>
          <HatchDefinition />
          <rect
            x={toX(endSeconds)}
            y={TOP}
            width={right - toX(endSeconds)}
            height={bottom - TOP}
            fill={`url(#${HATCH})`}
            opacity={0.35}
          />
          <EndWords seconds={endSeconds} from={toX(endSeconds)} right={right} y={(level + bottom) / 2} />
        </g>
      )}
      <line x1={LEFT} x2={right} y1={level} y2={level} stroke={ink('text')} strokeWidth={1.4} />
      <HaloText x={right} y={level - 7} textAnchor="end" fill={ink('text')}>
        the buffer holds {bytesText(bufferBytes)}
      </HaloText>
      {breaksAtSeconds !== null && breaksAtSeconds <= shown && (
        <g transform={`translate(${toX(breaksAtSeconds)} ${level})`}>
          <path d="M-6 -6h7l5 6-5 6h-7l4-6z" fill={ink('breaks')} stroke={ink('page')} strokeWidth={1.5} />
          <HaloText x={-10} y={18} textAnchor="end" fontWeight={650} fill={ink('breaks')}>
            breaks after {formatDuration(breaksAtSeconds)}
          </HaloText>
        </g>
      )}
      <BottomAxis
        scale={x}
        format={formatNumber}
        title={`${time.name} of the take`}
        left={LEFT}
        y={bottom}
        right={right}
      />
      <ReadOut pointer={pointer} lines={(at) => backlogLines(curve, x.invert(at) * time.seconds)} />
      {pointer.ground}
    </>
  );
}

/** Says that the run ended: in the middle of what is not proven, or at its right edge where that is narrow. */
function EndWords({ seconds, from, right, y }: { seconds: number; from: number; right: number; y: number }) {
  const words = `not proven: the run ends after ${formatDuration(seconds)} of the take`;
  const isNarrow = textWidth(words, LABEL_SIZE) > right - from;
  return (
    <HaloText
      x={isNarrow ? right : (from + right) / 2}
      y={y}
      textAnchor={isNarrow ? 'end' : 'middle'}
      fill={ink('text')}
      halo={6}
    >
      {words}
    </HaloText>
  );
}

/** What waits at a moment of the take. */
function backlogLines(curve: BacklogCurve, seconds: number): { text: string }[] {
  const after = curve.seconds.findIndex((one) => one >= seconds);
  const bytes = curve.bytes[after];
  return [
    { text: `after ${formatDuration(seconds)}` },
    { text: bytes === undefined ? 'not proven' : `${bytesText(bytes)} waiting` },
  ];
}
