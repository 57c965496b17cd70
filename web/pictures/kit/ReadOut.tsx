import { useState, type MouseEvent } from 'react';
import { ink } from '../../theme/tokens.ts';
import { HaloText } from './HaloText.tsx';

interface Plot {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** Follows the pointer over a plot: where it is along the axis, null outside, and what catches it. */
export function usePointer(plot: Plot) {
  const { left, right, top, bottom } = plot;
  const [at, setAt] = useState<number | null>(null);
  const onMouseMove = (event: MouseEvent<SVGRectElement>) => {
    const x = event.nativeEvent.offsetX;
    setAt(x >= left && x <= right ? x : null);
  };
  const ground = (
    <rect
      x={left}
      y={top}
      width={Math.max(0, right - left)}
      height={Math.max(0, bottom - top)}
      fill="transparent"
      onMouseMove={onMouseMove}
      onMouseLeave={() => setAt(null)}
    />
  );
  return { at, ground, plot };
}

const LINE_HEIGHT = 17;

interface ReadOutProps {
  /** Of the plot, see {@link usePointer}. */
  pointer: { at: number | null; plot: Plot };
  /** From top to bottom; the first says where. */
  lines: (at: number) => readonly { text: string; colour?: string }[];
}

/** What a picture says under the pointer: a hairline, and beside it the figures. */
export function ReadOut({ pointer: { at, plot }, lines }: ReadOutProps) {
  if (at === null) return null;
  const { left, right, top, bottom } = plot;
  const shown = lines(at);
  const isBefore = at > (left + right) / 2;
  return (
    <g pointerEvents="none" data-read-out="">
      <line x1={at} x2={at} y1={top} y2={bottom} stroke={ink('second')} strokeDasharray="2 3" />
      {shown.map(({ text, colour = ink('text') }, index) => (
        <HaloText
          key={text}
          x={isBefore ? at - 10 : at + 10}
          y={bottom - 12 - (shown.length - 1 - index) * LINE_HEIGHT}
          textAnchor={isBefore ? 'end' : 'start'}
          fill={colour}
          fontWeight={650}
        >
          {text}
        </HaloText>
      ))}
    </g>
  );
}
