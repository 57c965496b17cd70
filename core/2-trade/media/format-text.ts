import type { FieldKind } from '#core/1-ground/fields/field.ts';
import { dataRate, layoutById, searchLayouts, type Format } from '#core/2-trade/media/data-rate.ts';
import { RAW, SHORT_RASTERS, TIFF, TRADE_NAMES } from '#core/2-trade/media/trade-names.ts';
import { LAYOUTS, UNCOMPRESSED, type Layout } from '#core/2-trade/media/pixel-layouts.ts';
import { NAMED_RASTERS, parseRaster, rasterText, type Raster } from '#core/2-trade/media/rasters.ts';
import { badInput, Problem } from '#core/1-ground/problem.ts';
import {
  FRAME_RATES,
  frameRateText,
  framesPerSecond,
  parseFrameRate,
  type FrameRate,
} from '#core/1-ground/units/frame-rate.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { NUMBER_WORDS, numberSaid, take } from '#core/1-ground/words.ts';

/** A format from a line, with the number of streams when the line says it. */
export interface ParsedFormat {
  format: Format;
  streams: number | null;
}

/** What could be read of a format as people type it: “3840x2160 4:2:2 10 bit 25p ×3”. */
export interface FormatReading {
  raster: Raster | null;
  frameRate: FrameRate | null;
  streams: number | null;
  ratio: number | null;
  megabitsPerSecond: number | null;
  /** Layouts that the remaining words name, the likeliest first; all of them when there are no words. */
  layouts: readonly Layout[];
  /** Words that name nothing. */
  unread: string[];
  /** The text as it was read: names of the trade replaced. */
  text: string;
  /** What was taken of what can mean several, each as a sentence. */
  assumed: string[];
}

const HEIGHTS: Record<string, Raster> = {
  480: { width: 720, height: 486 },
  486: { width: 720, height: 486 },
  576: { width: 720, height: 576 },
  720: { width: 1280, height: 720 },
  1080: { width: 1920, height: 1080 },
  2160: { width: 3840, height: 2160 },
  4320: { width: 7680, height: 4320 },
};

const rateOf = (text: string, scan: string): FrameRate | null => {
  try {
    const rate = parseFrameRate(text);
    // An interlaced format is named by its fields: 50i has 25 frames. Small numbers are frames already.
    return scan === 'i' && framesPerSecond(rate) > 30.01
      ? { numerator: rate.numerator, denominator: rate.denominator * 2 }
      : rate;
  } catch {
    return null;
  }
};

/** Reads whatever a typed format names, in any order; never throws. */
export function readFormatText(typed: string): FormatReading {
  // A comma is a decimal one where what follows says that a number ends there, and parts the thousands of a rate before
  // three digits; else it parts words.
  const decimal = typed
    .replaceAll(/(\d),(\d{3})(?=\s*[mg]b)/gi, '$1$2')
    .replaceAll(/(\d),(\d+)(?=\s*(?::1|[pi]\b|fps|[mg]b(?:it)?(?:\/|ps|\s+per)))/gi, '$1.$2');
  const text = { rest: ` ${decimal.replaceAll('×', 'x').replaceAll(/[,;]/g, ' ')} ` };
  const reading: FormatReading = {
    raster: null,
    frameRate: null,
    streams: null,
    ratio: null,
    megabitsPerSecond: null,
    layouts: LAYOUTS,
    unread: [],
    text: '',
    assumed: [],
  };
  readTradeNames(text, reading);
  reading.text = text.rest;
  const pixels = take(text, /\b(\d{2,5})\s*x\s*(\d{2,5})\b/i);
  if (pixels) reading.raster = { width: Number(pixels[1]), height: Number(pixels[2]) };
  reading.streams = takeStreams(text);
  readRate(text, reading);
  const ratio = take(text, /(?<![\d:])(\d+(?:\.\d+)?):1(?![\d:])/) ?? take(text, /\bratio\s*(\d+(?:\.\d+)?)/i);
  if (ratio) reading.ratio = Number(ratio[1]);
  if (!reading.raster) readNamedRaster(text, reading);
  readFrameRate(text, reading);
  readLayout(text, reading);
  return reading;
}

