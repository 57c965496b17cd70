import { describe, expect, it } from 'vitest';
import { TOKENS, type TokenName } from '../theme/tokens.ts';

/** Relative luminance (WCAG 2.2). */
function luminance(hex: string): number {
  const [red, green, blue] = [1, 3, 5].map((at) => {
    const channel = parseInt(hex.slice(at, at + 2), 16) / 255;
    return channel <= 0.04045 ? channel / 12.92 : ((channel + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * red! + 0.7152 * green! + 0.0722 * blue!;
}

function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (light! + 0.05) / (dark! + 0.05);
}

const WORDS: TokenName[] = ['text', 'second', 'writing', 'reading', 'heat', 'holds', 'tight', 'breaks', 'notProven'];
const GROUNDS: TokenName[] = ['page', 'rail'];

describe.each(['dark', 'light'] as const)('words on their ground, %s', (scheme) => {
  it.each(WORDS.flatMap((word) => GROUNDS.map((ground) => [word, ground] as const)))(
    '%s on %s reaches 4.5 to 1',
    (word, ground) => {
      expect(contrast(TOKENS[scheme][word], TOKENS[scheme][ground])).toBeGreaterThanOrEqual(4.5);
    },
  );

  it('text and second reach it on raised surfaces too', () => {
    for (const word of ['text', 'second'] as const) {
      expect(contrast(TOKENS[scheme][word], TOKENS[scheme].raised)).toBeGreaterThanOrEqual(4.5);
    }
  });
});
