import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { explainRate } from '#core/media/explain.ts';
import { libraryFormats } from '#core/media/format-library.ts';
import { formatTextOf, parseFormatText, readFormatText } from '#core/media/format-text.ts';
import { LAYOUTS } from '#core/media/layouts.ts';
import { NAMED_RASTERS } from '#core/media/rasters.ts';
import { FRAME_RATES, framesPerSecond } from '#core/units/frame-rate.ts';
import { ambiguityOf } from '#core/units/quantity.ts';

const brief = (typed: string) => {
  const { format, streams } = parseFormatText(typed);
  const { raster, layoutId, frameRate } = format;
  return [`${raster.width}x${raster.height}`, layoutId, Number(framesPerSecond(frameRate).toFixed(3)), streams];
};

describe('a format as it is typed', () => {
  it.each([
    ['3840x2160 4:2:2 10 bit 25p ×3', '3840x2160', 'yuv422-10', 25, 3],
    ['UHD 4:2:2 10-bit 23.976', '3840x2160', 'yuv422-10', 23.976, null],
    ['1080p25 VC-3 HQ', '1920x1080', 'vc3-hq', 25, null],
    ['1080i50 vc3-hqx', '1920x1080', 'vc3-hqx', 25, null],
    ['VC-3 444 at 25 4096×4096 x2', '4096x4096', 'vc3-444', 25, 2],
    ['dpx rgb 10 bit 4096x2160 24fps', '4096x2160', 'dpx-rgb-10', 24, null],
    ['Dome master 4K hap-q 60p', '4096x4096', 'hap-q', 60, null],
    ['2 streams UHD rdd36-high 30000/1001', '3840x2160', 'rdd36-high', 29.97, 2],
    ['bayer 12 3840x2160 24p 5:1', '3840x2160', 'bayer-12', 24, null],
    ['long-gop 1920x1080 25p 100 Mb/s', '1920x1080', 'long-gop', 25, null],
  ])('%s', (typed, ...expected) => {
    expect(brief(typed)).toEqual(expected);
  });

  it.each([
    ['', /is empty/],
    ['4:2:2 10 bit 25p', /raster is missing/],
    ['3840x2160 25p', /layout or codec is missing/],
    ['3840x2160 4:2:2 10 bit', /frame rate is missing/],
    ['3840x2160 VC-3 25p', /could be VC-3/],
    ['3840x2160 wobble 25p', /“wobble” names no layout/],
    ['1920x1080 long-gop 25p', /needs its rate/],
    ['99999x2160 4:2:2 10 bit 25p', /not possible/],
  ])('says what is wrong with “%s”', (typed, message) => {
    expect(() => parseFormatText(typed)).toThrow(message);
  });

  it('is read again as it is shown', () => {
    const anyFormat = fc.record({
      layout: fc.constantFrom(
        ...LAYOUTS.filter((one) => one.kind !== 'rate' || one.nominalBitsPerSecond !== undefined),
      ),
      raster: fc.constantFrom(...NAMED_RASTERS),
      frameRate: fc.constantFrom(...FRAME_RATES),
    });
    fc.assert(
      fc.property(anyFormat, ({ layout, raster: { width, height }, frameRate }) => {
        const format = { layoutId: layout.id, raster: { width, height }, frameRate };
        expect(parseFormatText(formatTextOf(format)).format).toEqual(format);
      }),
      { numRuns: 300 },
    );
  });

  it('never throws on any text while it is being typed', () => {
    fc.assert(
      fc.property(fc.string(), (typed) => {
        expect(readFormatText(typed).unread).toBeInstanceOf(Array);
      }),
    );
  });
});

describe('the library', () => {
  it('narrows with every word, and finds codecs by the name the trade gives them', () => {
    expect(libraryFormats('', 500)).toHaveLength(500);
    const trade = libraryFormats('prores uhd 25p', 50);
    expect(trade).toHaveLength(6);
    expect(trade.every((one) => one.format.layoutId.startsWith('rdd36-'))).toBe(true);
    expect(libraryFormats('h.264 1080p25', 50).map((one) => one.text)).toContain('1920×1080 Long-GOP 25p 100 Mb/s');
    expect(libraryFormats('4:2:2 10 bit 3840x2160', 50).map((one) => one.bytesPerSecond)[0]! / 1e6).toBeCloseTo(
      530.311,
      3,
    );
    expect(libraryFormats('wobble', 50)).toEqual([]);
  });

  it('explains how a number comes about', () => {
    const { format } = parseFormatText('1920x1080 4:2:2 10 bit 25p');
    const lines = explainRate(format, 3).map((line) => line.replaceAll('\u202f', ' '));
    expect(lines[0]).toMatch(/5,529,600 B a frame$/);
    expect(lines.at(-1)).toBe('5.53 MB × 25 frames a second × 3 streams = 415 MB/s');
    const scaled = explainRate(parseFormatText('UHD rdd36-high 25p').format);
    expect(scaled[0]).toBe(
      'RDD 36 high: nominal 220 Mb/s at 1920×1080, 30 frames a second, scaled by pixels and frame rate',
    );
    expect(scaled.at(-1)).toMatch(/in a second$/);
  });
});

describe('bits or bytes', () => {
  it('is asked where it could be either, a factor of eight apart', () => {
    expect(ambiguityOf('10 Gb', 'size')).toMatchObject({
      bytes: { text: '10 GB', value: 10e9 },
      bits: { text: '10 Gb', value: 1.25e9 },
    });
    expect(ambiguityOf('64mb', 'size')?.bytes.value).toBe(64e6);
    expect(ambiguityOf('2 g', 'size')?.bits.value).toBe(250e6);
    expect(ambiguityOf('10 gb/s', 'rate')).toMatchObject({ bytes: { value: 10e9 }, bits: { value: 1.25e9 } });
  });

  it('is not asked where it is clear', () => {
    for (const clear of ['10 GB', '8 MiB', '4096', '2 s', 'much']) expect(ambiguityOf(clear, 'size')).toBeNull();
    for (const clear of ['4.4 Gb/s', '530 MB/s', '10 GB']) expect(ambiguityOf(clear, 'rate')).toBeNull();
  });
});
