import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { currenciesIn, parseMoney } from '#core/1-ground/units/money.ts';

describe('prices as they are typed', () => {
  it.each([
    ['€189', 189, 'EUR'],
    ['189 €', 189, 'EUR'],
    ['1,299.50 EUR', 1299.5, 'EUR'],
    ['1.299,50 EUR', 1299.5, 'EUR'],
    ['$ 40', 40, 'USD'],
    ['£1,250', 1250, 'GBP'],
    ['530', 530, ''],
    ['0', 0, ''],
    ['EUR 189', 189, 'EUR'],
    ['530 eur', 530, 'EUR'],
    ['1 299 EUR', 1299, 'EUR'],
    ['1\u202f299,50 €', 1299.5, 'EUR'],
    ["1'299.50 CHF", 1299.5, 'CHF'],
  ])('“%s”', (text, amount, currency) => expect(parseMoney(text)).toEqual({ amount, currency }));

  it.each(['', 'dear', '-5 EUR', '€5 EUR', '5 EURO', '2000000000', '1e9', '7200 rpm', '12 34 EUR', 'EUR 5 USD'])(
    '“%s” is none',
    (text) => expect(() => parseMoney(text)).toThrow(/price: .*is no price|price: .*can mean/),
  );

  it('are the same after they were written in any of the ways', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 99_999_999 }), (cents) => {
        const amount = cents / 100;
        const written = amount.toLocaleString('en-GB', { minimumFractionDigits: 2 });
        expect(parseMoney(`€${written}`).amount).toBe(amount);
        expect(parseMoney(`${amount.toFixed(2).replace('.', ',')} EUR`).amount).toBe(amount);
      }),
    );
  });

  it('tell their currencies in a line, and take nothing else for one', () => {
    expect(currenciesIn('card €120 + cable 40 EUR + tray 12 each')).toEqual(['EUR']);
    expect(currenciesIn('Shelf: 12 slots over SATA 6 Gb/s, 900 USD + rails £60')).toEqual(['USD', 'GBP']);
    expect(currenciesIn('Box: 8 slots, 420')).toEqual([]);
  });
});
