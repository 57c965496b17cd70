/**
 * Names by which the trade calls published codecs and rasters. They may be typed; shown is always the standard's name.
 * Each becomes words that the reading of a format knows, longest names first.
 */
export const TRADE_NAMES: readonly (readonly [typed: RegExp, words: string])[] = [
  [/\bpro\s*res\s*(?:422\s*)?hq\b/gi, 'rdd36-high'],
  [/\bpro\s*res\s*(?:422\s*)?lt\b/gi, 'rdd36-light'],
  [/\bpro\s*res\s*(?:422\s*)?proxy\b/gi, 'rdd36-proxy'],
  [/\bpro\s*res\s*4444\s*xq\b/gi, 'rdd36-4444-extreme'],
  [/\bpro\s*res\s*4444\b/gi, 'rdd36-4444'],
  [/\bpro\s*res\s*422\b/gi, 'rdd36-standard'],
  [/\bdnx\s*hr\s*(444|hqx|hq|sq|lb)\b/gi, 'vc3-$1'],
  // Named after their megabits a second at the frame rates in use; an x stands for 10 bit.
  [/\bdnx\s*hd\s*(?:175|185|220|350|365|440)\s*x\b/gi, 'vc3-hqx'],
  [/\bdnx\s*hd\s*(?:175|185|220|350|365|440)\b/gi, 'vc3-hq'],
  [/\bdnx\s*hd\s*(?:115|120|145|230|240|290)\b/gi, 'vc3-sq'],
  [/\bdnx\s*hd\s*(?:36|45|75|90)\b/gi, 'vc3-lb'],
  [/\ball[\s-]?i(?:ntra)?\b/gi, 'all-intra'],
  [/\bv210\b/gi, 'yuv422-10'],
  [/\b(?:16[\s-]*bits?\s*)?half(?:[\s-]*float)?(?:\s*16[\s-]*bits?)?\b/gi, 'half'],
  [/\b16[\s-]*bits?\s*float\b/gi, 'half'],
  [/\b32[\s-]*bits?\s*float\b/gi, 'float'],
];

/** Stills as TIFF, which hold their samples as they are. */
export const TIFF = { typed: /\btiffs?\b|\btif\b/gi, said: 'TIFF is taken as uncompressed RGB, without its header.' };

/** A short name of a raster that can mean several: the largest is taken, and said. */
interface ShortRaster {
  typed: RegExp;
  raster: string;
  /** What was taken, and what else it can mean; null where it means nothing else. */
  said: string | null;
}

const alone = (name: string): RegExp =>
  new RegExp(`(?<!(?:master|long)\\s)(?<![\\w.])${name}(?!\\s*(?:flat|scope|full|film))\\b`, 'gi');

export const SHORT_RASTERS: readonly ShortRaster[] = [
  { typed: alone('(?:dci|c)\\s*4k'), raster: '4096x2160', said: null },
  { typed: alone('(?:dci|c)\\s*2k'), raster: '2048x1080', said: null },
  { typed: alone('4k'), raster: '4096x2160', said: '4K is taken as 4096×2160; UHD is 3840×2160.' },
  { typed: alone('2k'), raster: '2048x1080', said: null },
  { typed: alone('8k'), raster: '8192x4320', said: '8K is taken as 8192×4320; UHD-2 is 7680×4320.' },
  { typed: alone('(?:full\\s*hd|fhd)'), raster: '1920x1080', said: null },
];

/** Raw of a camera by its word alone: what its samples take. */
export const RAW = { typed: /(?<![\w-])raw(?![\w-])/gi, words: 'bayer-12', said: 'Raw is taken as 12 bit a sample.' };
