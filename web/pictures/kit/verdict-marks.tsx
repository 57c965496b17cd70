import { VERDICT_INK, verdictName, type Verdict, type VerdictWord } from '#core/5-answers/verdict/verdict.ts';
import { ink } from '../../theme/tokens.ts';

/** Id of the hatching for what is not proven; HatchDefinition must stand in the same SVG. */
export const HATCH = 'hatch-not-proven';

export function HatchDefinition() {
  return (
    <defs>
      <pattern id={HATCH} width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="4" height="4" fill={ink('page')} />
        <line x1="1" y1="0" x2="1" y2="4" stroke={ink('notProven')} strokeWidth="1.6" />
      </pattern>
    </defs>
  );
}

/**
 * The mark of a verdict, ten pixels across: a full bar holds, a notched one is tight, a cut one
 * breaks, a hatched one is not proven. Shape and colour say the same.
 */
export function VerdictMark({ verdict, x, y }: { verdict: VerdictWord; x: number; y: number }) {
  const fill = ink(VERDICT_INK[verdict]);
  const place = `translate(${x - 6} ${y - 6})`;
  switch (verdict) {
    case 'holds':
      return <rect transform={place} width={12} height={12} fill={fill} stroke={ink('page')} strokeWidth={1.5} />;
    case 'tight':
      return (
        <path
          transform={place}
          d="M0 0h12v12h-12z M4 -1v6h4v-6z"
          fillRule="evenodd"
          fill={fill}
          stroke={ink('page')}
          strokeWidth={1.5}
        />
      );
    case 'breaks':
      return <path transform={place} d="M0 0h7l5 6-5 6h-7l4-6z" fill={fill} stroke={ink('page')} strokeWidth={1.5} />;
    case 'not-proven':
      return <rect transform={place} width={12} height={12} fill={`url(#${HATCH})`} stroke={fill} strokeWidth={1} />;
  }
}

/** The mark beside words, in a line of text. */
export function InlineVerdict({ verdict, isPromise }: Pick<Verdict, 'verdict' | 'isPromise'>) {
  return (
    <svg
      width={14}
      height={14}
      viewBox="-1 -1 14 14"
      style={{ flex: 'none', position: 'relative', top: 1 }}
      role="img"
      aria-label={verdictName({ verdict, isPromise })}
    >
      <HatchDefinition />
      <VerdictMark verdict={verdict} x={6} y={6} />
    </svg>
  );
}
