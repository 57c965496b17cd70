import { number, object, string, type InferType } from 'yup';
import type { FieldKind } from '#core/1-ground/fields/field.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { parseMoney } from '#core/1-ground/units/money.ts';
import { parseNumber } from '#core/1-ground/units/quantity.ts';

/** A processor that could be bought instead of a drive. */
export const processorSchema = object({
  /** So many times as fast as the one that the times were typed for. */
  factor: number().min(1).max(1000).required(),
  price: number().min(0).max(1e9).nullable().defined(),
  currency: string().defined().max(8),
});
export type FasterProcessor = InferType<typeof processorSchema>;

const TYPED = /^(\d[\d.,]*)\s*(?:x|×|times)?(?:\s+(?:as fast|faster))?(?:\s*[,;]?\s+(?:for\s+)?(\S.*))?$/i;

/** “1.5 times, 600 EUR”, “2x”, “1.5x for €600”. @throws Problem `bad-input` */
export function parseProcessor(text: string, where = 'processor'): FasterProcessor {
  const match = TYPED.exec(text.trim());
  const factor = match ? parseNumber(match[1]!, where) : NaN;
  if (!match || !(factor >= 1) || factor > 1000) {
    throw badInput(
      where,
      `${where}: “${text.trim()}” is no processor. Type how many times as fast it is, and its price: 1.5 times, 600 EUR.`,
    );
  }
  const money = match[2] === undefined ? null : parseMoney(match[2], where);
  return { factor, price: money?.amount ?? null, currency: money?.currency ?? '' };
}

export const processorText = ({ factor, price, currency }: FasterProcessor): string =>
  `${factor} times${price === null ? '' : `, ${price} ${currency}`.trimEnd()}`;

export const PROCESSOR: FieldKind = { read: parseProcessor, show: (value) => processorText(value as FasterProcessor) };
