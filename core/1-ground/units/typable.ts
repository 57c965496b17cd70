import { blockText, bytesText, formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { parseBytes, parseDuration } from '#core/1-ground/units/quantity.ts';

/** Figures as they can be typed again: without the narrow space and the grouping of thousands. */
export const typable = (text: string): string => text.replaceAll('\u202f', ' ').replaceAll(',', '');

/** A number without an exponent, which nobody types. */
const plainNumber = (value: number): string =>
  /e-/.test(String(value)) ? value.toFixed(20).replace(/0+$/, '') : String(value);

/** An amount as typed again: rounded for reading only where nothing is lost. */
export function bytesTyped(bytes: number): string {
  const text = typable(bytesText(bytes));
  return parseBytes(text) === bytes ? text : `${bytes} B`;
}

/** A block or a request as typed again, the same way. */
export function blockTyped(bytes: number): string {
  const text = typable(blockText(bytes));
  return parseBytes(text) === bytes ? text : `${bytes} B`;
}

/** A span of time as typed again, to the last digit. */
export function secondsTyped(seconds: number): string {
  const text = typable(formatDuration(seconds));
  return parseDuration(text) === seconds ? text : `${plainNumber(seconds)} s`;
}

export const shareTyped = (share: number): string => `${plainNumber(Number((share * 100).toPrecision(12)))}%`;

/** A rate as typed again, in MB/s. */
export function rateTyped(bytesPerSecond: number): string {
  const rounded = typable(formatNumber(bytesPerSecond / 1e6));
  return `${Number(rounded) * 1e6 === bytesPerSecond ? rounded : plainNumber(bytesPerSecond / 1e6)} MB/s`;
}
