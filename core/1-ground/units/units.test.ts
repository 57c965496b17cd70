import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  blockText,
  bytesText,
  formatClock,
  formatDuration,
  formatNumber,
  rateText,
} from '#core/1-ground/units/format.ts';
import { frameRateText, parseFrameRate } from '#core/1-ground/units/frame-rate.ts';
import {
  parseBuffer,
  parseBytes,
  parseDuration,
  parseFrameCount,
  parseRate,
  parseRatio,
  parseDecibels,
  parseShare,
} from '#core/1-ground/units/quantity.ts';
import { wholeUp } from '#core/1-ground/units/whole.ts';

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
    ['530 MBps', 530e6],
    ['530 MB/sec', 530e6],
    ['530 MB per second', 530e6],
  ])('%s', (text, rate) => expect(parseRate(text)).toBeCloseTo(rate, 6));

  it.each([
    ['2h', 7200],
    ['1h 30min', 5400],
    ['90', 90],
    ['1.5 s', 1.5],
    ['40 min', 2400],
    ['40 Min', 2400],
    ['2H', 7200],
    ['80 µs', 80e-6],
    ['80 \u03bcs', 80e-6],
    ['80us', 80e-6],
  ])('%s', (text, seconds) => expect(parseDuration(text)).toBe(seconds));

  it('asks which is meant when bits and bytes could be confused', () => {
    expect(() => parseBytes('10 gb')).toThrow(/bytes or bits, a factor of eight apart\. Type GB/);
    expect(() => parseBytes('10 M')).toThrow(/Type MB for bytes or Mb for bits/);
  });

  it('reads sound levels as people write them', () => {
    for (const text of ['34.5', '34,5', '34.5 dB', '34,5 dB(A)', '34.5dBA'])
      expect(parseDecibels(text, 'level')).toBe(34.5);
    for (const text of ['', 'loud', '-3', '150', 'NaN']) expect(() => parseDecibels(text, 'level')).toThrow(/no level/);
  });

  it('refuses what is no amount', () => {
    for (const text of ['', 'lots', '12 parsecs', '1e400 GB']) expect(() => parseBytes(text)).toThrow(/size:/);
    expect(() => parseRate('530 MB')).toThrow(/not a rate/);
    expect(() => parseDuration('soon')).toThrow(/not a time span/);
    expect(parseDuration('18:32')).toBe(18 * 60 + 32);
    expect(parseDuration('90:00')).toBe(5400);
    expect(parseDuration('1:02:30,5')).toBe(3750.5);
    expect(() => parseDuration('1:75')).toThrow(/no time on a clock/);
    expect(() => parseDuration('1:75:10')).toThrow(/no time on a clock/);
    expect(() => parseShare('some')).toThrow(/not a share/);
    expect(parseShare('25%')).toBe(parseShare('0.25'));
  });
});

describe('figures as read', () => {
  it('keeps three digits and the unit that fits after rounding', () => {
    expect(bytesText(46.24e9)).toBe('46.2\u202fGB');
    expect(bytesText(999.7e6)).toBe('1\u202fGB');
    expect(rateText(5_246e6)).toBe('5,250\u202fMB/s');
    expect(rateText(0.29e6)).toBe('0.29\u202fMB/s');
    // What would be nothing in MB/s has a smaller unit.
    expect(rateText(4096)).toBe('4.1\u202fkB/s');
    expect(rateText(12)).toBe('12\u202fB/s');
    expect(rateText(0)).toBe('0\u202fMB/s');
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
    ['12.5', 25, 2],
  ])('%s is %i/%i', (text, numerator, denominator) => expect(parseFrameRate(text)).toEqual({ numerator, denominator }));

  it('are shown by their usual names', () => {
    expect(frameRateText({ numerator: 24000, denominator: 1001 })).toBe('23.976');
  });
});

