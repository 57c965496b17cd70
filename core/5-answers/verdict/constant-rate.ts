import { tightWindows, forTightAround } from '#core/4-runs/trace/lost-time.ts';
import { playedWindows, slowestWork } from '#core/5-answers/verdict/worst-case.ts';
import { bytesAfter, turnsOf, windowOfWork, workIn, workUntil, type Service } from '#core/5-answers/verdict/service.ts';

/**
 * The most that waits of a constant rate, without looking at its every window anew: what a drive does from a byte on in
 * a window does not depend on the rate, so it is worked out once. The same as core/5-answers/verdict/worst-case.ts, which tests
 * hold it to.
 */
interface Windows {
  /** For windows that begin at a turn of the drive, or end at one: where, how long, and bytes done in them. */
  fromBytes: Float64Array;
  seconds: Float64Array;
  doneBytes: Float64Array;
  /** Windows that may end where the take does. */
  tight: Float64Array;
  work: Float64Array;
  /** Up to which length they were worked out, seconds. */
  upToSeconds: number;
  /** Where the last question about a limit breaks on them. */
  breaks: Breaks | null;
  /** Those that begin where the last take asked about did, up to where the drive becomes quicker. */
  quicker: { fromBytes: number; seconds: readonly number[] } | null;
}

const known = new WeakMap<Service, Windows>();

function windowsOf(service: Service, upToSeconds: number): Windows {
  const found = known.get(service);
  if (found && found.upToSeconds >= upToSeconds) return found;
  // Some more than is asked for now, so that a little longer takes need no new ones.
  const reach = found ? Math.max(upToSeconds, 2 * found.upToSeconds) : upToSeconds;
  const tight = tightWindows(service.lost, reach);
  const work = tight.map((window) => workIn(service, window));
  const { slower, quicker } = turnsOf(service);
  const [fromBytes, seconds, doneBytes]: [number[], number[], number[]] = [[], [], []];
  const add = (from: number, window: number, done: number): void => {
    fromBytes.push(from);
    seconds.push(window);
    doneBytes.push(done);
  };
  const addEnding = (turn: number, window: number, worked: number): void => {
    const startWork = workUntil(service, turn) - worked;
    if (startWork < 0) return;
    const from = bytesAfter(service, startWork);
    add(from, window, turn - from);
  };
  for (const from of slower) {
    const startWork = workUntil(service, from);
    if (startWork === Infinity) continue;
    tight.forEach((window, at) => {
      const done = bytesAfter(service, startWork + work[at]!);
      if (done !== Infinity) add(from, window, done - from);
    });
    for (const turn of quicker) {
      const until = workUntil(service, turn) - startWork;
      if (until <= 0) continue;
      const window = windowOfWork(service, until);
      add(from, window, turn - from);
      forTightAround(service.lost, window, (around, worked) => {
        const done = bytesAfter(service, startWork + worked);
        if (done !== Infinity) add(from, around, done - from);
        addEnding(turn, around, worked);
      });
    }
  }
  for (const turn of quicker) tight.forEach((window, at) => addEnding(turn, window, work[at]!));
  const windows: Windows = {
    fromBytes: Float64Array.from(fromBytes),
    seconds: Float64Array.from(seconds),
    doneBytes: Float64Array.from(doneBytes),
    tight: Float64Array.from(tight),
    work: Float64Array.from(work),
    upToSeconds: reach,
    breaks: null,
    quicker: null,
  };
  known.set(service, windows);
  return windows;
}

/** Where a take of a constant rate begins on the drive, and which of its windows count. */
export interface PlacedTake {
  fromBytes: number;
  /** Only windows count that end beyond so many bytes of the drive. */
  endsBeyondBytes?: number;
  /** And only those that end before so many. */
  endsBeforeBytes?: number;
}

