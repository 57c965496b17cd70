import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseBytes, parseDuration, parseRate, parseShare } from '#core/1-ground/units/quantity.ts';
import { bytesTyped, rateTyped, secondsTyped, shareTyped } from '#core/1-ground/units/typable.ts';

/** From tiny to huge, each power of ten as likely as the next. */
const anyOf = (least: number, most: number) =>
  fc.double({ min: Math.log10(least), max: Math.log10(most), noNaN: true }).map((power) => 10 ** power);

describe('what stands in a field can be typed again', () => {
  it.each([
    ['a span of time', secondsTyped, (text: string) => parseDuration(text), anyOf(1e-9, 1e9)],
    ['a rate', rateTyped, (text: string) => parseRate(text), anyOf(1e-3, 1e13)],
    ['a share', shareTyped, (text: string) => parseShare(text), anyOf(1e-9, 1)],
    ['an amount', bytesTyped, (text: string) => parseBytes(text), anyOf(1, 1e18).map(Math.round)],
  ])('%s', (_name, show, read, values) => {
    fc.assert(fc.property(values, (value) => Math.abs(read(show(value)) / value - 1) < 1e-9));
  });

  it('in words where nothing is lost by them', () => {
    expect([0.0001, 0.012, 7200, 7201].map(secondsTyped)).toEqual(['100 µs', '12 ms', '2 h', '7201 s']);
  });
});
