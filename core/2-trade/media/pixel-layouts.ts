import type { Raster } from '#core/2-trade/media/rasters.ts';

/**
 * How a frame is laid out in bytes, or at which rate a codec runs. Three kinds:
 * `layout` has a size per frame from its samples; `constant` is a codec of constant size per
 * frame; `rate` is a codec given by a nominal rate, scaled by pixels and frame rate or fixed.
 */
export type Layout = FrameLayout | RateLayout;

interface LayoutBase {
  id: string;
  /** The standard's or the layout's own name, as people read it. */
  label: string;
  /** Words by which a codec is searched for, as the trade calls it. */
  alsoKnownAs: readonly string[];
  source: string;
}

export interface LayoutOptions {
  /** Channels of an `exr` frame. */
  channels?: number;
  /** Bytes of one channel's sample of an `exr` frame: 2 (half) or 4 (float). */
  bytesPerChannel?: 2 | 4;
  /** Bytes of header of an `exr` frame. */
  headerBytes?: number;
}

export interface FrameLayout extends LayoutBase {
  kind: 'layout' | 'constant';
  /** Whole bytes of one frame. */
  bytesPerFrame: (raster: Raster, options: LayoutOptions) => number;
}

export interface RateLayout extends LayoutBase {
  kind: 'rate';
  /** Bits per second at the reference; undefined where the person gives it. */
  nominalBitsPerSecond: number | undefined;
  /** What the nominal rate refers to; a side left out means that it does not scale with it. */
  reference: { pixels?: number; framesPerSecond?: number };
  /** Peak over one second ÷ nominal. */
  peakFactor: number;
}

const HD_PIXELS = 1920 * 1080;
const NTSC_30 = 30000 / 1001;

/** Rows of 36 bits per pixel, filled to words of 32 bits (SMPTE ST 268 packed). */
const packed12 = (w: number, h: number): number => Math.ceil((w * 36) / 32) * 4 * h;
/** 8-byte offset and 8-byte head (line number, size) for each scan line (OpenEXR file layout). */
const exr = (w: number, h: number, channels: number, bytesPerChannel: number, headerBytes: number): number =>
  w * h * channels * bytesPerChannel + 16 * h + headerBytes;
const DPX_HEADER_BYTES = 2048;

/** Stands behind the name of a layout that is no codec. */
export const UNCOMPRESSED = ' uncompressed';

function frame(
  id: string,
  label: string,
  source: string,
  bytes: (width: number, height: number, options: LayoutOptions) => number,
  alsoKnownAs: readonly string[] = [],
): FrameLayout {
  return {
    id,
    label,
    source,
    alsoKnownAs,
    kind: 'layout',
    bytesPerFrame: ({ width, height }, options) => bytes(width, height, options),
  };
}

/** Samples as they are: what a camera that codes would write far less of. */
const plain = (
  id: string,
  label: string,
  source: string,
  bytes: (width: number, height: number, options: LayoutOptions) => number,
): FrameLayout => frame(id, `${label}${UNCOMPRESSED}`, source, bytes);

/** VC-3 resolution-independent compressed frame size (SMPTE ST 2019-1, annex on RI frames). */
function vc3(id: string, label: string, k: number): FrameLayout {
  return {
    id,
    label,
    source: 'SMPTE ST 2019-1',
    alsoKnownAs: ['DNxHR', 'DNxHD'],
    kind: 'constant',
    bytesPerFrame: ({ width, height }) => {
      const macroblocks = Math.ceil(width / 16) * Math.ceil(height / 16);
      const f = Math.floor((macroblocks * k) / 255);
      return Math.max(8192, Math.floor((f + 2048) / 4096) * 4096);
    },
  };
}

/** Open Hap description: texture blocks of 4 × 4 pixels before the optional second stage. */
function textureBlocks(id: string, label: string, bytesPerBlock: number): FrameLayout {
  return {
    id,
    label,
    source: 'open Hap description',
    alsoKnownAs: ['Hap'],
    kind: 'constant',
    bytesPerFrame: ({ width, height }) => Math.ceil(width / 4) * Math.ceil(height / 4) * bytesPerBlock,
  };
}

function rdd36(id: string, label: string, megabitsPerSecond: number): RateLayout {
  return {
    id,
    label,
    source: 'SMPTE RDD 36, published nominal rates',
    alsoKnownAs: ['ProRes'],
    kind: 'rate',
    nominalBitsPerSecond: megabitsPerSecond * 1e6,
    reference: { pixels: HD_PIXELS, framesPerSecond: NTSC_30 },
    peakFactor: 1.1,
  };
}

function intra(id: string, label: string, megabitsPerSecond: number): RateLayout {
  return {
    id,
    label,
    source: 'SMPTE RDD 32',
    alsoKnownAs: ['XAVC'],
    kind: 'rate',
    nominalBitsPerSecond: megabitsPerSecond * 1e6,
    reference: { framesPerSecond: NTSC_30 },
    peakFactor: 1,
  };
}

