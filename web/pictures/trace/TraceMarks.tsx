import type { TraceAxis } from '#core/4-runs/trace/decimate.ts';
import type { Pass } from '#core/4-runs/trace/passes.ts';
import type { TraceReading } from '#core/4-runs/trace/reading.ts';
import { formatDuration, formatNumber, rateText } from '#core/1-ground/units/format.ts';
import { capitalized } from '#core/1-ground/words.ts';
import type { Doubt } from '#core/4-runs/supply/doubts/doubt.ts';
import { doubtWords, floorWords, kneeWords, slopeWords, stillWords } from '#core/4-runs/supply/mark-words.ts';
import { ink } from '../../theme/tokens.ts';
import { LABEL_SIZE, fitText } from '../kit/labels.ts';
import type { Plot } from '../kit/Marks.tsx';
import type { ToX } from './trace-layout.ts';
import { Explained } from '../kit/Explained.tsx';
import { HATCH } from '../kit/verdict-marks.tsx';
import { GIGABYTE, MEGABYTE } from '../kit/units.ts';
import { HaloText } from '../kit/HaloText.tsx';

/** A doubt as it is marked on the trace: at its moment where it has one. */
export type DoubtMark = Pick<Doubt, 'code' | 'evidence' | 'effect' | 'advice' | 'atSeconds'>;

/** A stretch of time in which nothing was asked of the drive. */
export interface StillMark {
  kind: 'pause' | 'rest' | 'sleep';
  atSeconds: number;
  seconds: number;
  note: string;
}

interface LevelMarksProps {
  /** The pass whose levels are marked. */
  pass: Pass;
  reading: TraceReading;
  axis: TraceAxis;
  toX: ToX;
  plot: Plot;
}

/** Knee and floor on the trace itself; of a rate that falls steadily where it ends. */
export function LevelMarks({ pass, reading, axis, toX, plot }: LevelMarksProps) {
  const { y, top, bottom, right } = plot;
  if (reading.slope !== null) {
    const { toBytes, toSeconds } = pass.intervals.at(-1)!;
    const end = Math.min(right, toX(pass, axis === 'bytes' ? toBytes : toSeconds));
    const height = y(reading.slope.endBytesPerSecond / MEGABYTE);
    return (
      <Explained label="Falls to the end" words={slopeWords(reading)} data-mark="slope">
        <path d={`M${end} ${height - 8}l-5 -8h10z`} fill={ink('text')} />
        <HaloText x={end - 10} y={height - 10} textAnchor="end" fill={ink('text')} fontWeight={650}>
          falls to {formatNumber(reading.slope.endBytesPerSecond / MEGABYTE)}
        </HaloText>
      </Explained>
    );
  }
  const { kneeBytes, kneeSeconds, floorBytesPerSecond, openingBytesPerSecond } = reading;
  if (kneeBytes === null || kneeSeconds === null || floorBytesPerSecond === null) return null;
  const place = (bytes: number, seconds: number) =>
    toX(pass, axis === 'bytes' ? pass.intervals[0]!.fromBytes + bytes : pass.startSeconds + seconds);
  const last = pass.intervals.at(-1)!;
  const knee = place(kneeBytes, kneeSeconds);
  const end = toX(pass, axis === 'bytes' ? last.toBytes : last.toSeconds);
  const floor = y(floorBytesPerSecond / MEGABYTE);
  const opening = openingBytesPerSecond === null ? top : y(openingBytesPerSecond / MEGABYTE);
  const where = axis === 'bytes' ? `${formatNumber(kneeBytes / GIGABYTE)} GB` : formatDuration(kneeSeconds);
  const kneeRight = knee < right - 130;
  return (
    <g data-mark="knee">
      <Explained label={`Knee at ${where}`} words={kneeWords(reading, pass.direction)}>
        <line
          x1={knee}
          x2={knee}
          y1={Math.max(top, opening - 10)}
          y2={bottom}
          stroke={ink('text')}
          strokeDasharray="1 4"
        />
        <path d={`M${knee} ${opening}l-5 -8h10z`} fill={ink('text')} />
        <HaloText
          x={kneeRight ? knee + 9 : knee - 9}
          y={opening - 4}
          textAnchor={kneeRight ? 'start' : 'end'}
          fill={ink('text')}
          fontWeight={650}
        >
          knee at {where}
        </HaloText>
      </Explained>
      <Explained label={`Floor ${rateText(floorBytesPerSecond)}`} words={floorWords(reading)}>
        <line x1={knee} x2={end} y1={floor} y2={floor} stroke={ink('text')} strokeDasharray="8 5" strokeWidth={1.2} />
        <HaloText
          x={Math.max(knee + 9, end - 8)}
          y={floor - 8}
          textAnchor={end - knee > 90 ? 'end' : 'start'}
          fill={ink('text')}
        >
          floor {formatNumber(floorBytesPerSecond / MEGABYTE)}
        </HaloText>
      </Explained>
    </g>
  );
}

