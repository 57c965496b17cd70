import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { explainRate } from '#core/2-trade/media/explain.ts';
import { libraryFormats } from '#core/2-trade/media/format-library.ts';
import { formatTextOf, parseFormatText, readFormatText } from '#core/2-trade/media/format-text.ts';
import { LAYOUTS } from '#core/2-trade/media/pixel-layouts.ts';
import { NAMED_RASTERS } from '#core/2-trade/media/rasters.ts';
import { FRAME_RATES, framesPerSecond } from '#core/1-ground/units/frame-rate.ts';
import { ambiguityOf } from '#core/1-ground/units/quantity.ts';

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
    // As editors say it.
    ['UHD ProRes 422 HQ 50p', '3840x2160', 'rdd36-high', 50, null],
    ['prores 422 1080p25', '1920x1080', 'rdd36-standard', 25, null],
    ['ProRes 4444 XQ DCI 4K 24p', '4096x2160', 'rdd36-4444-extreme', 24, null],
    ['ProRes 4444 4K 24p', '4096x2160', 'rdd36-4444', 24, null],
    ['Full HD DNxHD 185 25p', '1920x1080', 'vc3-hq', 25, null],
    ['1080p25 DNxHD 185x', '1920x1080', 'vc3-hqx', 25, null],
    ['2K DNxHR LB 24p', '2048x1080', 'vc3-lb', 24, null],
    ['UHD 50p All-I 240M', '3840x2160', 'all-intra', 50, null],
    ['UHD 4:2:2 10 bit 50p 200 Mb/s', '3840x2160', 'long-gop', 50, null],
    ['UHD 50p 200 Mb/s', '3840x2160', 'long-gop', 50, null],
    ['6K raw 3:1 25p', '6144x3240', 'bayer-12', 25, null],
    ['3 x UHD 4:2:2 10 bit uncompressed 25p', '3840x2160', 'yuv422-10', 25, 3],
    ['EXR half float RGBA UHD 24fps', '3840x2160', 'exr-rgba-half', 24, null],
    ['16 bit half EXR RGB UHD 24fps', '3840x2160', 'exr-rgb-half', 24, null],
    ['TIFF 16 bit UHD 24fps', '3840x2160', 'rgb-16', 24, null],
    ['TIFF RGBA 8 bit 1080p25', '1920x1080', 'rgba-8', 25, null],
    ['Dome master 4K ProRes 4444 60p', '4096x4096', 'rdd36-4444', 60, null],
    ['4K scope prores hq 24p', '4096x1716', 'rdd36-high', 24, null],
  ])('%s', (typed, ...expected) => {
    expect(brief(typed)).toEqual(expected);
  });

  it('says what it took of a name that can mean several', () => {
    expect(readFormatText('4K ProRes 422 24p').assumed).toEqual(['4K is taken as 4096×2160; UHD is 3840×2160.']);
    expect(readFormatText('DCI 4K ProRes 422 24p').assumed).toEqual([]);
    expect(readFormatText('6K raw 5:1 24p').assumed).toEqual(['Raw is taken as 12 bit a sample.']);
    expect(readFormatText('Dome master 4K hap 30p').assumed).toEqual([]);
  });

  it.each([
    ['', /is empty/],
    ['4:2:2 10 bit 25p', /raster is missing/],
    ['3840x2160 25p', /layout or codec is missing/],
    ['3840x2160 4:2:2 10 bit', /frame rate is missing/],
    ['3840x2160 VC-3 25p', /could be VC-3/],
    ['3840x2160 wobble 25p', /“wobble” names no layout/],
    ['UHD EXR half float 24p', /could be OpenEXR RGB half, OpenEXR RGBA half. Name/],
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

describe('spellings', () => {
  const UHD = { width: 3840, height: 2160 };
  const HD = { width: 1920, height: 1080 };
  it.each([
    ['UHD 4:2:2 10 bit 25p x12', { raster: UHD, streams: 12 }],
    ['UHD 4:2:2 10 bit 25p ×  3', { raster: UHD, streams: 3 }],
    ['UHD 4:2:2 10 bit 25p 12 streams', { streams: 12 }],
    ['UHD 4:2:2 10 bit 25p 1 stream', { streams: 1 }],
    ['1920 x 1080 4:2:2 10 bit at 24000/1001', { raster: HD, frameRate: { numerator: 24000, denominator: 1001 } }],
    ['UHD 4:2:2 10 bit 24000/1001', { frameRate: { numerator: 24000, denominator: 1001 } }],
    ['hd 4:2:2 10 bit 59.94p', { raster: HD, frameRate: { numerator: 60000, denominator: 1001 } }],
    ['dome 4:4:4 10 bit 30', { raster: { width: 4096, height: 4096 }, frameRate: { numerator: 30, denominator: 1 } }],
    ['1080i29.97 4:2:2 10 bit', { raster: HD, frameRate: { numerator: 30000, denominator: 1001 } }],
    ['1080i50 4:2:2 10 bit', { frameRate: { numerator: 50, denominator: 2 } }],
    ['480i30 4:2:2 8 bit', { raster: { width: 720, height: 486 }, frameRate: { numerator: 30, denominator: 1 } }],
    ['1080p59.94 4:2:2 10 bit', { raster: HD, frameRate: { numerator: 60000, denominator: 1001 } }],
    ['UHD vc3-444 25 fps', { frameRate: { numerator: 25, denominator: 1 } }],
    ['UHD 4:2:2 10 bit 25psf', { frameRate: { numerator: 25, denominator: 1 } }],
    ['UHD 4:2:2 10 bit at 25', { frameRate: { numerator: 25, denominator: 1 } }],
    ['UHD 4:2:2 10 bit 23.976', { frameRate: { numerator: 24000, denominator: 1001 } }],
    ['UHD 4:2:2 10 bit 120', { frameRate: { numerator: 120, denominator: 1 } }],
    ['UHD 4:2:2 10 bit 25p 12.5:1', { ratio: 12.5 }],
    ['UHD 4:2:2 10 bit 25p ratio 3.5', { ratio: 3.5 }],
    ['UHD 4:2:2 10 bit 25p ratio 12', { ratio: 12 }],
    ['h.264 1080p25 88.5 Mb/s', { megabitsPerSecond: 88.5 }],
    // Bytes are eight times as much as bits.
    ['UHD 50p 100 MB/s', { megabitsPerSecond: 800 }],
    ['UHD 25p 2.4 Gb/s', { megabitsPerSecond: 2400 }],
    ['UHD 25p 1,200 Mb/s', { megabitsPerSecond: 1200 }],
    ['UHD 25p 88,5 Mb/s', { megabitsPerSecond: 88.5 }],
    ['three cameras UHD 4:2:2 10 bit 25p', { streams: 3 }],
    ['3 cameras of UHD 4:2:2 10 bit 25p', { streams: 3 }],
    ['UHD 4:2:2 10 bit 25p 2 angles', { streams: 2 }],
    ['UHD 25p 100 Mbit per second', { megabitsPerSecond: 100 }],
    ['UHD XAVC 100M 25p', { megabitsPerSecond: 100 }],
    ['h.264 1080p25 88.75mbps', { megabitsPerSecond: 88.75 }],
    ['h.264 1080p25 300 Mbit/s', { megabitsPerSecond: 300 }],
  ])('%s', (typed, wanted) => {
    expect(readFormatText(typed)).toMatchObject({ ...wanted, unread: [] });
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

  it.each([
    ['intra-300 1080p25', {}, /: nominal 300 Mb\/s at 30 frames a second, scaled by frame rate$/],
    ['jpeg2000-cinema 2048x1080 24p', {}, /: nominal 250 Mb\/s$/],
    ['h.264 1080p25 100 Mb/s', {}, /^Long-GOP: 100 Mb\/s as given$/],
    ['UHD 4:2:2 10 bit 25p 4:1', {}, /^compressed 4:1: 5,529,600 B a frame$/],
    ['UHD 4:2:2 10 bit 25p', { fileBlockBytes: 4096 }, /^each frame a file in blocks of 4,096 B$/],
    ['UHD 4:2:2 10 bit 25p', { containerShare: 0.02 }, /25 frames a second \+ 2 % container = 564 MB\/s$/],
    [
      'UHD 4:2:2 10 bit 25p',
      { sound: { tracks: 16, samplesPerSecond: 48_000, bytesPerSample: 3 } },
      /\+ sound 2.3 MB\/s = 555 MB\/s$/,
    ],
  ] as const)('says of %s with %j what it is made of', (typed, more, wanted) => {
    const { format } = parseFormatText(typed);
    const lines = explainRate({ ...format, ...more }).map((line) => line.replaceAll('\u202f', ' '));
    expect(lines.filter((line) => wanted.test(line))).toHaveLength(1);
  });

  it('says nothing of compression, peaks, streams or blocks where there are none', () => {
    const { format } = parseFormatText('1920x1080 4:2:2 10 bit 25p');
    expect(explainRate({ ...format, ratio: 1 })).toHaveLength(2);
    expect(explainRate(format).join(' ')).not.toMatch(/compressed \d|streams|blocks|up to|container|sound/);
  });

  it('gives codecs their own rate, the typed one, or some usual ones; and ratios to what can be compressed', () => {
    const rates = (typed: string) => libraryFormats(typed, 50).map((one) => one.format.megabitsPerSecond);
    expect(rates('h.264 1080p25')).toEqual([50, 100, 200, 400]);
    expect(rates('h.264 1080p25 80 Mb/s')).toEqual([80]);
    expect(rates('rdd36-high 1080p25')).toEqual([undefined]);
    expect(libraryFormats('yuv422-10 UHD 25p 4:1', 5)[0]!.format.ratio).toBe(4);
    expect(libraryFormats('yuv422-10 UHD 25p', 5)[0]!.format).not.toHaveProperty('ratio');
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
