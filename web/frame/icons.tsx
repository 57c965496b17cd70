import { ink } from '../theme/tokens.ts';

/** Line icons of the rail, 22 px; each is a small picture of what its place shows. */
const PATHS = {
  measure: 'M2 8h7l5 8h6',
  drives: 'M3 4h16v6H3z M3 12h16v6H3z M15.5 7h.5 M15.5 15h.5',
  workloads: 'M4 5h9 M4 11h14 M4 17h6',
  fit: 'M2 11h18 M5 7v8 M10 9v4 M14 9v4 M18 7v8',
  copies: 'M3 8h15l-4-4 M19 15H4l4 4',
  sizing: 'M3 19V5 M3 19h16 M5 15l5-4 3 2 6-8',
  report: 'M5 3h9l4 4v12H5z M8 10h7 M8 14h7',
  theme: 'M11 4a7 7 0 1 0 0 14z M11 4a7 7 0 0 1 0 14',
  settings: 'M4 7h8 M16 7h2 M4 15h2 M10 15h8 M14 5v4 M8 13v4',
  help: 'M8 8.5a3 3 0 1 1 4.4 2.6c-1 .6-1.4 1.1-1.4 2.2 M11 16.2v.3',
} as const;

export type IconName = keyof typeof PATHS;

export function Icon({ name }: { name: IconName }) {
  return (
    <svg width={22} height={22} viewBox="0 0 22 22" aria-hidden="true">
      <path
        d={PATHS[name]}
        fill="none"
        stroke="currentColor"
        strokeWidth={1.6}
        strokeLinejoin="round"
        strokeLinecap="round"
      />
    </svg>
  );
}

/** The mark: a line that runs level, falls at the knee and runs on, over a dotted need line. */
export function Mark() {
  return (
    <svg width={38} height={26} viewBox="0 0 38 26" role="img" aria-label="Tavrox">
      <path d="M2 15h34" stroke={ink('second')} strokeWidth={1.6} strokeDasharray="2 3" />
      <path d="M3 7h11l7 13h14" fill="none" stroke={ink('writing')} strokeWidth={3} strokeLinejoin="round" />
    </svg>
  );
}