/** “×3”, “3 streams”, “three cameras”. */
function takeStreams(text: { rest: string }): number | null {
  const found = take(text, SEVERAL) ?? take(text, SEVERAL_IN_WORDS);
  if (!found) return null;
  return numberSaid(found[1] ?? found[2]!);
}

/** A typed format without how many there are of it. */
export function withoutStreams(typed: string): string {
  const text = { rest: ` ${typed.replaceAll('×', 'x')} ` };
  takeStreams(text);
  return text.rest.replaceAll(/\s+/g, ' ').trim();
}

const SEVERAL_THINGS = String.raw`(?:streams?|cameras?|angles?|feeds?)(?:\s+of)?`;
const SEVERAL = new RegExp(String.raw`\sx\s*(\d{1,4})(?=\s)|\s(\d{1,4})\s*(?:x|${SEVERAL_THINGS})(?=\s)`, 'i');
const SEVERAL_IN_WORDS = new RegExp(String.raw`\s(${NUMBER_WORDS.slice(1).join('|')})\s+${SEVERAL_THINGS}(?=\s)`, 'i');

/** The rate at which a camera codes: of bits as it is, of bytes times eight; `M` alone stands for megabits in names. */
function readRate(text: { rest: string }, reading: FormatReading): void {
  const rate = take(text, /(?<=\s)(\d+(?:\.\d+)?)\s*([mg])(b(?:it)?)(?:\/\s*|\s+per\s+|p)s(?:ec(?:ond)?)?(?=\s)/i);
  if (rate) {
    const megabits = Number(rate[1]) * (rate[2]!.toLowerCase() === 'g' ? 1000 : 1);
    reading.megabitsPerSecond = rate[3] === 'B' ? 8 * megabits : megabits;
    if (rate[2] === 'm' && rate[3] === 'b')
      reading.assumed.push(`“${rate[0].trim()}” is taken as megabits, not megabytes.`);
    return;
  }
  const named = take(text, /(?<=\s)(\d{2,4})M(?=\s)/);
  if (!named) return;
  reading.megabitsPerSecond = Number(named[1]);
  reading.assumed.push(`${named[1]}M is taken as ${named[1]} Mb/s.`);
}

/** Names of the trade become words that are known here. */
function readTradeNames(text: { rest: string }, { assumed }: FormatReading): void {
  for (const [typed, words] of TRADE_NAMES) text.rest = text.rest.replaceAll(typed, words);
  if (text.rest.search(TIFF.typed) >= 0) {
    text.rest = text.rest.replaceAll(TIFF.typed, /\brgba?\b/i.test(text.rest) ? ' ' : ' rgb ');
    assumed.push(TIFF.said);
  }
  for (const { typed, raster, said } of SHORT_RASTERS) {
    if (text.rest.search(typed) < 0) continue;
    text.rest = text.rest.replaceAll(typed, ` ${raster} `);
    if (said !== null) assumed.push(said);
  }
  if (text.rest.search(RAW.typed) >= 0 && !/bayer/i.test(text.rest)) {
    text.rest = text.rest.replaceAll(RAW.typed, RAW.words);
    assumed.push(RAW.said);
  }
}

function readNamedRaster(text: { rest: string }, reading: FormatReading): void {
  const height = take(text, /\b(480|486|576|720|1080|2160|4320)([pi])(\d+(?:\.\d+)?)?(?=\s)/i);
  if (height) {
    reading.raster = HEIGHTS[height[1]!]!;
    if (height[3]) reading.frameRate = rateOf(height[3], height[2]!.toLowerCase());
    return;
  }
  const names = [...NAMED_RASTERS].sort((a, b) => b.name.length - a.name.length);
  for (const { name, width, height: lines } of names) {
    const pattern = new RegExp(`\\s${name.replaceAll(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?=\\s)`, 'i');
    if (take(text, pattern)) {
      reading.raster = { width, height: lines };
      return;
    }
  }
  const short = take(text, /\s(hd|dome)(?=\s)/i);
  if (short) reading.raster = short[1]!.toLowerCase() === 'hd' ? HEIGHTS[1080]! : { width: 4096, height: 4096 };
}

