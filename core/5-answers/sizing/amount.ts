import { dataRate } from '#core/2-trade/media/data-rate.ts';
import { parseFormatText } from '#core/2-trade/media/format-text.ts';
import { badInput, Problem } from '#core/1-ground/problem.ts';
import { parseBytes, parseDuration, parseRate } from '#core/1-ground/units/quantity.ts';

/**
 * How much material comes, as people reckon it: a product of one thing that has a size, and of counts. What is
 * recorded has a rate and a time, “3 × 3840x2160 VC-3 444 25p × 4 h”; a cache has frames and versions,
 * “420 frames × 1.6 GB × 3 versions”; an install is “6 × 92 GB”.
 */

const EXAMPLES = '3.2 TB; 3 × 3840x2160 VC-3 444 25p × 4 h; 420 frames × 1.6 GB × 3 versions';
const COUNT = /^(\d+(?:\.\d+)?)(?:\s+[a-z][a-z ]*)?$/i;
const SPAN = /^\d[\d.]*\s*(?:s|min|h)(?:\s*\d[\d.]*\s*(?:s|min))*$/;
const RATE = /\/\s*s$|bps$/;
const BYTES = /^[\d.,]+\s*(?:[kKMGTP]i?)?B$/;

type Factor = { kind: 'count' | 'bytes' | 'rate' | 'seconds'; value: number };

function factorOf(text: string, where: string): Factor {
  if (BYTES.test(text)) return { kind: 'bytes', value: parseBytes(text, where) };
  if (SPAN.test(text)) return { kind: 'seconds', value: parseDuration(text, where) };
  if (RATE.test(text) && !/\d\s*x\s*\d/i.test(text)) return { kind: 'rate', value: parseRate(text, where) };
  const count = COUNT.exec(text);
  if (count && !/^[\d.]+\s*[kmgtp]i?b?$/i.test(text)) return { kind: 'count', value: Number(count[1]) };
  // “10 tb” can be bits: the reader of bytes asks.
  if (/^[\d.,]+\s*[a-z]{1,3}$/i.test(text)) return { kind: 'bytes', value: parseBytes(text, where) };
  const { format, streams } = parseFormatText(text, where);
  return { kind: 'rate', value: dataRate(format, streams ?? 1).bytesPerSecond };
}

/**
 * Bytes of an amount as it is typed; whole bytes.
 * @throws Problem `bad-input` that says which factor is at fault, or what is missing to come to bytes
 */
export function parseAmount(text: string, where: string): number {
  const factors = text.split(/\s*×\s*|\s+[x*]\s+/).map((part) => {
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
  return Math.round(factors.reduce((product, { value }) => product * value, 1));
}
