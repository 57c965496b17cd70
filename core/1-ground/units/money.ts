import { Problem, badInput } from '#core/1-ground/problem.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { parseNumber } from '#core/1-ground/units/quantity.ts';

/** Prices as they stand on price tags and in mails. */

const SIGNS: Readonly<Record<string, string>> = { '€': 'EUR', $: 'USD', '£': 'GBP' };
/** A price anywhere in a line: a sign before or behind it, or three capitals behind it. */
export const PRICE_PATTERN = String.raw`(?:[€$£]\s?)?[+-]?\d[\d.,]*(?:\s?(?:[€$£]|[A-Z]{3}\b))?`;
/** Currencies that are known in small letters too. */
const CODES = 'EUR|USD|GBP|CHF|SEK|NOK|DKK|PLN|CZK|JPY|CAD|AUD|INR';
const CODE = new RegExp(`^(?:${CODES})$`, 'i');
const PRICE = /^([€$£]|[a-z]{3}\b)?\s*([+-]?(?:\d{1,3}(?:['’\s]\d{3})+(?:[.,]\d+)?|\d[\d.,]*))\s*([€$£]|[a-z]{3})?$/i;

export interface Money {
  amount: number;
  /** Three capitals, such as EUR; empty where none is said. */
  currency: string;
}

/**
 * `€189`, `189 €`, `EUR 189`, `1,299.50 EUR`, `1.299,50 EUR`, `1 299 EUR`, `1'299.50 CHF`, `530`.
 * @throws Problem `bad-input` on anything else, and on less than nothing
 */
export function parseMoney(text: string, where = 'price'): Money {
  const match = PRICE.exec(text.trim());
  const amount = match ? parseNumber(match[2]!.replaceAll(/['’\s]/g, ''), where) : NaN;
  if (match && Number.isFinite(amount) && amount >= 0 && amount <= 1e9 && !(match[1] && match[3])) {
    const sign = match[1] ?? match[3] ?? '';
    const isKnown = sign === '' || sign in SIGNS || sign === sign.toUpperCase() || CODE.test(sign);
    if (isKnown) return { amount, currency: SIGNS[sign] ?? sign.toUpperCase() };
  }
  throw badInput(where, `${where}: “${text.trim()}” is no price. Type a number, nothing or more, such as 189 EUR.`);
}

/** A price that names its currency; null for anything else. */
export function pricedIn(text: string): Money | null {
  try {
    const money = parseMoney(text);
    return money.currency === '' ? null : money;
  } catch (error) {
    if (error instanceof Problem) return null;
    throw error;
  }
}

/** Currencies that are named beside amounts in a text, each once. */
export function currenciesIn(text: string): string[] {
  const found = [...text.matchAll(new RegExp(String.raw`([€$£])\s?\d|\d\s?([€$£]|(?:${CODES})\b)`, 'g'))];
  return [...new Set(found.map(([, before, behind]) => before ?? behind!).map((sign) => SIGNS[sign] ?? sign))];
}

/** “16,640 EUR”; the amount alone where nobody named a currency. */
export const moneyText = (amount: number, currency: string): string =>
  `${formatNumber(amount, 'full')} ${currency}`.trim();
