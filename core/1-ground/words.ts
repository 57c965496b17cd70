/** A sentence begins with a capital letter; the rest stays as it is. */
export const capitalized = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A name that none of those there are has: the wanted one, or with a number behind it. */
export function freeName(wanted: string, taken: readonly string[]): string {
  if (!taken.includes(wanted)) return wanted;
  for (let number = 2; ; number += 1) if (!taken.includes(`${wanted} ${number}`)) return `${wanted} ${number}`;
}

const LIST = new Intl.ListFormat('en-GB');

/** Several things in a row: “1, 4 and 32”. */
export const listed = (things: readonly string[]): string => LIST.format(things);

/** Numbers as far as people write them in words, from none. */
export const NUMBER_WORDS: readonly string[] = [
  ...['no', 'one', 'two', 'three', 'four', 'five', 'six'],
  ...['seven', 'eight', 'nine', 'ten', 'eleven', 'twelve'],
];

/** A number in a sentence: in words as far as people write them so. */
export const countText = (count: number): string => NUMBER_WORDS[count] ?? String(count);

/** A number as it is typed: in digits, or in words as far as people write them so; NaN for anything else. */
export function numberSaid(typed: string): number {
  const inWords = NUMBER_WORDS.indexOf(typed.toLowerCase());
  return inWords < 0 ? Number(typed) : inWords;
}

/** Takes what a pattern finds out of a text; null when it finds nothing. */
export function take(text: { rest: string }, pattern: RegExp): RegExpExecArray | null {
  const match = pattern.exec(text.rest);
  if (match) text.rest = `${text.rest.slice(0, match.index)} ${text.rest.slice(match.index + match[0].length)}`;
  return match;
}

/**
 * A line whose name stands without a colon before what it is of: “Camera originals 2 TB a day” is “Camera originals: 2 TB a
 * day”. @param what pattern of that, which comes behind the name
 */
export function withColon(line: string, what: string): string {
  if (line.includes(':')) return line;
  const match = new RegExp(String.raw`^\s*(\p{L}[^\d,:]{0,60}?)\s+(?=${what})`, 'iu').exec(line);
  return match ? `${match[1]!}: ${line.slice(match[0].length)}` : line;
}