function readFrameRate(text: { rest: string }, reading: FormatReading): void {
  if (reading.frameRate) return;
  const marked =
    take(text, /\s(?:at\s+)?(\d+(?:\.\d+)?(?:\/\d+)?)\s*(p|i|fps|psf)(?=\s)/i) ??
    take(text, /\sat\s+(\d+(?:\.\d+)?(?:\/\d+)?)(?=\s)/i) ??
    take(text, /\s(\d{5,6}\/\d{4})(?=\s)/);
  if (marked) {
    reading.frameRate = rateOf(marked[1]!, (marked[2] ?? '').toLowerCase());
    return;
  }
  // A bare number is a frame rate when it is a usual one and stands last, or has decimals.
  const bare = take(text, /\s(\d{2,3}\.\d+|\d{2,3})\s*$/);
  const rate = bare && rateOf(bare[1]!, '');
  if (rate && FRAME_RATES.some((one) => framesPerSecond(one) === framesPerSecond(rate))) reading.frameRate = rate;
  else if (bare) text.rest += ` ${bare[1]} `;
}

function readLayout(text: { rest: string }, reading: FormatReading): void {
  const words = text.rest
    .toLowerCase()
    .replaceAll(/\b(\d+)[\s-]*bits?\b/g, '$1-bit')
    .split(/\s+/)
    .filter((word) => word !== '' && word !== 'at' && word !== '@');
  if (words.length === 0) return;
  const known = words.filter((word) => searchLayouts(word).length > 0);
  const unread = words.filter((word) => !known.includes(word));
  // What is coded at a rate that was typed counts by that, by whatever codec.
  const isByRate = unread.length > 0 && known.length === 0 && reading.megabitsPerSecond !== null;
  if (isByRate) {
    reading.assumed.push(`“${unread.join(' ')}” is not known here: it counts by the rate that was typed.`);
    return;
  }
  reading.unread = unread;
  if (known.length === 0) {
    reading.layouts = [];
    return;
  }
  const query = known.join(' ');
  const all = searchLayouts(query);
  // Whole words say more than parts of words: RGB is not RGBA.
  const whole = all.filter(({ id, label }) => {
    const own = [...id.split('-'), ...label.toLowerCase().split(/[\s,]+/), id];
    return known.every((word) => own.includes(word));
  });
  const found = whole.length > 0 ? whole : all;
  // The one whose own name is closest to what was typed comes first: “4:2:2 10-bit” before what only contains it.
  const distance = ({ id, label }: Layout) =>
    id === query || plainLabel(label) === query.replace(UNCOMPRESSED, '')
      ? 0
      : plainLabel(label).startsWith(query.replace(UNCOMPRESSED, ''))
        ? 1
        : 2 + label.length / 100;
  reading.layouts = [...found].sort((a, b) => distance(a) - distance(b));
}

const plainLabel = (label: string): string => label.toLowerCase().replace(UNCOMPRESSED, '');

/** What a format is called beside its raster and rate: its layout, compressed where it is. */
export function layoutText({ layoutId, ratio = 1 }: Pick<Format, 'layoutId' | 'ratio'>): string {
  const { label } = layoutById(layoutId);
  return ratio > 1 ? `${label.replace(UNCOMPRESSED, '')} ${formatNumber(ratio)}:1` : label;
}

