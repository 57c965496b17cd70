import { badInput } from '#core/1-ground/problem.ts';

/**
 * Quantities as people type them. Decimal units (10^3 … 10^15) are what people read; binary
 * units (2^10 … 2^50, IEC 80000-13) are accepted as input. A lower-case `b` after a prefix
 * is a bit: `10 Gb` and `10 GB` differ by a factor of eight, so a spelling that could be
 * either (`10 g`, `10 gb`) is asked about and never guessed.
 */
const DECIMAL_PREFIXES = ['', 'k', 'M', 'G', 'T', 'P'];
const BINARY_PREFIXES = ['', 'Ki', 'Mi', 'Gi', 'Ti', 'Pi'];

/** A number as it is typed: digits with points and commas among them. */
const TYPED = String.raw`[+-]?(?:\d[\d.,]*|[.,]\d+)(?:e[+-]?\d+)?`;
const NUMBER_AND_UNIT = new RegExp(String.raw`^(${TYPED})\s*([a-zA-Z]*)$`);
/** Commas before groups of three part thousands, with a decimal point or without. */
const GROUPED = /^[+-]?\d{1,3}(?:,\d{3})+(?:\.\d*)?(?:e[+-]?\d+)?$/;
/** The same the other way round, as most of the world types it; with points it needs a decimal comma to tell. */
const GROUPED_BY_POINTS = /^[+-]?\d{1,3}(?:\.\d{3})+,\d+$/;
const DECIMAL_COMMA = /^[+-]?\d*,(?:\d{1,2}|\d{4,})$/;

/**
 * A typed number. A comma before groups of three parts thousands, one before other digits is a decimal comma:
 * `1,500` is fifteen hundred and `1,5` one and a half.
 * @throws Problem `bad-input` where it may mean two things, with both
 */
export function parseNumber(text: string, where: string): number {
  const typed = text.trim();
  if (GROUPED.test(typed)) return Number(typed.replaceAll(',', ''));
  if (GROUPED_BY_POINTS.test(typed)) return Number(typed.replaceAll('.', '').replace(',', '.'));
  if (DECIMAL_COMMA.test(typed)) return Number(typed.replace(',', '.'));
  if (typed.includes(',')) {
    const whole = typed.replaceAll(',', '');
    const last = typed.lastIndexOf(',');
    const decimal = `${typed.slice(0, last).replaceAll(',', '')}.${typed.slice(last + 1)}`;
    throw badInput(
      where,
      `${where}: “${text}” can mean ${whole} or ${decimal}. Type the one you mean, without commas.`,
    );
  }
  return typed === '' ? NaN : Number(typed);
}

function splitNumber(text: string, where: string, example: string): { amount: number; unit: string } {
  const match = NUMBER_AND_UNIT.exec(text.trim());
  if (!match) {
    throw badInput(where, `${where}: “${text}” is not an amount. Type a number and a unit, such as ${example}.`);
  }
  const amount = parseNumber(match[1]!, where);
  if (!Number.isFinite(amount)) {
    throw badInput(where, `${where}: “${text}” is not a finite number. Type one such as ${example}.`);
  }
  if (amount < 0) throw badInput(where, `${where}: “${text}” is less than nothing. Type an amount such as ${example}.`);
  return { amount, unit: match[2]! };
}

/** Bytes that one of a unit stands for, or undefined when the spelling is no unit of data. */
function bytesPerUnit(unit: string, where: string): number | undefined {
  if (unit === '' || unit === 'B' || unit === 'bytes' || unit === 'byte') return 1;
  if (unit === 'b' || unit === 'bit' || unit === 'bits') return 1 / 8;
  const match = /^([kKMGTP]i?)(B|b|bit)$/.exec(unit);
  if (match) {
    const prefix = match[1] === 'K' ? 'k' : match[1] === 'ki' ? 'Ki' : match[1]!;
    const decimal = DECIMAL_PREFIXES.indexOf(prefix);
    const size = decimal >= 0 ? 1000 ** decimal : 1024 ** BINARY_PREFIXES.indexOf(prefix);
    return match[2] === 'B' ? size : size / 8;
  }
  if (/^[kmgtp]i?b?$/i.test(unit)) {
    const prefix = unit.charAt(0) === 'k' || unit.charAt(0) === 'K' ? 'k' : unit.charAt(0).toUpperCase();
    throw badInput(
      where,
      `${where}: “${unit}” can mean bytes or bits, a factor of eight apart. Type ${prefix}B for bytes or ${prefix}b for bits.`,
    );
  }
  return undefined;
}

