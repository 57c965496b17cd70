import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blockText, bytesText, formatClock, formatDuration, formatNumber, rateText } from '#core/units/format.ts';
import { frameRateText, parseFrameRate } from '#core/units/frame-rate.ts';
import { parseBytes, parseDuration, parseRate, parseShare } from '#core/units/quantity.ts';

describe('amounts as typed', () => {
  it.each([
    ['2GB', 2e9],
    ['8 MiB', 8 * 1024 * 1024],
    ['1.5 TB', 1.5e12],
    ['4096', 4096],
    ['1,000 kB', 1e6],
    ['8 Gb', 1e9],
  ])('%s', (text, bytes) => expect(parseBytes(text)).toBe(bytes));

  it.each([
    ['530MB/s', 530e6],
    ['4.4 Gb/s', 550e6],
    ['300 Mbps', 37.5e6],
  ])('%s', (text, rate) => expect(parseRate(text)).toBeCloseTo(rate, 6));

  it.each([
    ['2h', 7200],
    ['1h 30min', 5400],
    ['90', 90],
    ['1.5 s', 1.5],
    ['40 min', 2400],
  ])('%s', (text, seconds) => expect(parseDuration(text)).toBe(seconds));

  it('asks which is meant when bits and bytes could be confused', () => {
    expect(() => parseBytes('10 gb')).toThrow(/bytes or bits, a factor of eight apart\. Type GB/);
    expect(() => parseBytes('10 M')).toThrow(/Type MB for bytes or Mb for bits/);
  });

  it('refuses what is no amount', () => {
    for (const text of ['', 'lots', '12 parsecs', '1e400 GB']) expect(() => parseBytes(text)).toThrow(/size:/);
    expect(() => parseRate('530 MB')).toThrow(/not a rate/);
    expect(() => parseDuration('soon')).toThrow(/not a time span/);
    expect(() => parseShare('some')).toThrow(/not a share/);
    expect(parseShare('25%')).toBe(parseShare('0.25'));
  });
});

describe('figures as read', () => {
  it('keeps three digits and the unit that fits after rounding', () => {
    expect(bytesText(46.24e9)).toBe('46.2\u202fGB');
    expect(bytesText(999.7e6)).toBe('1\u202fGB');
    expect(rateText(5_246e6)).toBe('5,250\u202fMB/s');
    expect(formatNumber(1234567.8912, 'full')).toBe('1,234,567.891');
    expect(blockText(8 << 20)).toBe('8\u202fMiB');
  });

  it('says spans of time as people do', () => {
    expect([0.00009, 0.35, 12.54, 86, 9480, 3600, 440_000].map(formatDuration)).toEqual([
      '90 µs',
      '350 ms',
      '12.5 s',
      '1 min 26 s',
      '2 h 38 min',
      '1 h',
      '5 days',
    ]);
    expect([7, 765, 3729].map(formatClock)).toEqual(['0:07', '12:45', '1:02:09']);
  });

  it('reads back its own bytes to three digits', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 9e14 }), (bytes) => {
        const again = parseBytes(bytesText(bytes).replace('\u202f', ' '));
        expect(Math.abs(again - bytes) / bytes).toBeLessThanOrEqual(0.005);
      }),
    );
  });
});

describe('frame rates', () => {
  it.each([
    ['24000/1001', 24000, 1001],
    ['23.976', 24000, 1001],
    ['23.98', 24000, 1001],
    ['29.97', 30000, 1001],
    ['119.88', 120000, 1001],
    ['50i', 25, 1],
    ['59.94i', 30000, 1001],
    ['12.5', 12500, 1000],
  ])('%s is %i/%i', (text, numerator, denominator) => expect(parseFrameRate(text)).toEqual({ numerator, denominator }));

  it('are shown by their usual names', () => {
    expect(frameRateText({ numerator: 24000, denominator: 1001 })).toBe('23.976');
  });
});
