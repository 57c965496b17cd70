import type { Progress } from '#core/1-ground/curves/progress.ts';
import { lostTimeWithStops } from '#core/4-runs/trace/stops.ts';
import type { LostTime } from '#core/4-runs/trace/lost-time.ts';

/** Behind by less than this is the gap between two blocks. */
const LEAST_BEHIND_SECONDS = 0.3;
/** Who is not back by then has become slower by bytes: that is no pause. */
export const MOST_BEHIND_SECONDS = 30;
/** Its pace is told by the best of it, once so much time has passed. */
const LEAST_PACE_SECONDS = 2;

/**
 * Seconds that a drive lost by the clock while it was written to at a pace and no faster: how far it was behind. Null
 * where it kept up, within the gaps between blocks.
 */
export function lostWhileWatched({ seconds, bytes }: Progress): LostTime | null {
  let pace = 0;
  for (let at = 1; at < seconds.length; at += 1) {
    if (seconds[at]! >= LEAST_PACE_SECONDS) pace = Math.max(pace, bytes[at]! / seconds[at]!);
  }
  if (pace === 0) return null;
  const lost = new Float64Array(seconds.length);
  let since = 0;
  for (let at = 0; at < seconds.length; at += 1) {
    const behind = seconds[at]! - bytes[at]! / pace;
    if (behind < LEAST_BEHIND_SECONDS) since = seconds[at]!;
    else if (seconds[at]! - since > MOST_BEHIND_SECONDS) {
      lost.fill(
        0,
        seconds.findIndex((one) => one >= since),
      );
      break;
    } else lost[at] = behind;
  }
  return lost.some((one) => one > 0) ? lostTimeWithStops({ seconds: Float64Array.from(seconds), lost }) : null;
}
