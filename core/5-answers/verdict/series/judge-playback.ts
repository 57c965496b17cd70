import type { Demand } from '#core/3-jobs/demand/demand.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { frameRateText, framesPerSecond } from '#core/1-ground/units/frame-rate.ts';
import { UNKNOWN, type ItemVerdict } from '#core/5-answers/verdict/verdict.ts';

/**
 * The verdict on playing a cache where showing a frame alone takes longer than a frame may: no drive changes that, and
 * none is blamed for it. Null where showing leaves time, so that the drive decides.
 */
export function judgePlayback({ playback }: SeriesItem, { takeSeconds }: Demand): ItemVerdict | null {
  if (playback === null) return null;
  const wanted = framesPerSecond(playback.frameRate);
  const shown = 1 / playback.showSeconds;
  if (shown >= wanted) return null;
  return {
    verdict: { ...UNKNOWN, verdict: 'breaks', reason: 'showing', breaksAtSeconds: Math.min(takeSeconds, 1 / wanted) },
    sentence: `No drive plays it at ${frameRateText(playback.frameRate)}: showing a frame takes ${formatDuration(playback.showSeconds)}, which makes ${formatNumber(shown)} a second at most, from memory too.`,
    short: `Showing makes ${formatNumber(shown)} a second`,
  };
}
