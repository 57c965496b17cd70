import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dataRate, searchLayouts, type Format } from '#core/2-trade/media/data-rate.ts';
import { LAYOUTS } from '#core/2-trade/media/pixel-layouts.ts';
import { NAMED_RASTERS, parseRaster } from '#core/2-trade/media/rasters.ts';
import { FRAME_RATES, parseFrameRate } from '#core/1-ground/units/frame-rate.ts';

const format = (layoutId: string, raster: string, fps = '25', more: Partial<Format> = {}): Format => ({
  layoutId,
  raster: parseRaster(raster),
  frameRate: parseFrameRate(fps),
  ...more,
});
const bytesPerFrame = (...input: Parameters<typeof format>) => dataRate(format(...input)).bytesPerFrame;

describe('published sizes and rates', () => {
  it.each([
    ['yuv422-10', '1920x1080', 5_529_600],
    ['dpx-rgb-10', '4096x2160', 35_391_488],
    ['vc3-444', '1920x1080', 1_835_008],
    ['vc3-hqx', '1920x1080', 917_504],
    ['vc3-hq', '1920x1080', 917_504],
    ['vc3-sq', '1920x1080', 606_208],
    ['vc3-lb', '1920x1080', 188_416],
    ['vc3-hqx', '3840x2160', 3_641_344],
    ['exr-rgba-half', '4096x4096', 134_283_264],
  ])('%s at %s takes %i bytes a frame', (layout, raster, bytes) => {
    expect(bytesPerFrame(layout, raster)).toBe(bytes);
  });

  it('carries 10-bit HD at 25 in 138.24 MB/s', () => {
    expect(dataRate(format('yuv422-10', '1920x1080')).bytesPerSecond).toBe(138_240_000);
  });

  it('carries 10-bit UHD at 24000/1001 in 530.311 MB/s', () => {
    expect(dataRate(format('yuv422-10', '3840x2160', '24000/1001')).bytesPerSecond / 1e6).toBeCloseTo(530.311, 3);
  });

  it('scales RDD 36 high to UHD at 24000/1001: 88.0 MB/s, peak 1.1 times that', () => {
    const rate = dataRate(format('rdd36-high', '3840x2160', '24000/1001'));
    expect(rate.bytesPerSecond / 1e6).toBeCloseTo(88, 6);
    expect(rate.peakBytesPerSecond / rate.bytesPerSecond).toBeCloseTo(1.1, 12);
  });

  it('divides raw by its ratio', () => {
    expect(bytesPerFrame('bayer-12', '3840x2160', '24', { ratio: 5 })).toBe(2_488_320);
  });

  it('leaves the cinema codec at its maximum whatever the frame rate', () => {
    for (const fps of ['24', '25', '48']) {
      expect(dataRate(format('jpeg2000-cinema', '4096x2160', fps)).bytesPerSecond).toBeCloseTo(31.25e6, 6);
    }
  });

  it('takes a long-GOP rate as it is given, with 1.5 times that as the peak', () => {
    const rate = dataRate(format('long-gop', '3840x2160', '50', { megabitsPerSecond: 80 }));
    expect(rate).toMatchObject({ bytesPerSecond: 10e6, peakBytesPerSecond: 15e6 });
  });

  it('adds DPX’s 2048 bytes of header and EXR’s 16 bytes a line', () => {
    expect(bytesPerFrame('dpx-rgb-16', '100x10') - bytesPerFrame('rgb-16', '100x10')).toBe(2048);
    expect(bytesPerFrame('exr-rgb-half', '100x10') - bytesPerFrame('rgb-half', '100x10')).toBe(160);
    const layoutOptions = { channels: 7, bytesPerChannel: 4, headerBytes: 500 } as const;
    expect(bytesPerFrame('exr', '100x10', '24', { layoutOptions })).toBe(100 * 10 * 7 * 4 + 160 + 500);
  });

  it('rounds odd widths up as each layout asks', () => {
    expect(bytesPerFrame('yuv422-10', '49x1')).toBe(256);
    expect(bytesPerFrame('yuv422-8', '3x1')).toBe(8);
    expect(bytesPerFrame('yuv420-8', '3x3')).toBe(9 + 8);
    expect(bytesPerFrame('rgb-12', '1x1')).toBe(8);
    expect(bytesPerFrame('hap', '5x5')).toBe(32);
  });
});

describe('rules that hold for every layout', () => {
  const anyFormat = fc.record({
    layout: fc.constantFrom(...LAYOUTS),
    width: fc.integer({ min: 1, max: 9000 }),
    height: fc.integer({ min: 1, max: 9000 }),
    frameRate: fc.constantFrom(...FRAME_RATES),
  });

  it('streams multiply, and the peak is never under the average', () => {
    fc.assert(
      fc.property(anyFormat, fc.integer({ min: 1, max: 40 }), ({ layout, width, height, frameRate }, streams) => {
        const one: Format = {
          layoutId: layout.id,
          raster: { width, height },
          frameRate,
          ...(layout.kind === 'rate' && layout.nominalBitsPerSecond === undefined ? { megabitsPerSecond: 50 } : {}),
        };
        const single = dataRate(one);
        const many = dataRate(one, streams);
        expect(many.bytesPerSecond).toBeCloseTo(single.bytesPerSecond * streams, 3);
        expect(many.peakBytesPerSecond).toBeGreaterThanOrEqual(many.bytesPerSecond);
      }),
    );
  });

  it('a larger picture never takes fewer bytes, and layouts give whole bytes', () => {
    fc.assert(
      fc.property(anyFormat, ({ layout, width, height, frameRate }) => {
        fc.pre(layout.kind !== 'rate');
        const at = (w: number) =>
          bytesPerFrame(layout.id, `${w}x${height}`, `${frameRate.numerator}/${frameRate.denominator}`);
        expect(Number.isInteger(at(width))).toBe(true);
        expect(at(width + 1)).toBeGreaterThanOrEqual(at(width));
      }),
    );
  });

  it('names are unique', () => {
    expect(new Set(LAYOUTS.map((layout) => layout.id)).size).toBe(LAYOUTS.length);
    expect(new Set(NAMED_RASTERS.map((raster) => raster.name)).size).toBe(NAMED_RASTERS.length);
  });
});

describe('bad input is named', () => {
  it.each([
    [() => dataRate(format('vc3', '1920x1080')), /no layout “vc3”/],
    [() => dataRate(format('yuv422-10', '0x1080')), /0×1080 is not possible/],
    [() => dataRate(format('rgb-8', '1920x1080', '25', { ratio: 0.5 })), /ratio: 0.5/],
    [() => dataRate(format('rdd36-high', '1920x1080', '25', { ratio: 4 })), /rate of its own/],
    [() => dataRate(format('long-gop', '1920x1080')), /needs its rate/],
    [() => dataRate(format('rgb-8', '1920x1080'), 0), /streams: 0/],
    [() => parseRaster('UHDish'), /“UHDish” is not a raster/],
    [() => parseFrameRate('fast'), /“fast” is not a frame rate/],
  ])('%#', (act, message) => expect(act).toThrow(message));

  it('finds codecs by their trade names', () => {
    expect(searchLayouts('prores high').map((layout) => layout.id)).toEqual(['rdd36-high']);
    expect(searchLayouts('dnx sq').map((layout) => layout.id)).toEqual(['vc3-sq']);
  });
});
