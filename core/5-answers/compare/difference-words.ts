import { bytesText, formatNumber, formatShare } from '#core/1-ground/units/format.ts';
import type { SideDifference } from '#core/5-answers/compare/compare-drives.ts';

const rangeText = (low: number, high: number): string => `${formatNumber(100 * low)} to ${formatShare(high)}`;

/** “18 % more (15 – 21)”, or that nothing is shown; and that floors differ where the bytes both moved do not tell. */
export function differenceText({ share, low, high, isShown, floorsDiffer }: SideDifference): string {
  const range = rangeText(low, high);
  if (isShown) return `${formatShare(Math.abs(share))} ${share > 0 ? 'more' : 'less'} (${range})`;
  return floorsDiffer ? 'floors differ, else none shown' : `no difference shown (${range})`;
}

/** What a difference was told from. */
export const comparedOver = ({ low, high, overBytes }: SideDifference): string =>
  `${overBytes === null ? 'Pass by pass' : `Over the first ${bytesText(overBytes)}`}: ${rangeText(low, high)}`;
