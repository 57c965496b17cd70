import { badInput } from '#core/1-ground/problem.ts';

/** Picture size in pixels. */
export interface Raster {
  width: number;
  height: number;
}

export interface NamedRaster extends Raster {
  name: string;
  source: string;
}

/** Rasters of open standards and of the trade, smallest first. Dome masters are square. */
export const NAMED_RASTERS: readonly NamedRaster[] = [
  { name: 'SD 525 lines', width: 720, height: 486, source: 'SMPTE ST 125' },
  { name: 'SD 625 lines', width: 720, height: 576, source: 'ITU-R BT.601' },
  { name: 'HD 720', width: 1280, height: 720, source: 'SMPTE ST 296' },
  { name: 'HD anamorphic', width: 1440, height: 1080, source: 'SMPTE ST 274, 4:3 samples' },
  { name: 'HD 1080', width: 1920, height: 1080, source: 'SMPTE ST 274' },
  { name: 'Vertical HD', width: 1080, height: 1920, source: 'trade' },
  { name: '2K flat', width: 1998, height: 1080, source: 'SMPTE ST 428-1' },
  { name: '2K scope', width: 2048, height: 858, source: 'SMPTE ST 428-1' },
  { name: '2K full', width: 2048, height: 1080, source: 'SMPTE ST 428-1' },
  { name: '2K film scan', width: 2048, height: 1556, source: 'trade' },
  { name: 'Dome master 2K', width: 2048, height: 2048, source: 'trade, square' },
  { name: '2.8K', width: 2880, height: 1620, source: 'trade' },
  { name: '3.2K', width: 3200, height: 1800, source: 'trade' },
  { name: 'UHD', width: 3840, height: 2160, source: 'SMPTE ST 2036-1' },
  { name: 'Lat-long 4K', width: 3840, height: 1920, source: 'trade, 2:1' },
  { name: '4K flat', width: 3996, height: 2160, source: 'SMPTE ST 428-1' },
  { name: '4K scope', width: 4096, height: 1716, source: 'SMPTE ST 428-1' },
  { name: '4K full', width: 4096, height: 2160, source: 'SMPTE ST 428-1' },
  { name: '4K film scan', width: 4096, height: 3112, source: 'trade' },
  { name: 'Dome master 4K', width: 4096, height: 4096, source: 'trade, square' },
  { name: '4.6K', width: 4608, height: 2592, source: 'trade' },
  { name: '5.4K', width: 5376, height: 3024, source: 'trade' },
  { name: '6K', width: 6144, height: 3240, source: 'trade' },
  { name: '6K 3:2', width: 6048, height: 4032, source: 'trade, 3:2' },
  { name: 'UHD-2', width: 7680, height: 4320, source: 'SMPTE ST 2036-1' },
  { name: 'Lat-long 8K', width: 8192, height: 4096, source: 'trade, 2:1' },
  { name: '8K full', width: 8192, height: 4320, source: 'trade' },
  { name: 'Dome master 8K', width: 8192, height: 8192, source: 'trade, square' },
];

/** Largest side accepted; a frame of 65,536² float pixels is 69 GB and a sign of a typing slip. */
const LARGEST_SIDE = 65536;

/** Reads `3840x2160`, `3840×2160` or a raster's name. @throws Problem `bad-input` */
export function parseRaster(text: string, where = 'raster'): Raster {
  const named = NAMED_RASTERS.find((raster) => raster.name.toLowerCase() === text.trim().toLowerCase());
  if (named) return { width: named.width, height: named.height };
  const match = /^(\d+)\s*[x×]\s*(\d+)$/i.exec(text.trim());
  if (!match) {
    throw badInput(where, `${where}: “${text}” is not a raster. Type width × height in pixels, such as 3840x2160.`);
  }
  const raster = { width: Number(match[1]), height: Number(match[2]) };
  checkRaster(raster, where);
  return raster;
}

/** @throws Problem `bad-input` unless both sides are whole pixels from 1 to 65,536. */
export function checkRaster(raster: Raster, where = 'raster'): void {
  for (const side of [raster.width, raster.height]) {
    if (!Number.isInteger(side) || side < 1 || side > LARGEST_SIDE) {
      throw badInput(
        where,
        `${where}: ${raster.width}×${raster.height} is not possible. Each side is 1 to ${LARGEST_SIDE} whole pixels.`,
      );
    }
  }
}

export function rasterText(raster: Raster): string {
  return `${raster.width}×${raster.height}`;
}
