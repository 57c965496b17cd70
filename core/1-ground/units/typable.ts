import { bytesText, formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { parseBytes, parseDuration } from '#core/1-ground/units/quantity.ts';

/** Figures as they can be typed again: without the narrow space and the grouping of thousands. */
export const typable = (text: string): string => text.replaceAll('\u202f', ' ').replaceAll(',', '');

/** An amount as typed again: rounded for reading only where nothing is lost. */
export function bytesTyped(bytes: number): string {
  const text = typable(bytesText(bytes));
  return parseBytes(text) === bytes ? text : `${bytes} B`;
}

export function secondsTyped(seconds: number): string {
  const text = typable(formatDuration(seconds));
  return parseDuration(text) === seconds ? text : `${seconds} s`;
}

export const shareTyped = (share: number): string => `${Number((share * 100).toPrecision(12))}%`;

/** A rate as typed again, in MB/s. */
export function rateTyped(bytesPerSecond: number): string {
  const rounded = typable(formatNumber(bytesPerSecond / 1e6));
  return `${Number(rounded) * 1e6 === bytesPerSecond ? rounded : bytesPerSecond / 1e6} MB/s`;
}
