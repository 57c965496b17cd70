import { formatNumber } from '#core/units/format.ts';
import type { VerdictWord } from '#core/verdict/verdict.ts';
import { ink } from '../theme/tokens.ts';
import { fitText, placeLabels } from './labels.ts';
import { LABEL_SIZE } from './Picture.tsx';
import type { PictureScale } from './scale.ts';
import { LABELS, LEFT, MEGABYTE, TOP } from './trace-layout.ts';
import { VERDICT_INK, VerdictMark } from './verdict-marks.tsx';

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
  y,
  right,
}: {
  ceiling: { label: string; bytesPerSecond: number };
  y: PictureScale;
  right: number;
}) {
  const rate = ceiling.bytesPerSecond / MEGABYTE;
  const off = rate > y.invert(TOP) * 1.001;
  const at = off ? TOP : y(rate);
  return (
    <g>
      {!off && <line x1={LEFT} x2={right} y1={at} y2={at} stroke={ink('second')} />}
      <text x={right + 12} y={off ? TOP - 18 : at} dy="0.35em" fill={ink('second')}>
        {fitText(`${off ? '↑ ' : ''}${ceiling.label} ${formatNumber(rate)}`, LABEL_SIZE, LABELS - 14)}
      </text>
    </g>
  );
}

/** A double hairline for each demand, its name at the right edge, coloured and shaped by verdict. */
export function NeedLines({
  lines,
  y,
  left,
  right,
  bottom,
}: {
  lines: readonly NeedLine[];
  y: PictureScale;
  left: number;
  right: number;
  bottom: number;
}) {
  const top = y.invert(TOP);
  const least = y.isLog ? y.invert(bottom) : 0;
  const wanted = lines.map((line) => y(Math.min(top, Math.max(least, line.bytesPerSecond / MEGABYTE))));
  const middles = placeLabels(
    wanted.map((at) => ({ wanted: at, size: 33 })),
    TOP - 4,
    bottom + 12,
  );
  return (
    <g>
      {lines.map((line, index) => {
        const rate = line.bytesPerSecond / MEGABYTE;
        const at = wanted[index]!;
        const middle = middles[index]!;
        const colour = ink(VERDICT_INK[line.verdict]);
        const off = rate > top * 1.001 ? '↑ ' : rate < least * 0.999 ? '↓ ' : '';
        return (
          <g key={line.id} data-need={line.id}>
            {off === '' && (
              <>
                <line x1={left} x2={right} y1={at - 1.4} y2={at - 1.4} stroke={colour} strokeWidth={0.9} />
                <line x1={left} x2={right} y1={at + 1.4} y2={at + 1.4} stroke={colour} strokeWidth={0.9} />
              </>
            )}
            {off === '' && (
              <path d={`M${right} ${at}L${right + 16} ${middle - 6}`} stroke={colour} fill="none" strokeWidth={0.9} />
            )}
            <VerdictMark verdict={line.verdict} x={right + 22} y={middle - 6} />
            <text x={right + 33} y={middle - 6} dy="0.35em" fill={ink('text')} fontWeight={650}>
              {fitText(line.name, LABEL_SIZE, LABELS - 35, true)}
            </text>
            <text x={right + 33} y={middle + 9} dy="0.35em" fill={colour}>
              {off}
              {formatNumber(rate)} MB/s
            </text>
          </g>
        );
      })}
    </g>
  );
}
