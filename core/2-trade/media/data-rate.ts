import { LAYOUTS, type Layout, type LayoutOptions } from '#core/2-trade/media/pixel-layouts.ts';
import { checkRaster, type Raster } from '#core/2-trade/media/rasters.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { framesPerSecond, type FrameRate } from '#core/1-ground/units/frame-rate.ts';
import { wholeUp } from '#core/1-ground/units/whole.ts';

/** Sound beside a picture, or on its own: tracks × samples per second × bytes per sample. */
export interface Sound {
  tracks: number;
  samplesPerSecond: number;
  bytesPerSample: number;
}

/** Everything that decides how many bytes a second of a format takes. */
export interface Format {
  layoutId: string;
  raster: Raster;
  frameRate: FrameRate;
  layoutOptions?: LayoutOptions;
  /** Uncompressed ÷ compressed, at least 1; only for layouts and constant-size codecs. */
  ratio?: number;
  /** Nominal megabits per second of one stream, for codecs whose rate is given by the person. */
  megabitsPerSecond?: number;
  /** Peak over one second ÷ average; overrides the layout's own. */
  peakFactor?: number;
  sound?: Sound;
  /** Share that the container adds, e.g. 0.002. */
  containerShare?: number;
  /** Image sequences: every frame is a file whose size is rounded up to the filesystem's blocks. */
  fileBlockBytes?: number;
}

export interface DataRate {
  /** Bytes of one frame of one stream, without sound and container. */
  bytesPerFrame: number;
  /** Average bytes per second of all streams together. */
  bytesPerSecond: number;
  /** Highest bytes in any one second of all streams together. */
  peakBytesPerSecond: number;
}

/** @throws Problem `bad-input` naming the id when there is no such layout. */
export function layoutById(id: string): Layout {
  const layout = LAYOUTS.find((candidate) => candidate.id === id);
  if (!layout) {
    throw badInput('layout', `layout: there is no layout “${id}”. “tavrox rate --list” shows all ids.`);
  }
  return layout;
}

/** Bytes per second of sound. */
export function soundBytesPerSecond(sound: Sound): number {
  return sound.tracks * sound.samplesPerSecond * sound.bytesPerSample;
}

/**
 * Data rate of `streams` equal streams of a format:
 * `bytesPerFrame × frames per second × streams + sound`, sound in every stream.
 * Layouts and constant-size codecs give whole bytes a frame; a compression ratio and codecs
 * given by a rate give averages, which are not rounded.
 * @throws Problem `bad-input` on an unknown layout, an impossible raster, a ratio under 1, a
 * ratio on a codec that has its own rate, or a missing rate.
 */
export function dataRate(format: Format, streams = 1): DataRate {
  checkRaster(format.raster);
  if (!Number.isInteger(streams) || streams < 1) {
    throw badInput('streams', `streams: ${streams} is not a whole number of at least 1.`);
  }
  const layout = layoutById(format.layoutId);
  const fps = framesPerSecond(format.frameRate);
  const frameBytes = bytesPerFrame(format, layout, fps);
  const storedBytes = format.fileBlockBytes
    ? wholeUp(frameBytes / format.fileBlockBytes) * format.fileBlockBytes
    : frameBytes;
  const picture = storedBytes * fps * (1 + (format.containerShare ?? 0));
  const sound = format.sound ? soundBytesPerSecond(format.sound) : 0;
  const peakFactor = format.peakFactor ?? (layout.kind === 'rate' ? layout.peakFactor : 1);
  if (!(peakFactor >= 1)) {
    throw badInput('peak', `peak: ${peakFactor} is not possible. A peak factor is at least 1.`);
  }
  return {
    bytesPerFrame: frameBytes,
    bytesPerSecond: streams * (picture + sound),
    peakBytesPerSecond: streams * (picture * peakFactor + sound),
  };
}

function bytesPerFrame(format: Format, layout: Layout, fps: number): number {
  if (layout.kind !== 'rate') {
    const { ratio = 1 } = format;
    if (!(ratio >= 1)) {
      throw badInput('ratio', `ratio: ${ratio} is not possible. It is uncompressed ÷ compressed, so 8 means 8:1.`);
    }
    return layout.bytesPerFrame(format.raster, format.layoutOptions ?? {}) / ratio;
  }
  if (format.ratio !== undefined) {
    throw badInput('ratio', `ratio: ${layout.label} has a rate of its own, so a compression ratio does not apply.`);
  }
  const nominalBits =
    format.megabitsPerSecond === undefined ? layout.nominalBitsPerSecond : format.megabitsPerSecond * 1e6;
  if (nominalBits === undefined || !(nominalBits > 0)) {
    throw badInput('mbps', `mbps: ${layout.label} needs its rate in megabits per second, such as --mbps 100.`);
  }
  // A rate given by the person is that of the format at hand and is not scaled.
  const given = format.megabitsPerSecond !== undefined;
  const { pixels, framesPerSecond: referenceFps } = layout.reference;
  const pixelScale = given || pixels === undefined ? 1 : (format.raster.width * format.raster.height) / pixels;
  const timeScale = given || referenceFps === undefined ? 1 : fps / referenceFps;
  return (nominalBits * pixelScale * timeScale) / 8 / fps;
}

/** Layouts whose id, label, standard or trade name contains every word of `query`. */
export function searchLayouts(query: string): Layout[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  return LAYOUTS.filter((layout) => {
    const text = [layout.id, layout.label, layout.source, ...layout.alsoKnownAs].join(' ').toLowerCase();
    return words.every((word) => text.includes(word));
  });
}
