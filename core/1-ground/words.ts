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
