import type { Progress } from '#core/1-ground/curves/progress.ts';

/**
 * A curve of fewer points that is nowhere off by more than a tolerance in seconds: a point is kept where the straight
 * line from the last one kept would pass too far from any of those between. Stops keep both their ends. When that
 * leaves too many points, the tolerance grows until it does not.
 * @param keepBytes places at which a point stays in any case, such as the knee, ascending
 */
export function thinned(
  progress: Progress,
  toleranceSeconds: number,
  most: number,
  keepBytes: readonly number[] = [],
): Progress {
  if (progress.seconds.length <= 2) return progress;
  const { bytes } = progress;
  const kept = new Set(keepBytes.map((value) => bytes.findIndex((one) => one >= value)));
  let tolerance = toleranceSeconds;
  for (;;) {
    const thin = within(progress, tolerance, kept);
    if (thin.seconds.length <= most) return thin;
    tolerance *= Math.max(1.3, Math.min(4, thin.seconds.length / most));
  }
}

function within({ seconds, bytes }: Progress, tolerance: number, always: ReadonlySet<number>): Progress {
  const kept: Progress = { seconds: [seconds[0]!], bytes: [bytes[0]!] };
  const last = seconds.length - 1;
  let from = 0;
  // Seconds for each byte from the last kept point: between what all points left out allow.
  let [least, most] = [0, Infinity];
  for (let point = 1; point <= last; point += 1) {
    const [took, moved] = [seconds[point]! - seconds[from]!, bytes[point]! - bytes[from]!];
    const afterStop = bytes[point - 1] === bytes[from] && seconds[point - 1]! - seconds[from]! > tolerance && moved > 0;
    const slope = moved > 0 ? took / moved : Infinity;
    const bends = moved > 0 ? slope < least || slope > most : point > from + 1 && bytes[point - 1]! > bytes[from]!;
    if ((afterStop || bends || always.has(point - 1)) && point - 1 > from) {
      from = point - 1;
      kept.seconds.push(seconds[from]!);
      kept.bytes.push(bytes[from]!);
      [least, most] = [0, Infinity];
      point -= 1;
      continue;
    }
    if (moved > 0) {
      least = Math.max(least, (took - tolerance) / moved);
      most = Math.min(most, (took + tolerance) / moved);
    }
  }
  kept.seconds.push(seconds[last]!);
  kept.bytes.push(bytes[last]!);
  return kept;
}