export const LAYOUTS: readonly Layout[] = [
  plain('yuv422-8', '4:2:2 8-bit', 'common packed layout', (w, h) => Math.ceil(w / 2) * 4 * h),
  plain(
    'yuv422-10',
    '4:2:2 10-bit',
    'usual 10-bit file layout: 6 pixels in 16 bytes, rows padded to 128',
    (w, h) => Math.ceil(w / 48) * 128 * h,
  ),
  plain('yuv420-8', '4:2:0 8-bit', 'planar', (w, h) => w * h + 2 * Math.ceil(w / 2) * Math.ceil(h / 2)),
  plain(
    'yuv420-10',
    '4:2:0 10-bit',
    'planar in 16-bit words',
    (w, h) => 2 * (w * h + 2 * Math.ceil(w / 2) * Math.ceil(h / 2)),
  ),
  plain('rgb-8', 'RGB 8-bit', '3 bytes a pixel', (w, h) => 3 * w * h),
  plain('rgba-8', 'RGBA 8-bit', '4 bytes a pixel', (w, h) => 4 * w * h),
  plain('rgb-10', 'RGB 10-bit', 'SMPTE ST 268 filled method A', (w, h) => 4 * w * h),
  plain('rgb-12', 'RGB 12-bit packed', 'SMPTE ST 268 packed', packed12),
  plain('yuv444-10', '4:4:4 10-bit', 'one 32-bit word a pixel', (w, h) => 4 * w * h),
  plain('yuv444-12', '4:4:4 12-bit packed', 'SMPTE ST 268 packed', packed12),
  plain('rgb-16', 'RGB 16-bit', '6 bytes a pixel', (w, h) => 6 * w * h),
  plain('rgb-half', 'RGB half', '6 bytes a pixel', (w, h) => 6 * w * h),
  plain('rgba-16', 'RGBA 16-bit', '8 bytes a pixel', (w, h) => 8 * w * h),
  plain('rgba-half', 'RGBA half', '8 bytes a pixel', (w, h) => 8 * w * h),
  plain('rgb-float', 'RGB float', '12 bytes a pixel', (w, h) => 12 * w * h),
  plain('rgba-float', 'RGBA float', '16 bytes a pixel', (w, h) => 16 * w * h),
  frame('bayer-12', 'Bayer 12-bit packed', 'one sample a pixel', (w, h) => Math.ceil((w * 12) / 32) * 4 * h, ['raw']),
  frame('bayer-16', 'Bayer 16-bit', 'one sample a pixel', (w, h) => 2 * w * h, ['raw']),
  frame('dpx-rgb-10', 'DPX RGB 10-bit', 'SMPTE ST 268', (w, h) => 4 * w * h + DPX_HEADER_BYTES),
  frame('dpx-rgb-12-packed', 'DPX RGB 12-bit packed', 'SMPTE ST 268', (w, h) => packed12(w, h) + DPX_HEADER_BYTES),
  frame('dpx-rgb-12', 'DPX RGB 12-bit', 'SMPTE ST 268, filled to 16 bits', (w, h) => 6 * w * h + DPX_HEADER_BYTES),
  frame('dpx-rgb-16', 'DPX RGB 16-bit', 'SMPTE ST 268', (w, h) => 6 * w * h + DPX_HEADER_BYTES),
  frame('exr-rgb-half', 'OpenEXR RGB half', 'OpenEXR file layout, scan lines', (w, h, { headerBytes = 0 }) =>
    exr(w, h, 3, 2, headerBytes),
  ),
  frame('exr-rgba-half', 'OpenEXR RGBA half', 'OpenEXR file layout, scan lines', (w, h, { headerBytes = 0 }) =>
    exr(w, h, 4, 2, headerBytes),
  ),
  frame(
    'exr',
    'OpenEXR, own channels',
    'OpenEXR file layout, scan lines',
    (w, h, { channels = 4, bytesPerChannel = 2, headerBytes = 0 }) => exr(w, h, channels, bytesPerChannel, headerBytes),
  ),
  vc3('vc3-444', 'VC-3 444', 57344),
  vc3('vc3-hqx', 'VC-3 HQX', 28672),
  vc3('vc3-hq', 'VC-3 HQ', 28672),
  vc3('vc3-sq', 'VC-3 SQ', 18944),
  vc3('vc3-lb', 'VC-3 LB', 5888),
  rdd36('rdd36-proxy', 'RDD 36 proxy', 45),
  rdd36('rdd36-light', 'RDD 36 light', 102),
  rdd36('rdd36-standard', 'RDD 36 standard', 147),
  rdd36('rdd36-high', 'RDD 36 high', 220),
  rdd36('rdd36-4444', 'RDD 36 4444', 330),
  rdd36('rdd36-4444-extreme', 'RDD 36 4444 extreme', 500),
  intra('intra-300', 'RDD 32 intra 300', 300),
  intra('intra-480', 'RDD 32 intra 480', 480),
  {
    id: 'jpeg2000-cinema',
    label: 'JPEG 2000 for cinema',
    source: 'SMPTE ST 429',
    alsoKnownAs: ['DCP', 'JPEG 2000'],
    kind: 'rate',
    nominalBitsPerSecond: 250e6,
    reference: {},
    peakFactor: 1,
  },
  {
    id: 'long-gop',
    label: 'Long-GOP',
    source: 'ITU-T H.264, H.265; rate as given',
    alsoKnownAs: ['H.264', 'H.265', 'AVC', 'HEVC', 'AV1'],
    kind: 'rate',
    nominalBitsPerSecond: undefined,
    reference: {},
    peakFactor: 1.5,
  },
  {
    id: 'all-intra',
    label: 'All-intra',
    source: 'trade: each frame coded by itself; rate as given',
    alsoKnownAs: ['All-I', 'intra'],
    kind: 'rate',
    nominalBitsPerSecond: undefined,
    reference: {},
    peakFactor: 1.1,
  },
  textureBlocks('hap', 'Hap', 8),
  textureBlocks('hap-alpha', 'Hap with alpha', 16),
  textureBlocks('hap-q', 'Hap, high quality', 16),
];
