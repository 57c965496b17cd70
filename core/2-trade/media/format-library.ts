import { dataRate, type Format } from '#core/2-trade/media/data-rate.ts';
import { formatTextOf, readFormatText } from '#core/2-trade/media/format-text.ts';
import type { Layout } from '#core/2-trade/media/pixel-layouts.ts';
import type { Raster } from '#core/2-trade/media/rasters.ts';
import { FRAME_RATES, framesPerSecond, type FrameRate } from '#core/1-ground/units/frame-rate.ts';

/** A format of the library with its rate. */
export interface LibraryFormat {
  text: string;
  format: Format;
  bytesPerSecond: number;
}

/** Rasters and frame rates in which the library shows each layout when nothing else is typed. */
const USUAL_RASTERS: readonly Raster[] = [
  { width: 1920, height: 1080 },
  { width: 3840, height: 2160 },
  { width: 4096, height: 2160 },
  { width: 4096, height: 4096 },
  { width: 7680, height: 4320 },
];
const USUAL_RATES: readonly FrameRate[] = FRAME_RATES.filter((rate) =>
  [24000 / 1001, 24, 25, 30000 / 1001, 50, 60000 / 1001, 60].includes(framesPerSecond(rate)),
);
/** Rates in Mb/s at which codecs without one of their own are shown. */
const USUAL_MEGABITS = [50, 100, 200, 400];

/**
 * Formats that fit what is typed, at most so many: words narrow the layouts, a raster or a frame
 * rate replaces the usual ones.
 */
export function libraryFormats(typed: string, most: number): LibraryFormat[] {
  const reading = readFormatText(typed);
  if (reading.unread.length > 0) return [];
  const rasters = reading.raster ? [reading.raster] : USUAL_RASTERS;
  const rates = reading.frameRate ? [reading.frameRate] : USUAL_RATES;
  const formats: LibraryFormat[] = [];
  // Layouts change fastest where little was typed, so that the first screen shows many of them.
  for (const raster of rasters) {
    for (const frameRate of rates) {
      for (const layout of reading.layouts) {
        for (const more of variants(layout, reading.megabitsPerSecond, reading.ratio)) {
          const format: Format = { layoutId: layout.id, raster, frameRate, ...more };
          formats.push({ text: formatTextOf(format), format, bytesPerSecond: dataRate(format).bytesPerSecond });
          if (formats.length >= most) return formats;
        }
      }
    }
  }
  return formats;
}

function variants(layout: Layout, megabitsPerSecond: number | null, ratio: number | null): Partial<Format>[] {
  if (layout.kind === 'rate') {
    if (megabitsPerSecond !== null) return [{ megabitsPerSecond }];
    return layout.nominalBitsPerSecond === undefined
      ? USUAL_MEGABITS.map((rate) => ({ megabitsPerSecond: rate }))
      : [{}];
  }
  return [ratio === null || ratio < 1 ? {} : { ratio }];
}
