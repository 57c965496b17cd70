import { dataRate, layoutById, soundBytesPerSecond, type Format } from '#core/2-trade/media/data-rate.ts';
import { rasterText } from '#core/2-trade/media/rasters.ts';
import { bytesText, formatNumber, rateText } from '#core/1-ground/units/format.ts';
import { frameRateText } from '#core/1-ground/units/frame-rate.ts';

/** How the number of a format comes about, step by step, each a short line. */
export function explainRate(format: Format, streams = 1): string[] {
  const layout = layoutById(format.layoutId);
  const { bytesPerFrame, bytesPerSecond, peakBytesPerSecond } = dataRate(format, streams);
  const lines: string[] = [];
  if (layout.kind === 'rate' && format.megabitsPerSecond === undefined && layout.nominalBitsPerSecond !== undefined) {
    const { pixels, framesPerSecond } = layout.reference;
    const scaled = [pixels === undefined ? null : 'pixels', framesPerSecond === undefined ? null : 'frame rate'].filter(
      Boolean,
    );
    const reference = [
      pixels === undefined ? null : '1920×1080',
      framesPerSecond === undefined ? null : `${formatNumber(framesPerSecond)} frames a second`,
    ].filter(Boolean);
    lines.push(
      `${layout.label}: nominal ${formatNumber(layout.nominalBitsPerSecond / 1e6)} Mb/s` +
        (scaled.length > 0 ? ` at ${reference.join(', ')}, scaled by ${scaled.join(' and ')}` : ''),
    );
  } else if (layout.kind === 'rate') {
    lines.push(`${layout.label}: ${formatNumber(format.megabitsPerSecond ?? 0)} Mb/s as given`);
  } else {
    const raw = layout.bytesPerFrame(format.raster, format.layoutOptions ?? {});
    lines.push(`${layout.label} at ${rasterText(format.raster)} (${layout.source}): ${bytesText(raw, 'full')} a frame`);
    if (format.ratio !== undefined && format.ratio !== 1) {
      lines.push(`compressed ${formatNumber(format.ratio)}:1: ${bytesText(bytesPerFrame, 'full')} a frame`);
    }
  }
  if (format.fileBlockBytes !== undefined)
    lines.push(`each frame a file in blocks of ${bytesText(format.fileBlockBytes, 'full')}`);
  const parts = [`${bytesText(bytesPerFrame)} × ${frameRateText(format.frameRate)} frames a second`];
  if (format.containerShare) parts.push(`+ ${formatNumber(format.containerShare * 100)} % container`);
  if (format.sound) parts.push(`+ sound ${rateText(soundBytesPerSecond(format.sound))}`);
  if (streams > 1) parts.push(`× ${streams} streams`);
  lines.push(`${parts.join(' ')} = ${rateText(bytesPerSecond)}`);
  if (peakBytesPerSecond > bytesPerSecond * 1.001) lines.push(`up to ${rateText(peakBytesPerSecond)} in a second`);
  return lines;
}