/**
 * Bytes of a typed amount: `2GB`, `8 MiB`, `530 MB`, `1.5TB`, `4096`.
 * @returns whole bytes; fractions are rounded to the nearest.
 * @throws Problem `bad-input` on text without a number, on units that are none or ambiguous.
 */
export function parseBytes(text: string, where = 'size'): number {
  const { amount, unit } = splitNumber(text, where, '2 GB');
  const factor = bytesPerUnit(unit, where);
  if (factor === undefined) {
    throw badInput(where, `${where}: “${unit}” is not a unit of data. Use kB, MB, GB, TB, KiB, MiB or GiB.`);
  }
  return Math.round(amount * factor);
}

/** A rate anywhere in a line, as {@link parseRate} reads it. */
export const RATE_PATTERN = String.raw`\d[\d.,]*\s*[kMGT]?i?(?:[Bb]|bit)(?:ps|\s*\/\s*s(?:ec(?:ond)?)?|\s+per\s+s(?:ec(?:ond)?)?)`;

/**
 * Bytes per second of a typed rate: `530MB/s`, `530 MB/sec`, `530 MBps`, `4.4 Gb/s`, `300 Mbps`.
 * @throws Problem `bad-input` as {@link parseBytes}, and when the “per second” is missing.
 */
export function parseRate(text: string, where = 'rate'): number {
  const trimmed = text.trim();
  const perSecondInShort = /^(.*\d)\s*([kMGT]i?[bB])ps$/.exec(trimmed);
  if (perSecondInShort) return parseRate(`${perSecondInShort[1]} ${perSecondInShort[2]}/s`, where);
  const perSecond = /^(.*?)\s*(?:\/|\bper\b)\s*(?:s|sec|second)$/.exec(trimmed);
  if (!perSecond) {
    throw badInput(where, `${where}: “${text}” is not a rate. Type an amount per second, such as 530 MB/s.`);
  }
  const { amount, unit } = splitNumber(perSecond[1]!, where, '530 MB/s');
  const factor = unit === '' ? undefined : bytesPerUnit(unit, where);
  if (factor === undefined) {
    throw badInput(where, `${where}: “${text}” has no unit of data. Type one such as 530 MB/s or 4.4 Gb/s.`);
  }
  return amount * factor;
}

const SECONDS_PER_UNIT: Record<string, number> = {
  us: 1e-6,
  // The micro sign and the Greek letter, which look alike.
  '\u00b5s': 1e-6,
  '\u03bcs': 1e-6,
  ms: 0.001,
  s: 1,
  sec: 1,
  secs: 1,
  second: 1,
  seconds: 1,
  m: 60,
  min: 60,
  mins: 60,
  minute: 60,
  minutes: 60,
  h: 3600,
  hr: 3600,
  hrs: 3600,
  hour: 3600,
  hours: 3600,
  d: 86400,
  day: 86400,
  days: 86400,
  week: 604800,
  weeks: 604800,
};

/** Of units under a second it is the whole number of them that is exact. */
const inSeconds = (amount: number, unit: number): number => (unit < 1 ? amount / Math.round(1 / unit) : amount * unit);

/** A clock as decks and players show it: minutes and seconds, with hours before them where there are any. */
const CLOCK = /^(?:(\d{1,4}):)?(\d{1,3}):(\d{2}(?:[.,]\d+)?)$/;