/** The most bytes that may wait of a constant rate that asks for `bytes` in all from a byte of the drive on. */
export function mostWaiting(bytesPerSecond: number, bytes: number, service: Service, placed: PlacedTake): number {
  const windows = windowsOf(service, bytes / bytesPerSecond);
  const { fromBytes, endsBeyondBytes = -1, endsBeforeBytes = Infinity } = placed;
  const least = Math.max(endsBeyondBytes, fromBytes);
  const last = Math.min(endsBeforeBytes, fromBytes + bytes);
  let most = 0;
  const { fromBytes: starts, seconds, doneBytes } = windows;
  for (let row = 0; row < starts.length; row += 1) {
    const start = starts[row]!;
    if (start < fromBytes) continue;
    const until = start + bytesPerSecond * seconds[row]!;
    if (until > last || until <= least) continue;
    const waits = bytesPerSecond * seconds[row]! - doneBytes[row]!;
    if (waits > most) most = waits;
  }
  return mostAtEnds(most, bytesPerSecond, bytes, service, placed);
}

/** A question about a limit, and where it breaks: from which rate on the same bytes, and after which bytes at the same rate. */
interface Breaks {
  limitBytes: number;
  bytes: number;
  bytesPerSecond: number;
  placed: Required<PlacedTake>;
  leastBytesPerSecond: number;
  leastBytes: number;
}

/**
 * Whether no more than so many bytes ever wait. Who looks for the rate or for the moment at which more do asks it some
 * twenty times over with the same bytes or with the same rate: each window then breaks from one value on, so that all of
 * them are looked at once and not each time.
 */
export function waitsWithin(
  limitBytes: number,
  bytesPerSecond: number,
  bytes: number,
  service: Service,
  { fromBytes, endsBeyondBytes = -1, endsBeforeBytes = Infinity }: PlacedTake,
): boolean {
  const placed = { fromBytes, endsBeyondBytes, endsBeforeBytes };
  const windows = windowsOf(service, bytes / bytesPerSecond);
  const before = windows.breaks;
  const isAbout = before !== null && before.limitBytes === limitBytes && isSamePlace(before.placed, placed);
  const hasSameBytes = isAbout && isSame(before.bytes, bytes);
  const hasSameRate = isAbout && isSame(before.bytesPerSecond, bytesPerSecond);
  const breaks = hasSameBytes || hasSameRate ? before : breaksOf(windows, limitBytes, bytesPerSecond, bytes, placed);
  windows.breaks = breaks;
  if (hasSameRate ? bytes >= breaks.leastBytes : bytesPerSecond > breaks.leastBytesPerSecond) return false;
  return mostAtEnds(limitBytes, bytesPerSecond, bytes, service, placed) <= limitBytes;
}

/** The same but for the rounding of a product or quotient. */
const isSame = (one: number, other: number): boolean => Math.abs(one - other) <= 1e-12 * other;

const isSamePlace = (one: Required<PlacedTake>, other: Required<PlacedTake>): boolean =>
  one.fromBytes === other.fromBytes &&
  one.endsBeyondBytes === other.endsBeyondBytes &&
  one.endsBeforeBytes === other.endsBeforeBytes;

function breaksOf(
  { fromBytes: starts, seconds, doneBytes }: Windows,
  limitBytes: number,
  bytesPerSecond: number,
  bytes: number,
  placed: Required<PlacedTake>,
): Breaks {
  const { fromBytes, endsBeyondBytes, endsBeforeBytes } = placed;
  const last = Math.min(endsBeforeBytes, fromBytes + bytes);
  const least = Math.max(endsBeyondBytes, fromBytes);
  let [leastBytesPerSecond, leastEnd] = [Infinity, Infinity];
  for (let row = 0; row < starts.length; row += 1) {
    const start = starts[row]!;
    if (start < fromBytes) continue;
    const window = seconds[row]!;
    // More than the limit waits, and the window ends beyond where it counts, from this rate on.
    const rate = Math.max((limitBytes + doneBytes[row]!) / window, (least - start) / window);
    if (rate < leastBytesPerSecond && start + rate * window < last) leastBytesPerSecond = rate;
    const until = start + bytesPerSecond * window;
    if (until > least && until <= endsBeforeBytes && until < leastEnd && bytesPerSecond > rate) leastEnd = until;
  }
  return { limitBytes, bytes, bytesPerSecond, placed, leastBytesPerSecond, leastBytes: leastEnd - fromBytes };
}

/**
 * The most bytes that wait in windows that begin where a take does, or end where it does.
 * @param most what is known to wait already: windows that cannot exceed it are passed over
 */
