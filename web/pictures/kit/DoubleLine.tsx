interface DoubleLineProps {
  /** Height, and where it begins and ends, pixels. */
  at: number;
  from: number;
  to: number;
  colour: string;
}

/** A double hairline: what is asked or promised, beside what was measured. */
export function DoubleLine({ at, from, to, colour }: DoubleLineProps) {
  return [-1.4, 1.4].map((beside) => (
    <line key={beside} x1={from} x2={to} y1={at + beside} y2={at + beside} stroke={colour} strokeWidth={0.9} />
  ));
}