/** Pauses, rests and sleeps as bands in time. */
export function StillMarks({
  marks,
  toX,
  plot: { top, bottom },
}: {
  marks: readonly StillMark[];
  toX: (seconds: number) => number | null;
  plot: Plot;
}) {
  const words = { pause: 'held', rest: 'rest', sleep: 'asleep' } as const;
  return marks.map((mark) => {
    const [from, to] = [toX(mark.atSeconds), toX(mark.atSeconds + mark.seconds)];
    if (from === null || to === null) return null;
    const wide = to - from > 60;
    return (
      <Explained
        key={`${mark.kind} ${mark.atSeconds}`}
        data-mark={mark.kind}
        label={`${capitalized(words[mark.kind])} for ${formatDuration(mark.seconds)}`}
        words={stillWords(mark)}
      >
        <rect x={from} y={top} width={Math.max(1, to - from)} height={bottom - top} fill={ink('rule')} opacity={0.45} />
        {wide && (
          <text x={(from + to) / 2} y={top + 16} textAnchor="middle" fill={ink('second')}>
            {fitText(`${words[mark.kind]} ${formatDuration(mark.seconds)}`, LABEL_SIZE, to - from - 8)}
          </text>
        )}
      </Explained>
    );
  });
}

/** A doubt in as few words as stand on a picture: those of its code. */
const nameOf = ({ code }: DoubtMark): string => code.replaceAll('-', ' ');

/** Doubts on the trace: at their moment where they have one, else at its start. */
export function DoubtMarks({
  doubts,
  toX,
  plot: { left, right, top, bottom },
}: {
  doubts: readonly DoubtMark[];
  toX: (seconds: number) => number | null;
  plot: Plot;
}) {
  let next = left + 120;
  // What concerns both directions, or all of the run, is marked once.
  const marked = doubts.filter(
    (doubt, index) =>
      doubt.atSeconds !== null ||
      doubts.findIndex((one) => one.code === doubt.code && one.atSeconds === null) === index,
  );
  return marked.map((doubt, index) => {
    const at = doubt.atSeconds === null ? null : toX(doubt.atSeconds);
    const width = 30 + nameOf(doubt).length * 6.4;
    const x = at ?? next;
    if (at === null) next += width;
    if (x > right - 30) return null;
    const y = at === null ? top - 12 : bottom - 16 - (index % 2) * 18;
    return (
      <Explained
        key={`${doubt.code} ${index}`}
        data-doubt={doubt.code}
        label={`Doubt: ${nameOf(doubt)}`}
        words={doubtWords(doubt)}
      >
        {at !== null && <line x1={x} x2={x} y1={top} y2={y} stroke={ink('text')} strokeDasharray="2 4" />}
        <rect x={x} y={y - 9} width={10} height={10} fill={`url(#${HATCH})`} stroke={ink('second')} strokeWidth={0.8} />
        <HaloText x={x + 15} y={y} fill={ink('second')}>
          {nameOf(doubt)}
        </HaloText>
      </Explained>
    );
  });
}
