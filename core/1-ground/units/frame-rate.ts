import { badInput } from '#core/1-ground/problem.ts';

/** Frames per second as a ratio of whole numbers: 23.976 is 24000/1001 and nothing else. */
export interface FrameRate {
  numerator: number;
  denominator: number;
}

/** Every usual frame rate from 23.976 to 120 (SMPTE ST 2036-1, ST 274, ST 428-11). */
export const FRAME_RATES: readonly FrameRate[] = [
  { numerator: 24000, denominator: 1001 },
  { numerator: 24, denominator: 1 },
  { numerator: 25, denominator: 1 },
  { numerator: 30000, denominator: 1001 },
  { numerator: 30, denominator: 1 },
  { numerator: 48000, denominator: 1001 },
  { numerator: 48, denominator: 1 },
  { numerator: 50, denominator: 1 },
  { numerator: 60000, denominator: 1001 },
  { numerator: 60, denominator: 1 },
  { numerator: 72, denominator: 1 },
  { numerator: 96, denominator: 1 },
  { numerator: 100, denominator: 1 },
  { numerator: 120000, denominator: 1001 },
  { numerator: 120, denominator: 1 },
];

export function framesPerSecond(rate: FrameRate): number {
  return rate.numerator / rate.denominator;
}

/** `24000/1001` → `23.976`, `25/1` → `25`. */
export function frameRateText(rate: FrameRate): string {
  return String(Number(framesPerSecond(rate).toFixed(3)));
}

/** Whole rates of which the trade has one that is slower by 1000/1001. */
const SLOWED_RATES: readonly number[] = [24, 30, 48, 60, 72, 96, 120, 240];

/**
 * Reads `24000/1001`, `23.976`, `23.98`, `29.97`, `25`, `25p`, and `50i` (interlaced: half the
 * field rate, SMPTE ST 274), with a decimal comma as well. Decimals within 0.01 of a usual n·1000/1001 rate are that rate.
 * @throws Problem `bad-input`
 */
export function parseFrameRate(text: string, where = 'fps'): FrameRate {
  const match = /^(\d+)(?:\/(\d+)|([.,]\d+))?\s*([pi]|fps)?$/.exec(text.trim());
  const fault = () =>
    badInput(where, `${where}: “${text}” is not a frame rate. Type one such as 25, 23.976, 24000/1001 or 50i.`);
  if (!match) throw fault();
  const [, whole, denominatorText, decimals, suffix] = match;
  const denominator = denominatorText === undefined ? 1 : Number(denominatorText);
  let rate: FrameRate = { numerator: Number(whole), denominator };
  if (decimals !== undefined) {
    const value = Number(`${whole}${decimals.replace(',', '.')}`);
    const nearest = Math.ceil(value);
    const isSlowed = SLOWED_RATES.includes(nearest) && value < nearest;
    rate =
      isSlowed && Math.abs((nearest * 1000) / 1001 - value) < 0.01
        ? { numerator: nearest * 1000, denominator: 1001 }
        : reduced({ numerator: Math.round(value * 1000), denominator: 1000 });
  }
  if (suffix === 'i') rate = reduced({ numerator: rate.numerator, denominator: rate.denominator * 2 });
  const value = framesPerSecond(rate);
  if (!(value > 0) || value > 1000) throw fault();
  return rate;
}

function reduced(rate: FrameRate): FrameRate {
  let [a, b] = [rate.numerator, rate.denominator];
  while (b > 0) [a, b] = [b, a % b];
  return { numerator: rate.numerator / a, denominator: rate.denominator / a };
}
