import { fitTimes } from '#core/3-jobs/demand/observed/fit-times.ts';
import { sumOf } from '#core/3-jobs/demand/series/frame-bytes.ts';
import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { formatDuration, formatShare, rateText } from '#core/1-ground/units/format.ts';

/** What a person has seen outranks what was assumed: where both are there and clash, the seen is said and offered. */
export interface SeenTimes {
  /** What leads, by the times that were seen. */
  sentence: string;
  /** Computing of a frame as the seen times have it, seconds, where the typed one clashes with it; else null. */
  computeSeconds: number | null;
  clash: string | null;
}

/** Typed and seen times that differ by less than this agree. */
const AGREES_SHARE = 0.1;

/** Null where no times of two drives were seen. */
export function seenTimes(item: SeriesItem): SeenTimes | null {
  const fit = fitTimes(item.observed);
  if (!fit) return null;
  const fastest = Math.max(...fit.times.map(({ bytesPerSecond }) => bytesPerSecond));
  const waits = fit.bytes / fastest;
  const whole = fit.otherSeconds + waits;
  const typed = sumOf(seriesWork(item).compute);
  const isClash = Math.abs(typed - fit.otherSeconds) > AGREES_SHARE * Math.max(typed, fit.otherSeconds);
  const frame = fit.otherSeconds / item.frameCount;
  return {
    sentence: `By the times you have seen, ${formatShare(waits / Math.max(1e-9, whole))} of ${formatDuration(whole)} waits for a drive of ${rateText(fastest)}: no faster one saves more than ${formatDuration(waits)}.`,
    computeSeconds: isClash ? Number(frame.toPrecision(4)) : null,
    clash: isClash
      ? `Typed are ${formatDuration(typed)} of computing, and ${formatDuration(fit.otherSeconds)} were seen: ${formatDuration(frame)} a frame.`
      : null,
  };
}
