import { bytesAt, type Progress } from '#core/1-ground/curves/progress.ts';
import { lostIn, tightWindows, forTightAround } from '#core/4-runs/trace/lost-time.ts';
import { askedSeconds, summed, type Asked } from '#core/5-answers/verdict/asked.ts';
import { bytesAfter, turnsOf, windowOfWork, workIn, workUntil, type Service } from '#core/5-answers/verdict/service.ts';
import { countAtMost } from '#core/1-ground/numbers/search.ts';

/**
 * What may wait at most when a job is done on a drive that loses time in the worst way (Le Boudec & Thiran, *Network
 * Calculus*, Springer 2001, ch. 1). Nothing overflows exactly when, for all moments s before t of the take,
 * Σ max(0, Aᵢ(t) − Bᵢ − Aᵢ(s)) is no more than what the drive does from byte A(s) on in the work that is left of t − s,
 * the most urgent deadline first. Both sides are linear between a few moments, so only those are looked at.
 */

/** Bytes asked for by a moment, quick to look up. */
interface Arrivals {
  total: Progress;
  items: readonly Asked[];
  lastSeconds: number;
}

/** The moment at which so many bytes are asked for; null when they never are. */
function momentOf({ seconds, bytes }: Progress, value: number): number | null {
  const last = seconds.length - 1;
  if (value < 0 || value > bytes[last]!) return null;
  const low = Math.max(0, Math.min(last, countAtMost(bytes, value)) - 1);
  const high = Math.min(last, low + 1);
  const span = bytes[high]! - bytes[low]!;
  return span > 0 ? seconds[low]! + ((value - bytes[low]!) / span) * (seconds[high]! - seconds[low]!) : seconds[low]!;
}

/** What a burst adds at most in so many seconds: whole frames come at once, in none. */
function burstIn({ bytes, bytesPerSecond }: Asked['burst'], seconds: number): number {
  return bytesPerSecond === Infinity ? bytes : Math.min(bytes, bytesPerSecond * seconds);
}

/** What of the bytes that came since s has to be done by t. */
function due({ items }: Arrivals, s: number, t: number): number {
  let sum = 0;
  for (const { curve, bufferBytes, burst } of items) {
    sum += Math.max(0, bytesAt(curve, t) - bytesAt(curve, s) + burstIn(burst, t - s) - bufferBytes);
  }
  return sum;
}

/** How long bursts of items last, seconds: 0 for whole frames that come at once. */
const burstWindows = (items: readonly Asked[]): number[] =>
  items.flatMap(({ burst }) => (burst.bytes > 0 ? [burst.bytes / burst.bytesPerSecond] : []));

/** Where a job begins on the drive, and which of its windows count. */
export interface Placed {
  /** Bytes of the drive at which the take begins. */
  fromBytes: number;
  /** Only windows count that end beyond so many bytes of the drive; and only those that end before so many. */
  endsBeyondBytes?: number;
  endsBeforeBytes?: number;
}

/**
 * The most by which what is due may exceed what a drive has written of it, bytes; not above 0 when the take holds.
 * For one item without a buffer that is the least buffer.
 * @param limitBytes where only that is asked, whether more than so much is: then the answer is no more than this where
 * nothing is, and the first that is more where something is, which is quicker to say
 */