function mostAtEnds(
  most: number,
  bytesPerSecond: number,
  bytes: number,
  service: Service,
  { fromBytes, endsBeyondBytes = -1, endsBeforeBytes = Infinity }: PlacedTake,
): number {
  const takeSeconds = bytes / bytesPerSecond;
  const windows = windowsOf(service, takeSeconds);
  const last = Math.min(endsBeforeBytes, fromBytes + bytes);
  const look = (startBytes: number, window: number, work: number): void => {
    const until = startBytes + bytesPerSecond * window;
    if (startBytes < fromBytes || until > last * (1 + 1e-12) || until <= endsBeyondBytes) return;
    const startWork = workUntil(service, startBytes);
    if (startWork === Infinity) return;
    const done = bytesAfter(service, startWork + work);
    if (done !== Infinity) most = Math.max(most, bytesPerSecond * window - (done - startBytes));
  };
  const slowest = Math.min(...service.rates);
  const { tight, work } = windows;
  for (let at = 0; at < tight.length; at += 1) {
    const window = tight[at]!;
    if (bytesPerSecond * window - slowest * work[at]! <= most || window > takeSeconds) continue;
    if (fromBytes > 0) look(fromBytes, window, work[at]!);
    look(last - bytesPerSecond * window, window, work[at]!);
  }
  const turns = turnsOf(service);
  for (const start of [fromBytes, ...turns.slower]) {
    if (start < fromBytes || start >= last) continue;
    const window = (last - start) / bytesPerSecond;
    look(start, window, workIn(service, window));
    // The windows that are kept may be those of a longer take, without the last rounds of this one.
    forTightAround(service.lost, window, (around, worked) => {
      if (bytesPerSecond * around - slowest * worked <= most) return;
      look(start, around, worked);
      look(last - bytesPerSecond * around, around, worked);
    });
  }
  if (fromBytes > 0)
    for (const window of untilQuicker(windows, service, fromBytes)) {
      look(fromBytes, window, workIn(service, window));
      forTightAround(service.lost, window, (around, worked) => look(fromBytes, around, worked));
    }
  return most;
}

/** Windows that begin at a byte and end where a quicker level does begin. */
function untilQuicker(windows: Windows, service: Service, fromBytes: number): readonly number[] {
  if (windows.quicker?.fromBytes !== fromBytes) {
    const startWork = workUntil(service, fromBytes);
    const work = turnsOf(service).quicker.map((turn) => workUntil(service, turn) - startWork);
    windows.quicker = { fromBytes, seconds: work.filter((one) => one > 0).map((one) => windowOfWork(service, one)) };
  }
  return windows.quicker.seconds;
}

interface PlayedWindows {
  seconds: Float64Array;
  doneBytes: Float64Array;
  upToSeconds: number;
}
const played = new WeakMap<Service, PlayedWindows>();

/** The most bytes that may be missing of a constant rate that is played for a time, wherever on the drive it begins. */
export function mostMissing(bytesPerSecond: number, takeSeconds: number, service: Service): number {
  let windows = played.get(service);
  if (!windows || windows.upToSeconds < takeSeconds) {
    const upToSeconds = windows ? Math.max(takeSeconds, 2 * windows.upToSeconds) : takeSeconds;
    const seconds = playedWindows(service, upToSeconds);
    windows = {
      seconds: Float64Array.from(seconds),
      doneBytes: Float64Array.from(seconds, (window) => slowestWork(service, workIn(service, window))),
      upToSeconds,
    };
    played.set(service, windows);
  }
  let most = Math.max(0, bytesPerSecond * takeSeconds - slowestWork(service, workIn(service, takeSeconds)));
  forTightAround(service.lost, takeSeconds, (window, work) => {
    if (window <= takeSeconds) most = Math.max(most, bytesPerSecond * window - slowestWork(service, work));
  });
  const { seconds, doneBytes } = windows;
  for (let row = 0; row < seconds.length; row += 1) {
    if (seconds[row]! <= takeSeconds) most = Math.max(most, bytesPerSecond * seconds[row]! - doneBytes[row]!);
  }
  return most;
}