/**
 * Seconds of a typed time span: `2h`, `40 min`, `1h 30min`, `1h20`, `90`, `1.5 s`, and as a clock `18:32` (minutes and seconds)
 * or `1:02:30`. A bare number is seconds.
 * @throws Problem `bad-input` on anything else.
 */
export function parseDuration(text: string, where = 'duration'): number {
  const trimmed = text.trim();
  if (/^\d[\d.,]*$/.test(trimmed)) return finite(parseNumber(trimmed, where));
  const clock = CLOCK.exec(trimmed);
  if (clock) {
    const [hours, minutes, seconds] = [clock[1] ?? '0', clock[2]!, clock[3]!.replace(',', '.')].map(Number) as [
      number,
      number,
      number,
    ];
    if (seconds < 60 && (clock[1] === undefined || minutes < 60)) return hours * 3600 + minutes * 60 + seconds;
    throw badInput(where, `${where}: “${text}” is no time on a clock: minutes and seconds go up to 59.`);
  }
  // As people say it: 1h20, and 2:30 h for hours and minutes.
  const hours = /^(\d{1,4}):([0-5]\d)\s*(?:h|hrs?|hours?)$/.exec(trimmed);
  if (hours) return Number(hours[1]) * 3600 + Number(hours[2]) * 60;
  const short = /^(\d+)\s*h\s*([0-5]?\d)$/.exec(trimmed);
  if (short) return Number(short[1]) * 3600 + Number(short[2]) * 60;
  const parts = [...trimmed.toLowerCase().matchAll(/(\d[\d.,]*)\s*([a-z\u00b5\u03bc]+)\s*/g)];
  const covered = parts.reduce((length, part) => length + part[0].length, 0);
  const known = parts.every((part) => SECONDS_PER_UNIT[part[2]!] !== undefined);
  if (parts.length === 0 || covered !== trimmed.length || !known) {
    throw badInput(where, `${where}: “${text}” is not a time span. Type one such as 40 min, 2h, 90 s or 18:32.`);
  }
  return finite(
    parts.reduce((sum, part) => sum + inSeconds(parseNumber(part[1]!, where), SECONDS_PER_UNIT[part[2]!]!), 0),
  );

  function finite(seconds: number): number {
    if (Number.isFinite(seconds)) return seconds;
    throw badInput(where, `${where}: “${text}” is not a time span. Type one such as 40 min, 2h, 90 s or 18:32.`);
  }
}

/** A buffer as it was given. */
export interface Buffer {
  unit: 'seconds' | 'bytes';
  amount: number;
}

/**
 * A buffer in seconds of what is recorded or played, such as `1 s`, or in bytes; it says which was given.
 * @throws Problem `bad-input` on anything else
 */
export function parseBuffer(text: string, where = 'buffer'): Buffer {
  const typed = text.trim();
  return /\d\s*(ms|s|sec|min)$/.test(typed)
    ? { unit: 'seconds', amount: parseDuration(typed, where) }
    : { unit: 'bytes', amount: parseBytes(typed, where) };
}

const LOUDEST_DECIBELS = 140;

/** A sound level: `34.5`, `34,5 dB(A)`. @throws Problem `bad-input` on what no room and no drive is */
export function parseDecibels(text: string, where: string): number {
  const decibels = parseNumber(text.replace(/\s*dB\s*(?:\(?A\)?)?\s*$/i, ''), where);
  if (decibels >= 0 && decibels <= LOUDEST_DECIBELS) return decibels;
  throw badInput(where, `${where}: “${text}” is no level from 0 to ${LOUDEST_DECIBELS} dB(A). Type one such as 34.5.`);
}

/**
 * A share typed as `25%` or `0.25`.
 * @throws Problem `bad-input` on anything else, and on a bare number above 1: 25 is hardly twenty-five times.
 */
export function parseShare(text: string, where = 'share'): number {
  const match = /^(\d[\d.,]*)\s*(%|per cent|percent)?$/.exec(text.trim());
  const value = match ? parseNumber(match[1]!, where) : NaN;
  if (Number.isFinite(value)) {
    if (match![2] !== undefined) return value / 100;
    if (value <= 1) return value;
    throw badInput(
      where,
      `${where}: “${text.trim()}” can mean ${text.trim()} % or ${text.trim()} times. Type ${text.trim()}% or ${value * 100}%.`,
    );
  }
  throw badInput(where, `${where}: “${text}” is not a share. Type one such as 25% or 0.25.`);
}

