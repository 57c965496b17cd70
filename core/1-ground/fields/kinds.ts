import type { FieldKind } from '#core/1-ground/fields/field.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { parseMoney, type Money } from '#core/1-ground/units/money.ts';
import { frameRateText, parseFrameRate } from '#core/1-ground/units/frame-rate.ts';
import {
  parseBuffer,
  parseBytes,
  parseCount,
  parseDuration,
  parseFrameCount,
  parseNumber,
  parseRate,
  parseRatio,
  parseShare,
  type Buffer,
} from '#core/1-ground/units/quantity.ts';
import { blockTyped, bytesTyped, rateTyped, secondsTyped, shareTyped } from '#core/1-ground/units/typable.ts';

/** Kinds of fields that any form may have. */

const asTyped = (value: unknown): string => `${value as number | string}`;

export const TEXT: FieldKind = { read: (text) => text, show: asTyped };

/** A whole number from `least` on. */
export const countFrom = (least?: number): FieldKind => ({
  read: (text, where) => parseCount(text, where, least),
  show: asTyped,
});
export const COUNT = countFrom();

/** Frames by their number, or by the first and the last. */
export const FRAME_COUNT: FieldKind = { read: parseFrameCount, show: asTyped };
export const RATIO: FieldKind = { read: parseRatio, show: asTyped };

/** A number above 0, and of at least so much. */
export const numberSuchAs = (example: string, least = 0): FieldKind => ({
  read(text, where) {
    const value = /^[+-]?[\d.,]+(?:e[+-]?\d+)?$/.test(text) ? parseNumber(text, where) : NaN;
    if (Number.isFinite(value) && value > 0 && value >= least) return value;
    const bound = least > 0 ? ` of at least ${least}` : '';
    throw badInput(where, `${where}: “${text}” is not a number${bound}. Type one such as ${example}.`);
  },
  show: asTyped,
});

function positive(value: number, where: string): number {
  if (value > 0) return value;
  throw badInput(where, `${where}: must be more than nothing.`);
}

export const BYTES: FieldKind = { as: 'size', read: parseBytes, show: bytesTyped };
export const BLOCK: FieldKind = { read: parseBytes, show: blockTyped };
export const SECONDS: FieldKind = { read: parseDuration, show: secondsTyped };
export const SOME_SECONDS: FieldKind = {
  read: (text, where) => positive(parseDuration(text, where), where),
  show: secondsTyped,
};
export const RATE: FieldKind = {
  as: 'rate',
  read: (text, where) => positive(parseRate(text, where), where),
  show: rateTyped,
};
export const FRAME_RATE: FieldKind = { read: parseFrameRate, show: frameRateText };
/** A price and its currency, and an amount whose currency stands elsewhere. */
export const MONEY: FieldKind = {
  read: parseMoney,
  show: (value) => {
    const { amount, currency } = value as Money;
    return `${amount} ${currency}`.trim();
  },
};
export const AMOUNT_OF_MONEY: FieldKind = { read: (text, where) => parseMoney(text, where).amount, show: asTyped };
/** A share, in per cent or as a fraction. */
export const SHARE: FieldKind = { read: parseShare, show: shareTyped };

/** Seconds or bytes: which of the two is kept. */
export const BUFFER: FieldKind = {
  as: 'size',
  read(text, where) {
    if (!/^[\d.]+$/.test(text)) return parseBuffer(text, where);
    throw badInput(where, `${where}: “${text}” of what? Type seconds, such as 1 s, or bytes, such as 512 MB.`);
  },
  show: ({ unit, amount }: Buffer) => (unit === 'seconds' ? secondsTyped(amount) : bytesTyped(amount)),
};

export const SWITCH: FieldKind = {
  as: 'switch',
  read(text, where) {
    if (['yes', 'true', 'on', ''].includes(text)) return true;
    if (['no', 'false', 'off'].includes(text)) return false;
    throw badInput(where, `${where}: “${text}” is neither yes nor no.`);
  },
  show: (value) => (value === true ? 'yes' : 'no'),
};

export const choiceOf = (choices: readonly (readonly [value: string, label: string])[]): FieldKind => ({
  ...TEXT,
  as: 'choice',
  choices,
});

/** What stands between separators, without spaces around it; what is empty is left out. */
export const partsOf = (text: string, separator: RegExp): string[] =>
  text
    .split(separator)
    .map((part) => part.trim())
    .filter(Boolean);

/** A comma between a bare number and one with a unit: “1,5 min” is one span of time, or two. */
const ONE_OR_TWO = /(?:^|[,;]\s*)(\d+),(\d+)\s*([a-zµ]+)/i;

/** Several of a kind, typed as a list. */
const listOf = <One>(read: (text: string, where: string) => One, show: (one: One) => string): FieldKind => ({
  read(text, where) {
    const unclear = ONE_OR_TWO.exec(text);
    if (unclear) {
      const [, whole, digits, unit] = unclear;
      throw badInput(
        where,
        `${where}: “${whole},${digits} ${unit}” can mean ${whole}.${digits} ${unit}, or ${whole} and ${digits} ${unit}. Type the one you mean, two with a space between.`,
      );
    }
    return partsOf(text, /[,;]/).map((part) => read(part, where));
  },
  show: (value: readonly One[]) => value.map(show).join(', '),
});
export const COUNTS = listOf((part, where) => parseCount(part, where), String);
export const BLOCKS = listOf(parseBytes, blockTyped);
export const DURATIONS = listOf(parseDuration, secondsTyped);

/**
 * Several things, one a line.
 * @param readAll the lines that are not empty
 * @param separator what ends a line
 */
export const linesOf = <One>(
  readAll: (lines: string[]) => readonly One[],
  showOne: (one: One) => string,
  separator: RegExp,
): FieldKind => ({
  as: 'lines',
  read: (text) => readAll(partsOf(text, separator)),
  show: (value: readonly One[]) => value.map(showOne).join('\n'),
});

/** Several things of one kind, each read on its own, one a line or parted by semicolons. */
export const eachLine = <One>(
  readOne: (line: string) => One,
  showOne: (one: One) => string,
  separator = /[\n;]/,
): FieldKind => linesOf((lines) => lines.map((line) => readOne(line)), showOne, separator);
