import type { Words } from '#core/6-exchange/report/blocks.ts';
import type { ReportInk } from '#core/6-exchange/report/drawings/drawing.ts';
import { BOLD, CODES, REGULAR } from '#core/6-exchange/report/pages/type-metrics.ts';

const widthsOf = (widths: readonly number[]) => new Map(CODES.map((code, index) => [code, widths[index]!]));
const WIDTHS = { regular: widthsOf(REGULAR), bold: widthsOf(BOLD) };
/** Of what the typeface lacks: it stands as a question mark. */
const LACKING = '?';

/** What the typeface lacks and others write with what it has (ISO 2955 has u for µ). */
const IN_OTHER_WORDS: Record<string, string> = {
  '\u202f': '\u00a0',
  '\u2009': '\u00a0',
  '\n': ' ',
  '\r': ' ',
  '\t': ' ',
  µ: 'u',
  μ: 'u',
  '→': '>',
  '←': '<',
  '↑': '^',
  '↓': 'v',
  '≥': '>=',
  '≤': '<=',
  '‑': '-',
  Ω: 'Ohm',
};

/** A text in the letters that the typeface has. */
export function printable(text: string): string {
  return [...text.normalize('NFC')]
    .map((letter) => IN_OTHER_WORDS[letter] ?? letter)
    .map((letter) => ([...letter].every((one) => WIDTHS.regular.has(one.codePointAt(0)!)) ? letter : LACKING))
    .join('');
}

/** Whether nothing of a text is lost on a page. */
export const isPrintable = (text: string): boolean =>
  [...text.normalize('NFC')].every(
    (letter) => IN_OTHER_WORDS[letter] !== undefined || WIDTHS.regular.has(letter.codePointAt(0)!),
  );

/** Width of a printable text, points. Without kerning, so that it is the most that it takes. */
export function widthOf(text: string, size: number, isBold = false): number {
  const widths = isBold ? WIDTHS.bold : WIDTHS.regular;
  let sum = 0;
  for (const letter of text) sum += widths.get(letter.codePointAt(0)!) ?? widths.get(63)!;
  return (sum * size) / 1000;
}

/** A stretch of a line that is set alike, from its left end. */
export interface Segment {
  x: number;
  text: string;
  isBold: boolean;
  ink: ReportInk;
}

export interface Line {
  segments: Segment[];
  width: number;
}

interface Piece {
  text: string;
  isBold: boolean;
  ink: ReportInk;
  width: number;
}

/** Words broken into lines of a width; what is longer than a line is broken where it has to be. */
export function linesOf(words: readonly Words[], size: number, width: number): Line[] {
  const lines: Line[] = [];
  let line: Piece[] = [];
  let used = 0;
  const close = () => {
    lines.push(lineOf(line));
    line = [];
    used = 0;
  };
  for (const piece of piecesOf(words, size)) {
    if (piece.text === ' ' && line.length === 0) continue;
    if (piece.text !== ' ' && used + piece.width > width && line.length > 0) {
      close();
    }
    for (const part of piece.width > width ? brokenUp(piece, size, width) : [piece]) {
      if (used + part.width > width && line.length > 0 && part.text !== ' ') close();
      line.push(part);
      used += part.width;
    }
  }
  if (line.length > 0 || lines.length === 0) close();
  return lines;
}

function piecesOf(words: readonly Words[], size: number): Piece[] {
  return words.flatMap(({ text, isBold = false, ink = 'text' }) =>
    printable(text)
      .split(/( )/)
      .filter((part) => part !== '')
      .map((part) => ({ text: part, isBold, ink, width: widthOf(part, size, isBold) })),
  );
}

function brokenUp(piece: Piece, size: number, width: number): Piece[] {
  const parts: Piece[] = [];
  let text = '';
  const add = () => parts.push({ ...piece, text, width: widthOf(text, size, piece.isBold) });
  for (const letter of piece.text) {
    if (text !== '' && widthOf(text + letter, size, piece.isBold) > width) {
      add();
      text = '';
    }
    text += letter;
  }
  add();
  return parts;
}

function lineOf(pieces: readonly Piece[]): Line {
  const kept = [...pieces];
  while (kept.at(-1)?.text === ' ') kept.pop();
  const segments: Segment[] = [];
  let x = 0;
  for (const { text, isBold, ink, width } of kept) {
    const last = segments.at(-1);
    if (last && last.isBold === isBold && last.ink === ink) last.text += text;
    // A space in front of words is a place, and not a letter: some readers drop it.
    else if (text !== ' ') segments.push({ x, text, isBold, ink });
    x += width;
  }
  return { segments, width: x };
}