describe('amounts as they are typed', () => {
  it.each([
    ['1,5 TB', 1.5e12],
    ['1.5 TB', 1.5e12],
    ['0,25 GB', 0.25e9],
    ['1,500 GB', 1500e9],
    ['1,234,567', 1_234_567],
    ['1,234.5 MB', 1_234_500_000],
    ['1.234,5 MB', 1_234_500_000],
    ['12,3456 GB', 12_345_600_000],
  ])('%s are read as people mean it', (text, bytes) => {
    expect(parseBytes(text)).toBe(bytes);
  });

  it('with a decimal comma are rates, times, shares and frame rates as well', () => {
    expect(parseRate('1,5GB/s')).toBe(1.5e9);
    expect(parseRate('4,4 Gb/s')).toBe(0.55e9);
    expect(parseDuration('1,5 h')).toBe(5400);
    expect(parseDuration('21,5')).toBe(21.5);
    expect(parseShare('12,5 %')).toBe(0.125);
    expect(parseFrameRate('23,976')).toEqual({ numerator: 24000, denominator: 1001 });
    expect(parseBuffer('0,5 s')).toEqual({ unit: 'seconds', amount: 0.5 });
  });

  it.each([
    ['1,5,0 TB', /can mean 150 or 15\.0/],
    ['1,23,456 GB', /can mean 123456 or 123\.456/],
    ['12,34.5 GB', /can mean 1234\.5/],
    ['-1 GB', /less than nothing/],
    ['-0,5 TB', /less than nothing/],
  ])('%s are never misread', (text, says) => {
    expect(() => parseBytes(text)).toThrow(says);
  });

  it('keep frame rates that nobody slowed', () => {
    expect(parseFrameRate('5.0')).toEqual({ numerator: 5, denominator: 1 });
    expect(parseFrameRate('25.00')).toEqual({ numerator: 25, denominator: 1 });
    expect(parseFrameRate('30.0')).toEqual({ numerator: 30, denominator: 1 });
    expect(parseFrameRate('29.97')).toEqual({ numerator: 30000, denominator: 1001 });
    expect(parseFrameRate('12.5')).toEqual({ numerator: 25, denominator: 2 });
  });

  it('round up what is more than a whole byte, and not what rounding left of one', () => {
    expect(wholeUp(5950.000000000001)).toBe(5950);
    expect(wholeUp(0.1 * 3 * 10)).toBe(3);
    expect(wholeUp(5950.01)).toBe(5951);
  });
});

describe('what people type of frames, ratios, shares and times', () => {
  it.each([
    ['240', 240],
    ['240 frames', 240],
    ['1001–1240', 240],
    ['frames 1001 to 1240', 240],
    ['7-7', 1],
  ])('“%s” are %i frames', (text, frames) => expect(parseFrameCount(text)).toBe(frames));
  it.each(['1240–1001', '0', 'all', ''])('“%s” are none', (text) =>
    expect(() => parseFrameCount(text)).toThrow(/^frames: /),
  );

  it.each([
    ['2:1', 2],
    ['2.5:1', 2.5],
    ['2,5', 2.5],
    ['6:2', 3],
    ['1', 1],
    ['3 to 1', 3],
  ])('“%s” is a ratio of %d', (text, ratio) => expect(parseRatio(text)).toBe(ratio));
  it.each(['1:2', '0', 'two', '3:0'])('“%s” is none', (text) => expect(() => parseRatio(text)).toThrow(/^ratio: /));

  it('a bare number above one is no share: both readings are told', () => {
    expect(parseShare('30 %')).toBe(0.3);
    expect(parseShare('0.3')).toBe(0.3);
    expect(() => parseShare('25')).toThrow(/25 % or 25 times. Type 25% or 2500%/);
  });

  it.each([
    ['18:32', 1112],
    ['2:08', 128],
    ['1 h 45', 6300],
    ['21.5 s', 21.5],
    ['2:30 h', 9000],
    ['3 hours 20 minutes', 12_000],
    ['2 weeks', 1_209_600],
  ])('“%s” is %d s', (text, seconds) => expect(parseDuration(text)).toBe(seconds));
});
