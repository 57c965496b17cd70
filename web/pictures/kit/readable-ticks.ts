import { LABEL_SIZE, textWidth } from './labels.ts';
import type { PictureScale } from '#core/1-ground/axis-span.ts';

/** Space between two numbers of an axis, pixels. */
const LEAST_GAP = 8;

/** Ticks whose numbers do not run into each other: all of them, or every second, third and so on. */
export function readableTicks(
  scale: Pick<PictureScale, 'ticks'> & ((value: number) => number),
  format: (value: number) => string,
): number[] {
  const fits = (ticks: readonly number[]): boolean => {
    let end = -Infinity;
    return ticks.every((tick) => {
      const half = textWidth(format(tick), LABEL_SIZE) / 2;
      const isFree = scale(tick) - half >= end + LEAST_GAP;
      end = scale(tick) + half;
      return isFree;
    });
  };
  for (let every = 1; every < scale.ticks.length; every += 1) {
    const ticks = scale.ticks.filter((_, index) => index % every === 0);
    if (fits(ticks)) return ticks;
  }
  return scale.ticks.slice(0, 1);
}