/** A whole number of at least `least`. @throws Problem `bad-input` on anything else. */
export function parseCount(text: string, where: string, least = 1): number {
  const value = parseNumber(text, where);
  if (!Number.isInteger(value) || value < least) {
    throw badInput(where, `${where}: “${text}” is not a whole number of at least ${least}.`);
  }
  return value;
}

const FRAME_RANGE = /^(?:frames?\s+)?(\d{1,9})\s*(?:–|-|to|…|\.\.)\s*(\d{1,9})(?:\s+frames?)?$/i;

/**
 * Number of frames: `240`, `240 frames`, or the first and the last of them, `1001–1240`, both counted.
 * @throws Problem `bad-input` on anything else
 */
export function parseFrameCount(text: string, where = 'frames'): number {
  const range = FRAME_RANGE.exec(text.trim());
  if (!range) return parseCount(text.trim().replace(/\s*frames?$/i, ''), where);
  const [first, last] = [Number(range[1]), Number(range[2])];
  if (last < first)
    throw badInput(where, `${where}: “${text.trim()}” ends before it begins. Type the first frame before the last.`);
  return last - first + 1;
}

/** Whether a text is a stretch of frames, and no plain number. */
export const isFrameRange = (text: string): boolean => FRAME_RANGE.test(text.trim());

/**
 * How many times smaller something becomes: `2.5:1`, `2.5`, `1` for nothing.
 * @throws Problem `bad-input` on anything else, and on what would make it larger
 */
export function parseRatio(text: string, where = 'ratio'): number {
  const match = /^(\d[\d.,]*)(?:\s*(?::|\bto\b)\s*(\d[\d.,]*))?$/.exec(text.trim());
  const ratio = match
    ? parseNumber(match[1]!, where) / (match[2] === undefined ? 1 : parseNumber(match[2], where))
    : NaN;
  if (Number.isFinite(ratio) && ratio >= 1) return ratio;
  throw badInput(where, `${where}: “${text.trim()}” is no ratio of at least 1. Type one such as 2.5:1, or 1 for none.`);
}

/** Two readings of a size or rate that differ by a factor of eight, to be asked about. */
export interface Ambiguity {
  bytes: { text: string; value: number };
  bits: { text: string; value: number };
}

/**
 * Whether a typed amount could mean bits or bytes: “10 gb”, “10 G”, and “10 Gb” where a size is
 * asked for and hardly anybody counts in bits. Null when it says clearly what it means.
 * @param what rates are often given in bits, so `Gb/s` is clear there
 */
export function ambiguityOf(text: string, what: 'size' | 'rate'): Ambiguity | null {
  const match = /^\s*([\d.,]+)\s*([kKmMgGtTpP])(i?)([bB]?)\s*(\/\s*s|ps)?\s*$/.exec(text);
  if (!match) return null;
  const [, amount, prefix, binary, letter, perSecond] = match;
  if ((what === 'rate') !== (perSecond !== undefined)) return null;
  const clearPrefix = prefix === 'k' || prefix === 'K' ? 'k' : prefix!.toUpperCase();
  if (letter === 'B' && (prefix === clearPrefix || prefix === 'K')) return null;
  if (what === 'rate' && letter === 'b' && prefix === clearPrefix) return null;
  const spelled = (unit: 'B' | 'b') =>
    `${amount} ${clearPrefix === 'k' && binary ? 'K' : clearPrefix}${binary}${unit}${what === 'rate' ? '/s' : ''}`;
  const read = what === 'rate' ? parseRate : parseBytes;
  const of = (unit: 'B' | 'b') => ({ text: spelled(unit), value: read(spelled(unit)) });
  return { bytes: of('B'), bits: of('b') };
}