export function mostOverdue(
  items: readonly Asked[],
  service: Service,
  { fromBytes, endsBeyondBytes = -1, endsBeforeBytes = Infinity }: Placed,
  limitBytes: number | null = null,
): number {
  const total = summed(items);
  const arrivals: Arrivals = { total, items, lastSeconds: askedSeconds(items) };
  const { lastSeconds } = arrivals;
  const bursts = burstWindows(items);
  const tight = [...tightWindows(service.lost, lastSeconds), ...bursts];
  const knots = total.seconds;
  const { slower, quicker } = turnsOf(service);
  let most = limitBytes ?? -Infinity;
  const isSettled = (): boolean => limitBytes !== null && most > limitBytes;
  const slowestRate = Math.min(...service.rates);
  const mostLost = lostIn(service.lost, lastSeconds);
  // What may be due beyond what the curves ask for: bursts, and what a thinned curve took off its buffer and more.
  const beyondBytes = items.reduce((sum, { burst, bufferBytes }) => sum + burst.bytes + Math.max(0, -bufferBytes), 0);

  const look = (s: number, t: number, startBytes: number, startWork: number): void => {
    const moved = fromBytes + bytesAt(total, t);
    if (moved <= endsBeyondBytes || moved > endsBeforeBytes) return;
    // Even with no more than the slowest level, and all of the loss that there can be, it would not be the most.
    const window = t - s;
    const atLeast = slowestRate * Math.max(0, window - mostLost);
    if (moved - startBytes + beyondBytes - atLeast <= most) return;
    const asked = due(arrivals, s, t);
    if (asked - atLeast <= most) return;
    const done = bytesAfter(service, startWork + workIn(service, window));
    if (done === Infinity) return;
    most = Math.max(most, asked - (done - startBytes));
  };

  // Windows whose end is given: at the end of an item, or where less is asked for from there on, and all that is
  // lost has been; and those that end where a quicker level begins.
  const ending = (t: number, window: number): void => {
    const s = t - window;
    if (s <= 0) return;
    const startBytes = fromBytes + bytesAt(total, s);
    const startWork = workUntil(service, startBytes);
    if (startWork !== Infinity) look(s, t, startBytes, startWork);
  };
  const endingAtQuicker = (bytes: number, window: number): void => {
    const startWork = workUntil(service, bytes) - workIn(service, window);
    if (startWork < 0) return;
    const s = momentOf(total, bytesAfter(service, startWork) - fromBytes);
    if (s !== null && s + window <= lastSeconds) ending(s + window, window);
  };
  const begins = new Set(knots);
  for (const bytes of slower) {
    const moment = momentOf(total, bytes - fromBytes);
    if (moment !== null) begins.add(moment);
  }
  for (const s of begins) {
    const startBytes = fromBytes + bytesAt(total, s);
    const startWork = workUntil(service, startBytes);
    if (startWork === Infinity) continue;
    if (isSettled()) return most;
    for (const window of tight) if (s + window <= lastSeconds) look(s, s + window, startBytes, startWork);
    // Where something turns, and of many rounds those around it.
    const turnAt = (t: number): void => {
      look(s, t, startBytes, startWork);
      forTightAround(service.lost, t - s, (window) => {
        if (s + window <= lastSeconds) look(s, s + window, startBytes, startWork);
        ending(t, window);
      });
    };
    for (const t of knots) if (t >= s) turnAt(t);
    for (const window of bursts) if (s + window <= lastSeconds) turnAt(s + window);
    for (const bytes of quicker) {
      const work = workUntil(service, bytes) - startWork;
      if (work <= 0) continue;
      const window = windowOfWork(service, work);
      if (s + window > lastSeconds) continue;
      turnAt(s + window);
      forTightAround(service.lost, window, (around) => endingAtQuicker(bytes, around));
    }
  }
  for (const t of knots) {
    if (isSettled()) return most;
    for (const window of tight) ending(t, window);
  }
  for (const bytes of quicker) for (const window of tight) endingAtQuicker(bytes, window);
  return most;
}

/** Bytes that a drive does at least in so much work, wherever it is; Infinity where it was not seen for as long. */
export function slowestWork(service: Service, work: number): number {
  const { slower, quicker } = turnsOf(service);
  let least = Infinity;
  for (const bytes of slower) {
    least = Math.min(least, bytesAfter(service, workUntil(service, bytes) + work) - bytes);
  }
  for (const bytes of quicker) {
    const start = workUntil(service, bytes) - work;
    if (start >= 0) least = Math.min(least, bytes - bytesAfter(service, start));
  }
  return least;
}

/** Lengths of windows at which what a drive does at least, wherever it is, is about to grow, or to grow quicker. */
export function playedWindows(service: Service, mostSeconds: number): number[] {
  const { slower, quicker } = turnsOf(service);
  // From a turn to a quicker level, or back from where it ends there.
  const boundaries = [...slower, ...quicker];
  const turns = quicker.flatMap((bytes) =>
    boundaries.map((from) => workUntil(service, bytes) - workUntil(service, from)).filter((work) => work > 0),
  );
  const turnWindows = turns.map((work) => windowOfWork(service, work));
  const windows = [...tightWindows(service.lost, mostSeconds), ...turnWindows];
  for (const window of turnWindows) forTightAround(service.lost, window, (around) => windows.push(around));
  return windows;
}

/**
 * The same for playing, which may begin at any byte that was read: what is due in each window against the slowest
 * stretch of the drive.
 * @param limitBytes as of {@link mostOverdue}
 */
export function mostStarved(items: readonly Asked[], service: Service, limitBytes: number | null = null): number {
  const total = summed(items);
  const arrivals: Arrivals = { total, items, lastSeconds: askedSeconds(items) };
  const { lastSeconds } = arrivals;
  let most = limitBytes ?? -Infinity;
  // What a window holds at least does not hang on where it lies: worked out once for each length.
  const windows = [...playedWindows(service, lastSeconds), ...burstWindows(items)].sort((a, b) => a - b);
  const least = windows.map((window) => slowestWork(service, workIn(service, window)));
  const look = (s: number, t: number, done: number): void => {
    if (done !== Infinity) most = Math.max(most, due(arrivals, s, t) - done);
  };
  const around = (s: number, t: number): void =>
    forTightAround(service.lost, t - s, (window, work) => {
      const done = slowestWork(service, work);
      if (s + window <= lastSeconds) look(s, s + window, done);
      if (window < t) look(t - window, t, done);
    });
  for (const s of total.seconds) {
    if (limitBytes !== null && most > limitBytes) return most;
    windows.forEach((window, at) => {
      if (s + window <= lastSeconds) look(s, s + window, least[at]!);
      if (window < s) look(s - window, s, least[at]!);
    });
    let shorter = 0;
    for (const t of total.seconds) {
      if (t < s) continue;
      around(s, t);
      while (shorter < windows.length && windows[shorter]! <= t - s) shorter += 1;
      // No less than in the next shorter window: most pairs need no more than that.
      const atLeast = shorter > 0 ? least[shorter - 1]! : 0;
      if (due(arrivals, s, t) - atLeast > most) look(s, t, slowestWork(service, workIn(service, t - s)));
    }
  }
  return most;
}
