import type { Progress } from '#core/1-ground/curves/progress.ts';

/** Requests that a sample has to hold: with fewer, how many happened to end in it says more than how fast they were. */
const LEAST_REQUESTS = 4;
/** What lasts so long is a sample whatever it moved: a stop stays one. */
const LONGEST_SECONDS = 2.5;
/** So many of the samples that moved something moved whole requests, where it went in requests of one size. */
const WHOLE_SHARE = 0.9;
const ROUNDING = 1e-3;

/**
 * A trace whose samples hold enough requests. Of a slow drive and large requests a sample of a tenth of a second holds one
 * or none: 84 MB/s and 0 in turns are no noise but 40 MB/s, and next to a quicker level they look like stops. Samples that
 * hold whole requests are joined until they hold four or last 2.5 s; a trace that moved otherwise stays as it is.
 * @param requestBytes what a request moved; null where that is not known
 */
export function evened(progress: Progress, requestBytes: number | null): Progress {
  const { seconds, bytes } = progress;
  if (requestBytes === null || !movedWhole(bytes, requestBytes)) return progress;
  const joined: Progress = { seconds: [seconds[0]!], bytes: [bytes[0]!] };
  let from = 0;
  for (let point = 1; point < seconds.length; point += 1) {
    const isEnough =
      bytes[point]! - bytes[from]! >= (LEAST_REQUESTS - ROUNDING) * requestBytes ||
      seconds[point]! - seconds[from]! >= LONGEST_SECONDS;
    if (!isEnough && point < seconds.length - 1) continue;
    joined.seconds.push(seconds[point]!);
    joined.bytes.push(bytes[point]!);
    from = point;
  }
  return joined;
}

/** Whether nearly all samples that moved something moved whole requests of a size; a file’s end holds less. */
function movedWhole(bytes: readonly number[], requestBytes: number): boolean {
  let [moving, whole] = [0, 0];
  for (let point = 1; point < bytes.length; point += 1) {
    const requests = (bytes[point]! - bytes[point - 1]!) / requestBytes;
    if (requests <= 0) continue;
    moving += 1;
    if (Math.abs(requests - Math.round(requests)) < ROUNDING) whole += 1;
  }
  return moving > 0 && whole >= WHOLE_SHARE * moving;
}
