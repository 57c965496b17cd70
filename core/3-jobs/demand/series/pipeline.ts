/** A series as it is worked through: frames are computed one after the other and written in order. */
export interface SeriesWork {
  /** Bytes of each frame. */
  bytes: Float64Array;
  /** Seconds of computing of each frame. */
  compute: Float64Array;
  /** Those seconds hold the writing, to a drive of which nothing is known: this one is taken to be as fast. */
  holdsWriting: boolean;
  /** Finished frames that may wait for the drive, the one being written included; 0: the program waits for each. */
  queueFrames: number;
}

export interface SeriesTimes {
  totalSeconds: number;
  computeSeconds: number;
  /** 1 − computing ÷ whole: what a drive of any speed could save of it. */
  driveShare: number;
  /** Seconds of writing of each frame. */
  write: Float64Array;
  /** Seconds after the start at which each frame is on the drive. */
  written: Float64Array;
  /** Frames for which computing stood still, from 0; the first and the last of them, and how many. */
  waitedFrames: { first: number; last: number; count: number } | null;
}

/**
 * The two stages in exact order. A frame is handed over when its computing is done and no more than
 * m frames before it still wait or are being written; the next begins to be computed then. With
 * m = 0 the next begins when the frame is on the drive: T = Σ (c + b ÷ w). Where c holds the writing it is not charged
 * again: T = Σ max(c, b ÷ w).
 * @param write seconds of writing each frame
 */
export function seriesTimes({ compute, holdsWriting, queueFrames }: SeriesWork, write: Float64Array): SeriesTimes {
  const frames = write.length;
  const written = new Float64Array(frames);
  let [before, computeSeconds, free, waited, first, last] = [0, 0, 0, 0, -1, -1];
  for (let frame = 0; frame < frames; frame += 1) {
    const own = holdsWriting ? Math.max(0, compute[frame]! - write[frame]!) : compute[frame]!;
    computeSeconds += own;
    const computed = free + own;
    const blockedUntil = queueFrames > 0 && frame >= queueFrames ? written[frame - queueFrames]! : 0;
    const handedOver = computed > blockedUntil ? computed : blockedUntil;
    const begun = handedOver > before ? handedOver : before;
    before = begun + write[frame]!;
    written[frame] = before;
    free = queueFrames === 0 ? before : handedOver;
    if (free > computed + 1e-12) {
      waited += 1;
      if (first < 0) first = frame;
      last = frame;
    }
  }
  const totalSeconds = written[frames - 1]!;
  return {
    totalSeconds,
    computeSeconds,
    driveShare: totalSeconds > 0 ? Math.max(0, 1 - computeSeconds / totalSeconds) : 0,
    write,
    written,
    waitedFrames: waited > 0 ? { first, last, count: waited } : null,
  };
}

/** The whole at a constant rate, seconds. */
export function secondsAtRate(work: SeriesWork, bytesPerSecond: number): number {
  const write = work.bytes.map((bytes) => bytes / bytesPerSecond);
  return seriesTimes(work, write).totalSeconds;
}

/**
 * Least rate at which the drive takes no more than a share of the whole: beyond it a faster one wins
 * less than that. Exact for a writer that blocks, by halving for a queue; null when there is nothing
 * to compute, so that any drive takes all of it.
 */
export function rateForShare(work: SeriesWork, share: number): number | null {
  let [bytes, compute] = [0, 0];
  for (let frame = 0; frame < work.bytes.length; frame += 1) {
    bytes += work.bytes[frame]!;
    compute += work.compute[frame]!;
  }
  if (bytes === 0) return 0;
  if (compute === 0) return null;
  // Its share of times that hold it.
  if (work.holdsWriting) return bytes / (share * compute);
  // A queue never needs more than a writer that blocks.
  let high = (bytes * (1 - share)) / (share * compute);
  if (work.queueFrames === 0) return high;
  let low = high / 1e6;
  for (let step = 0; step < 60; step += 1) {
    const middle = Math.sqrt(low * high);
    if (1 - compute / secondsAtRate(work, middle) <= share) high = middle;
    else low = middle;
  }
  return high;
}