/** A format as it is typed and shown: {@link readFormatText} reads it again. */
export function formatTextOf({ raster, layoutId, frameRate, ratio, megabitsPerSecond }: Format): string {
  const label = layoutById(layoutId).label.replace((ratio ?? 1) > 1 ? UNCOMPRESSED : '\0', '');
  const parts = [rasterText(raster), label, `${frameRateText(frameRate)}p`];
  if (ratio !== undefined && ratio !== 1) parts.push(`${formatNumber(ratio)}:1`);
  if (megabitsPerSecond !== undefined) parts.push(`${formatNumber(megabitsPerSecond)} Mb/s`);
  return parts.join(' ');
}

/**
 * The format that a typed text names, and how many streams where it says.
 * @throws Problem `bad-input` that says what is missing or ambiguous, and what could be meant
 */
export function parseFormatText(typed: string, where = 'format'): ParsedFormat {
  const reading = readFormatText(typed);
  const example = 'Type one such as 3840x2160 4:2:2 10 bit 25p.';
  if (typed.trim() === '') throw badInput(where, `${where}: is empty. ${example}`);
  if (!reading.raster) throw badInput(where, `${where}: the raster is missing. ${example}`);
  parseRaster(rasterText(reading.raster), where);
  if (reading.unread.length > 0 || reading.layouts.length === 0) {
    const words = reading.unread.length > 0 ? reading.unread.join(' ') : typed.trim();
    throw badInput(
      where,
      `${where}: “${words}” names no layout or codec known here. ${example} What is coded counts by its rate: UHD 25p 400 Mb/s.`,
    );
  }
  const megabits = reading.megabitsPerSecond;
  const { layouts } = reading;
  const isUnnamed = layouts.length === LAYOUTS.length;
  const isOneOfSeveral = layouts.length > 1 && !isExact(layouts[0]!, reading.text);
  if (isUnnamed && megabits === null) throw badInput(where, `${where}: the layout or codec is missing. ${example}`);
  if (isOneOfSeveral && megabits === null) {
    const names = layouts
      .slice(0, 4)
      .map((one) => one.label)
      .join(', ');
    throw badInput(
      where,
      `${where}: this could be ${names}${layouts.length > 4 ? ' and others' : ''}. Name one of them.`,
    );
  }
  // Samples at a rate of their own are coded; by which codec does not matter for the bytes.
  const isCoded = isUnnamed || isOneOfSeveral || layouts.every((one) => one.kind !== 'rate');
  const layout = megabits !== null && isCoded ? LONG_GOP : layouts[0]!;
  if (!reading.frameRate) throw badInput(where, `${where}: the frame rate is missing. ${example}`);
  const format: Format = {
    layoutId: layout.id,
    raster: reading.raster,
    frameRate: reading.frameRate,
    ...(reading.ratio === null ? {} : { ratio: reading.ratio }),
    ...(reading.megabitsPerSecond === null ? {} : { megabitsPerSecond: reading.megabitsPerSecond }),
  };
  try {
    dataRate(format);
  } catch (error) {
    if (error instanceof Problem && error.where === 'mbps') {
      throw badInput(where, `${where}: ${layout.label} needs its rate, such as 100 Mb/s at the end.`);
    }
    throw error;
  }
  return { format, streams: reading.streams };
}

/** What is coded at a rate of its own, by a codec that does not matter for the bytes. */
const LONG_GOP = layoutById('long-gop');

/** Whether a layout is named whole by a text that others match too: “VC-3 HQ” is not VC-3 HQX. */
function isExact({ id, label }: Layout, typed: string): boolean {
  const plain = (text: string) =>
    ` ${text
      .toLowerCase()
      .replaceAll(/\b(\d+)[\s-]*bits?\b/g, '$1-bit')
      .replaceAll(/\s+/g, ' ')} `;
  return plain(typed).includes(plain(plainLabel(label))) || plain(typed).includes(` ${id} `);
}

/** Raster, layout and frame rate in one line. */
export const FORMAT: FieldKind = {
  as: 'format',
  read: (text) => parseFormatText(text),
  show: ({ format }: ParsedFormat) => formatTextOf(format),
};
