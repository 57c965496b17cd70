import { REPORT_INKS } from '#core/6-exchange/report/drawings/drawing.ts';

/**
 * The colours of both themes. Near-neutral graphite for dim, colour-critical rooms; paper for the
 * rest. Writing and reading colours mean writing and reading and nothing else; the six tones are for
 * drives, kinds and the like. `third` is for decoration, never for words or numbers one needs.
 */
export interface Tokens {
  page: string;
  rail: string;
  raised: string;
  rule: string;
  grid: string;
  text: string;
  second: string;
  third: string;
  writing: string;
  reading: string;
  heat: string;
  holds: string;
  tight: string;
  breaks: string;
  notProven: string;
}

const { text, second, writing, reading, heat, holds, tight, breaks, notProven } = REPORT_INKS;
/** Paper has the inks of print. */
const INKS_OF_PRINT = { text, second, writing, reading, heat, holds, tight, breaks, notProven };

export const TOKENS: Record<'dark' | 'light', Tokens> = {
  dark: {
    page: '#141516',
    rail: '#1b1c1e',
    raised: '#242629',
    rule: '#34373b',
    grid: '#26282b',
    text: '#ece9e3',
    second: '#aaa8a3',
    third: '#75767a',
    writing: '#e6ac3f',
    reading: '#9da8ff',
    heat: '#b98a8f',
    holds: '#38b8a8',
    tight: '#cfc873',
    breaks: '#e4557f',
    notProven: '#9a9da2',
  },
  light: {
    page: '#efece6',
    rail: '#f8f6f2',
    raised: '#ffffff',
    rule: '#d5d0c6',
    grid: '#e4e0d8',
    third: '#8b8a83',
    ...INKS_OF_PRINT,
  },
};

export type TokenName = keyof Tokens;

/** CSS reference to a token; it follows the theme. */
export function ink(name: TokenName): string {
  return `var(--${name})`;
}

/** Declarations of all tokens of a theme. */
export function tokenDeclarations(tokens: Tokens): Record<string, string> {
  return Object.fromEntries(Object.entries(tokens).map(([name, value]) => [`--${name}`, value as string]));
}
