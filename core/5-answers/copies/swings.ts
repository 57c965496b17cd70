/** A stream of a copy whose rate comes and goes by the clock, or stays: how long it keeps each pace, again and again. */
export interface Paced {
  paces: { seconds: number; bytesPerSecond: number }[];
}

/** What a copy comes to beside drives that swing, and for how long each stream was what held it back. */
export interface SwungCopy {
  bytesPerSecond: number;
  /** Seconds by number of the stream, the source first. */
  boundSeconds: number[];
}

/** Swings begin at any moment, so several fall together in many ways: so many of them are tried. */
const PHASES = 6;
const GOLDEN = 0.618034;
/** A copy is followed until the streams have changed their pace at least so often, or for so many changes in all. */
const LEAST_PACES = 60;
const MOST_STEPS = 6000;

/**
 * The mean rate of a copy from a source to targets, followed from one change of pace to the next: a target writes no more
 * than has been read, and the source reads ahead of the slowest target by what is held in memory.
 * @param streams the source first; each already no faster than the links it goes over
 */
export function copyBesideSwings(streams: readonly Paced[], aheadBytes: number): SwungCopy {
  const boundSeconds = streams.map(() => 0);
  const swinging = streams.filter(({ paces }) => paces.length > 1).length;
  let [moved, took] = [0, 0];
  for (let phase = 0; phase < (swinging > 1 ? PHASES : 1); phase += 1) {
    const run = followed(streams, aheadBytes, phase, boundSeconds);
    moved += run.bytes;
    took += run.seconds;
  }
  return { bytesPerSecond: moved / took, boundSeconds };
}

function followed(
  streams: readonly Paced[],
  aheadBytes: number,
  phase: number,
  boundSeconds: number[],
): { bytes: number; seconds: number } {
  const lengths = streams.map(({ paces }) => paces.reduce((sum, { seconds }) => sum + seconds, 0));
  const longest = Math.max(...streams.map(({ paces }, stream) => (paces.length > 1 ? lengths[stream]! : 0)));
  const most = Math.max(...streams.map(({ paces }) => paces.length));
  const until = longest * Math.max(1, Math.ceil(LEAST_PACES / most));
  const clocks = streams.map(({ paces }, stream) => clockOf(paces, ((phase * GOLDEN * stream) % 1) * lengths[stream]!));
  const positions = streams.map(() => 0);
  let seconds = 0;
  for (let step = 0; step < MOST_STEPS && seconds < until - 1e-9; step += 1) {
    const rates = clocks.map(({ rate }) => rate());
    const behind = Math.min(...positions.slice(1));
    const lead = positions[0]! - behind;
    const isFull = lead >= aheadBytes - 1;
    const laggards = positions.flatMap((at, stream) => (stream > 0 && at <= behind + 1 ? [stream] : []));
    const slowest = laggards.reduce((slow, one) => (rates[one]! < rates[slow]! ? one : slow));
    // With memory full the source waits for the target furthest behind; a target that has caught up waits for the source.
    const isHeld = isFull && rates[slowest]! < rates[0]!;
    const source = isHeld ? rates[slowest]! : rates[0]!;
    const moving = positions.map((at, stream) =>
      stream === 0 ? source : at < positions[0]! - 1 ? rates[stream]! : Math.min(rates[stream]!, source),
    );
    let next = Math.min(until - seconds, ...clocks.map(({ left }) => left()));
    const closing = moving[0]! - Math.min(...laggards.map((one) => moving[one]!));
    if (!isFull && closing > 0) next = Math.min(next, (aheadBytes - lead) / closing);
    positions.forEach((at, stream) => {
      const gap = positions[0]! - at;
      if (stream > 0 && gap > 1 && moving[stream]! > moving[0]!)
        next = Math.min(next, gap / (moving[stream]! - moving[0]!));
      // One that falls behind the others becomes the one that is waited for.
      const above = at - behind;
      const slower = moving[slowest]! - moving[stream]!;
      if (stream > 0 && above > 1 && slower > 0) next = Math.min(next, above / slower);
    });
    next = Math.max(next, 1e-6);
    boundSeconds[isHeld || rates[slowest]! < rates[0]! ? slowest : 0]! += next;
    moving.forEach((rate, stream) => (positions[stream]! += rate * next));
    clocks.forEach(({ pass }) => pass(next));
    seconds += next;
  }
  return { bytes: Math.min(...positions.slice(1)), seconds };
}

/** Where a stream is in its paces. */
function clockOf(paces: Paced['paces'], fromSeconds: number) {
  let [at, left] = [0, paces[0]!.seconds];
  const pass = (seconds: number) => {
    let rest = seconds;
    while (rest >= left - 1e-9 && paces.length > 1) {
      rest -= left;
      at = (at + 1) % paces.length;
      left = paces[at]!.seconds;
    }
    left -= Math.max(0, rest);
  };
  if (paces.length > 1) pass(fromSeconds);
  return {
    rate: () => paces[at]!.bytesPerSecond,
    left: () => (paces.length > 1 ? left : Infinity),
    pass,
  };
}
