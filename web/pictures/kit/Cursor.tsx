import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { DefaultZIndexes, ZIndexLayer } from 'recharts';
import { ink } from '../../theme/tokens.ts';
import { HaloText } from './HaloText.tsx';
import { usePlot, type Plot } from './Marks.tsx';

export interface ReadOutLine {
  text: string;
  colour?: string;
}

const LINE_HEIGHT = 17;
/** How far an arrow key goes, and a page key, as a share of the plot. */
const STEP = 1 / 60;
const PAGE = 1 / 8;

const KEYS: Record<string, (share: number) => number | null> = {
  ArrowLeft: (share) => share - STEP,
  ArrowDown: (share) => share - STEP,
  ArrowRight: (share) => share + STEP,
  ArrowUp: (share) => share + STEP,
  PageDown: (share) => share - PAGE,
  PageUp: (share) => share + PAGE,
  Home: () => 0,
  End: () => 1,
  Escape: () => null,
};

interface CursorProps {
  /** What the picture shows. */
  label: string;
  lines: (at: number) => readonly ReadOutLine[];
}

/**
 * What a chart says at a place: a hairline and beside it the figures, under the pointer or moved by arrow keys, and
 * spoken then.
 */
export function Cursor({ label, lines }: CursorProps) {
  const plot = usePlot();
  const [share, setShare] = useState<number | null>(null);
  const ground = useRef<SVGRectElement>(null);
  // Over the whole picture: words and marks that lie on the plot do not hide it from the pointer.
  useEffect(() => {
    const picture = ground.current?.ownerSVGElement;
    if (!picture) return;
    const follow = ({ clientX, clientY }: MouseEvent) => {
      const { left, right, top, bottom } = ground.current!.getBoundingClientRect();
      const isInside = clientX >= left && clientX <= right && clientY >= top && clientY <= bottom;
      setShare(isInside ? (clientX - left) / (right - left) : null);
    };
    const leave = () => setShare(null);
    picture.addEventListener('mousemove', follow);
    picture.addEventListener('mouseleave', leave);
    return () => {
      picture.removeEventListener('mousemove', follow);
      picture.removeEventListener('mouseleave', leave);
    };
  });
  if (plot === null) return null;
  const { left, right, top, bottom, x } = plot;
  const at = share === null ? null : left + share * (right - left);
  const shown = at === null ? [] : lines(x.invert(at));
  const press = (event: KeyboardEvent) => {
    const key = KEYS[event.key];
    if (!key) return;
    event.preventDefault();
    const next = key(share ?? 0);
    setShare(next === null ? null : Math.max(0, Math.min(1, next)));
  };
  return (
    <>
      <ZIndexLayer zIndex={DefaultZIndexes.cursorLine}>
        <g
          role="slider"
          tabIndex={0}
          aria-label={`Figures of: ${label}`}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(100 * (share ?? 0))}
          aria-valuetext={
            shown.length > 0 ? shown.map(({ text }) => text).join(', ') : 'nowhere yet: arrow keys move it'
          }
          onKeyDown={press}
          onBlur={() => setShare(null)}
        >
          <rect ref={ground} x={left} y={top} width={right - left} height={bottom - top} fill="transparent" />
        </g>
      </ZIndexLayer>
      <ZIndexLayer zIndex={DefaultZIndexes.label + 2}>
        {at !== null && <ReadOut at={at} plot={plot} lines={shown} />}
      </ZIndexLayer>
    </>
  );
}

function ReadOut({ at, plot, lines }: { at: number; plot: Plot; lines: readonly ReadOutLine[] }) {
  const { left, right, top, bottom } = plot;
  const isBefore = at > (left + right) / 2;
  return (
    <g pointerEvents="none" data-read-out="">
      <line x1={at} x2={at} y1={top} y2={bottom} stroke={ink('second')} strokeDasharray="2 3" />
      {lines.map(({ text, colour = ink('text') }, index) => (
        <HaloText
          key={text}
          x={isBefore ? at - 10 : at + 10}
          y={bottom - 12 - (lines.length - 1 - index) * LINE_HEIGHT}
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
