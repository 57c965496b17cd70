import { badInput } from '#core/1-ground/problem.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { parseNumber } from '#core/1-ground/units/quantity.ts';

/** Prices as they stand on price tags and in mails. */

const SIGNS: Readonly<Record<string, string>> = { '€': 'EUR', $: 'USD', '£': 'GBP' };
/** A price anywhere in a line: a sign before or behind it, or three capitals behind it. */
export const PRICE_PATTERN = String.raw`(?:[€$£]\s?)?[+-]?\d[\d.,]*(?:\s?(?:[€$£]|[A-Z]{3}\b))?`;
const PRICE = /^([€$£])?\s*([+-]?\d[\d.,]*)\s*([€$£]|[A-Z]{3})?$/;

export interface Money {
  amount: number;
  /** Three capitals, such as EUR; empty where none is said. */
  currency: string;
}

/**
 * `€189`, `189 €`, `1,299.50 EUR`, `1.299,50 EUR`, `530`.
 * @throws Problem `bad-input` on anything else, and on less than nothing
 */
export function parseMoney(text: string, where = 'price'): Money {
  const match = PRICE.exec(text.trim());
  const amount = match ? parseNumber(match[2]!, where) : NaN;
  if (match && Number.isFinite(amount) && amount >= 0 && amount <= 1e9 && !(match[1] && match[3])) {
    const sign = match[1] ?? match[3] ?? '';
    return { amount, currency: SIGNS[sign] ?? sign };
  }
  throw badInput(where, `${where}: “${text.trim()}” is no price. Type a number, nothing or more, such as 189 EUR.`);
}

/** Currencies that are named beside amounts in a text, each once. */
export function currenciesIn(text: string): string[] {
  const found = [
    ...text.matchAll(/([€$£])\s?\d|\d\s?([€$£]|(?:EUR|USD|GBP|CHF|SEK|NOK|DKK|PLN|CZK|JPY|CAD|AUD|INR)\b)/g),
  ];
  return [...new Set(found.map(([, before, behind]) => before ?? behind!).map((sign) => SIGNS[sign] ?? sign))];
}

/** “16,640 EUR”; the amount alone where nobody named a currency. */
export const moneyText = (amount: number, currency: string): string =>
  `${formatNumber(amount, 'full')} ${currency}`.trim();
