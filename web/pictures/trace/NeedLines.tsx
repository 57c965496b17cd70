import { formatNumber } from '#core/1-ground/units/format.ts';
import { VERDICT_INK, type VerdictWord } from '#core/5-answers/verdict/verdict.ts';
import { ink } from '../../theme/tokens.ts';
import { HaloText } from '../kit/HaloText.tsx';
import { placeLabels } from '#core/1-ground/place-labels.ts';
import { LABEL_SIZE, fitText } from '../kit/labels.ts';
import type { Plot } from '../kit/Marks.tsx';
import type { AxisSpan } from '#core/1-ground/axis-span.ts';
import { LABELS } from './trace-layout.ts';
import { DoubleLine } from '../kit/DoubleLine.tsx';
import { VerdictMark } from '../kit/verdict-marks.tsx';
import { MEGABYTE } from '../kit/units.ts';

/** A workload's demand drawn over the trace. */
export interface NeedLine {
  id: string;
  name: string;
  bytesPerSecond: number;
  verdict: VerdictWord;
}

/** What the link can carry: a line, or an arrow when it is off the scale. */
export function CeilingLine({
  ceiling,
  plot: { left, top, y },
  right,
}: {
  ceiling: { label: string; bytesPerSecond: number };
  plot: Plot;
  right: number;
}) {
  const rate = ceiling.bytesPerSecond / MEGABYTE;
  const words = `${ceiling.label} ${formatNumber(rate)}`;
  if (rate > y.invert(top) * 1.001) {
    return (
      <text x={right + 12} y={top - 18} dy="0.35em" fill={ink('second')}>
        {fitText(`↑ ${words}`, LABEL_SIZE, LABELS - 14)}
      </text>
    );
  }
  return (
    <g>
      <line x1={left} x2={right} y1={y(rate)} y2={y(rate)} stroke={ink('second')} />
      <HaloText x={right - 6} y={y(rate) - 6} textAnchor="end" fill={ink('second')}>
        {words}
      </HaloText>
    </g>
  );
}

/** Height of a label of two lines. */
const LABEL_HEIGHT = 33;
/** The verdict that a group of lines shows: the one that asks for most attention. */
const BY_WEIGHT: readonly VerdictWord[] = ['breaks', 'not-proven', 'tight', 'holds'];

/** Lines that share a label: more than fit beside the picture are named together, nearest first. */
export function groupLines(lines: readonly NeedLine[], most: number): NeedLine[][] {
  const groups = [...lines].sort((a, b) => a.bytesPerSecond - b.bytesPerSecond).map((line) => [line]);
  while (groups.length > Math.max(1, most)) {
    const ratioTo = (index: number) => groups[index + 1]![0]!.bytesPerSecond / groups[index]!.at(-1)!.bytesPerSecond;
    let nearest = 0;
    for (let index = 1; index < groups.length - 1; index += 1) if (ratioTo(index) < ratioTo(nearest)) nearest = index;
    groups.splice(nearest, 2, [...groups[nearest]!, ...groups[nearest + 1]!]);
  }
  return groups;
}

/** A double hairline for each demand, its name at the right edge, coloured and shaped by verdict. */
export function NeedLines({
  lines,
  span: { from: least, to: top },
  plot: { y, left, bottom, top: edge },
  right,
}: {
  lines: readonly NeedLine[];
  span: AxisSpan;
  plot: Plot;
  /** Where the lines end, pixels. */
  right: number;
}) {
  const placeOf = (line: NeedLine) => y(Math.min(top, Math.max(least, line.bytesPerSecond / MEGABYTE)));
  const isOff = (line: NeedLine) =>
    line.bytesPerSecond / MEGABYTE > top * 1.001 || line.bytesPerSecond / MEGABYTE < least * 0.999;
  const [from, to] = [edge - 4, bottom + 12];
  const groups = groupLines(lines, Math.floor((to - from) / LABEL_HEIGHT)).map((group) => ({
    group,
    wanted: (placeOf(group[0]!) + placeOf(group.at(-1)!)) / 2,
  }));
  const middles = placeLabels(
    groups.map(({ wanted }) => ({ wanted, size: LABEL_HEIGHT })),
    from,
    to,
  );
  return (
    <g>
      {lines
        .filter((line) => !isOff(line))
        .map((line) => {
          const [at, colour] = [placeOf(line), ink(VERDICT_INK[line.verdict])];
          return (
            <g key={line.id} data-need={line.id}>
              <DoubleLine at={at} from={left} to={right} colour={colour} />
            </g>
          );
        })}
      {groups.map(({ group }, index) => (
        <NeedLabel
          key={group[0]!.id}
          group={group}
          middle={middles[index]!}
          joints={group.filter((line) => !isOff(line)).map(placeOf)}
          off={group.every((line) => line.bytesPerSecond / MEGABYTE > top) ? '↑ ' : group.every(isOff) ? '↓ ' : ''}
          right={right}
        />
      ))}
    </g>
  );
}

function NeedLabel({
  group,
  middle,
  joints,
  off,
  right,
}: {
  group: readonly NeedLine[];
  middle: number;
  /** Where its lines end. */
  joints: readonly number[];
  off: string;
  right: number;
}) {
  const verdict = BY_WEIGHT.find((word) => group.some((line) => line.verdict === word))!;
  const colour = ink(VERDICT_INK[verdict]);
  const [first, last] = [group[0]!, group.at(-1)!];
  const rate = (line: NeedLine) => formatNumber(line.bytesPerSecond / MEGABYTE);
  return (
    <g data-need-label={group.map((line) => line.id).join(' ')}>
      <title>{group.map((line) => `${line.name}, ${rate(line)} MB/s`).join('\n')}</title>
      {joints.map((at, index) => (
        <path
          key={index}
          d={`M${right} ${at}L${right + 16} ${middle - 6}`}
          stroke={colour}
          fill="none"
          strokeWidth={0.9}
        />
      ))}
      <VerdictMark verdict={verdict} x={right + 22} y={middle - 6} />
      <text x={right + 33} y={middle - 6} dy="0.35em" fill={ink('text')} fontWeight={650}>
        {group.length === 1 ? fitText(first.name, LABEL_SIZE, LABELS - 35, true) : `${group.length} items`}
      </text>
      <text x={right + 33} y={middle + 9} dy="0.35em" fill={colour}>
        {off}
        {rate(first) === rate(last) ? rate(first) : `${rate(first)} – ${rate(last)}`} MB/s
      </text>
    </g>
  );
}
