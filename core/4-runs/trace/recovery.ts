import type { Marker } from '#core/4-runs/run/run-document.ts';
import type { Pass } from '#core/4-runs/trace/passes.ts';
import { KNEE_SHARE } from '#core/4-runs/trace/reading.ts';

/** Fast cache that a rest on the floor regained. */
export interface RecoveryPoint {
  restSeconds: number;
  /** Bytes written at the opening's rate before it fell again. */
  regainedBytes: number;
  /** It had not fallen yet when the writing ended: the cache holds at least this. */
  atLeast: boolean;
}

/** A mean over less says more of the sample than of the rate. */
const WINDOW_SECONDS = 1;

/** What each rest of a run regained, in their order. */
export function recoveryOf(
  passes: readonly Pass[],
  markers: readonly Marker[],
  openingBytesPerSecond: number,
): RecoveryPoint[] {
  const rests = markers.filter((marker) => marker.kind === 'rest');
  return passes
    .filter((pass) => pass.phase === 'recovery')
    .flatMap((pass) => {
      const rest = rests.filter((marker) => marker.atSeconds < pass.startSeconds).at(-1);
      if (!rest) return [];
      const fallen = bytesUntilFallen(pass, KNEE_SHARE * openingBytesPerSecond);
      return [{ restSeconds: rest.seconds, regainedBytes: fallen ?? pass.bytes, atLeast: fallen === null }];
    });
}

/** Bytes up to the moment from which on the rate stays under the knee's; null when it ends above. */
function bytesUntilFallen({ progress: { seconds, bytes } }: Pass, kneeBytesPerSecond: number): number | null {
  const rate = (from: number, to: number) =>
    (bytes[to]! - bytes[from]!) / Math.max(1e-9, seconds[to]! - seconds[from]!);
  let from = seconds.length - 1;
  for (let to = seconds.length - 1; to > 0; to -= 1) {
    while (from > 0 && seconds[to]! - seconds[from]! < WINDOW_SECONDS) from -= 1;
    if (rate(from, to) < kneeBytesPerSecond) continue;
    // The last window that was still fast: within it, the last sample that was.
    let last = to;
    while (last > from + 1 && rate(last - 1, last) < kneeBytesPerSecond) last -= 1;
    return last >= seconds.length - 2 ? null : bytes[last]!;
  }
  return 0;
}
