import { dataRate, layoutById, type Format } from '#core/2-trade/media/data-rate.ts';
import { UNCOMPRESSED } from '#core/2-trade/media/pixel-layouts.ts';
import { parseFormatText } from '#core/2-trade/media/format-text.ts';
import { badInput, Problem } from '#core/1-ground/problem.ts';
import { typedRate } from '#core/3-jobs/demand/essences/own.ts';
import { amountAsSaid } from '#core/5-answers/sizing/as-said.ts';
import {
  isFrameRange,
  parseBytes,
  parseDuration,
  parseFrameCount,
  parseNumber,
  parseRate,
} from '#core/1-ground/units/quantity.ts';

/**
 * How much material comes, as people reckon it: a product of one thing that has a size, and of counts. What is
 * recorded has a rate and a time, “3 × 3840x2160 VC-3 444 25p × 4 h”; a cache has frames and versions,
 * “420 frames × 1.6 GB × 3 versions” or “1001–1420 × 1.6 GB”; an install is “6 × 92 GB”.
 */

const EXAMPLES = '3.2 TB; 3 × 3840x2160 VC-3 444 25p × 4 h; 420 frames × 1.6 GB × 3 versions';
const COUNT = /^(\d[\d.,]*)(?:\s+[a-z][a-z ]*)?$/i;
const TIMES = 's|secs?|seconds?|min|mins|minutes?|h|hrs?|hours?';
const SPAN = new RegExp(
  String.raw`^\d[\d.,]*\s*(?:${TIMES})(?:\s*\d[\d.,]*\s*(?:${TIMES}))*$|^\d+\s*h\s*[0-5]?\d$|^\d{1,4}:\d\d(?::\d\d)?(?:\s*(?:h|hrs?|hours?))?$`,
);
const RATE = /\/\s*s$|bps$/;
const BYTES = /^[\d.,]+\s*(?:[kKMGTP]i?)?B$/;

interface Factor {
  kind: 'count' | 'bytes' | 'rate' | 'seconds';
  value: number;
  /** Of a format: one stream of it. */
  streamBytesPerSecond?: number;
  isTakenAsUncompressed?: boolean;
}

/** Samples as they are, uncoded. */
const isPlain = ({ layoutId, ratio }: Format): boolean =>
  (ratio ?? 1) <= 1 && layoutById(layoutId).label.endsWith(UNCOMPRESSED);

function factorOf(text: string, where: string): Factor {
  if (/^[-−–]\s*\d/.test(text)) throw badInput(where, `${where}: “${text}” is less than nothing.`);
  if (BYTES.test(text)) return { kind: 'bytes', value: parseBytes(text, where) };
  if (SPAN.test(text)) return { kind: 'seconds', value: parseDuration(text, where) };
  if (new RegExp(String.raw`^\d\S*\s*(?:${TIMES})$`).test(text))
    return { kind: 'seconds', value: parseDuration(text, where) };
  if (RATE.test(text) && !/\d\s*x\s*\d/i.test(text)) return { kind: 'rate', value: parseRate(text, where) };
  if (isFrameRange(text)) return { kind: 'count', value: parseFrameCount(text, where) };
  const count = COUNT.exec(text);
  if (count && !/^[\d.,]+\s*[kmgtp]i?b?$/i.test(text)) return { kind: 'count', value: parseNumber(count[1]!, where) };
  // “10 tb” can be bits: the reader of bytes asks.
  if (/^[\d.,]+\s*[a-z]{1,3}$/i.test(text)) return { kind: 'bytes', value: parseBytes(text, where) };
  const named = typedRate(text);
  if (named) return { kind: 'rate', value: named.essence.bytesPerSecond * named.streams };
  const { format, streams } = parseFormatText(text, where);
  const isTakenAsUncompressed = isPlain(format) && !/\buncompressed\b|\bv210\b/i.test(text);
  return {
    kind: 'rate',
    value: dataRate(format, streams ?? 1).bytesPerSecond,
    streamBytesPerSecond: dataRate(format, 1).bytesPerSecond,
    isTakenAsUncompressed,
  };
}

/** What an amount was taken for beside its bytes. */
export interface AmountReading {
  bytes: number;
  /** Of one stream of a format; null for sizes and plain rates. */
  streamBytesPerSecond: number | null;
  /** Where a format could as well be coded: that it was taken as it is. */
  isTakenAsUncompressed: boolean;
}

/**
 * Bytes of an amount as it is typed; whole bytes.
 * @throws Problem `bad-input` that says which factor is at fault, or what is missing to come to bytes
 */
export const parseAmount = (text: string, where: string): number => readAmount(text, where).bytes;

/**
 * An amount with what it was taken for.
 * @throws Problem `bad-input` that says which factor is at fault, or what is missing to come to bytes
 */
export function readAmount(text: string, where: string): AmountReading {
  const factors = amountAsSaid(text)
    .split(/\s*[×*]\s*|\s+x\s+/)
    .map((part) => {
      try {
        return factorOf(part.trim(), where);
      } catch (error) {
        if (!(error instanceof Problem)) throw error;
        throw badInput(where, `${error.detail} “${text.trim()}” is no amount: type one such as ${EXAMPLES}.`);
      }
    });
  const count = (kind: Factor['kind']) => factors.filter((one) => one.kind === kind).length;
  const [bytes, rates, times] = [count('bytes'), count('rate'), count('seconds')];
  const isSize = bytes === 1 && rates + times === 0;
  const isRecorded = rates === 1 && times === 1 && bytes === 0;
  if (!isSize && !isRecorded) {
    const missing =
      rates === 1 && times + bytes === 0
        ? 'for how long? Add × 4 h'
        : times === 1 && rates + bytes === 0
          ? 'of what? Name a format or a rate'
          : 'it needs one size, or one format and one time';
    throw badInput(where, `${where}: “${text.trim()}”: ${missing}. Amounts are typed such as ${EXAMPLES}.`);
  }
  const rate = factors.find(({ kind }) => kind === 'rate');
  return {
    bytes: Math.round(factors.reduce((product, { value }) => product * value, 1)),
    streamBytesPerSecond: rate?.streamBytesPerSecond ?? null,
    isTakenAsUncompressed: rate?.isTakenAsUncompressed ?? false,
  };
}
