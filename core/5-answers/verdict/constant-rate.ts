import { tightWindows } from '#core/4-runs/trace/lost-time.ts';
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
  tight: number[];
  work: number[];
  /** Up to which length they were worked out, seconds. */
  upToSeconds: number;
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
  const rows: [number, number, number][] = [];
  for (const from of slower) {
    const startWork = workUntil(service, from);
    if (startWork === Infinity) continue;
    tight.forEach((window, at) => {
      const done = bytesAfter(service, startWork + work[at]!);
      if (done !== Infinity) rows.push([from, window, done - from]);
    });
    for (const turn of quicker) {
      const until = workUntil(service, turn) - startWork;
      if (until > 0) rows.push([from, windowOfWork(service, until), turn - from]);
    }
  }
  for (const turn of quicker) {
    const until = workUntil(service, turn);
    tight.forEach((window, at) => {
      const startWork = until - work[at]!;
      if (startWork < 0) return;
      const from = bytesAfter(service, startWork);
      rows.push([from, window, turn - from]);
    });
  }
  const windows: Windows = {
    fromBytes: Float64Array.from(rows, ([from]) => from),
    seconds: Float64Array.from(rows, ([, window]) => window),
    doneBytes: Float64Array.from(rows, ([, , done]) => done),
    tight,
    work,
    upToSeconds: reach,
  };
  known.set(service, windows);
  return windows;
}

/**
 * The most bytes that may wait of a constant rate that asks for `bytes` in all from byte `fromBytes` of the drive on.
 * @param endsBeyondBytes only windows count that end beyond so many bytes of the drive
 * @param endsBeforeBytes and only those that end before so many
 */
export function mostWaiting(
  bytesPerSecond: number,
  bytes: number,
  service: Service,
  {
    fromBytes,
    endsBeyondBytes = -1,
    endsBeforeBytes = Infinity,
  }: { fromBytes: number; endsBeyondBytes?: number; endsBeforeBytes?: number },
): number {
  const takeSeconds = bytes / bytesPerSecond;
  const windows = windowsOf(service, takeSeconds);
  const end = fromBytes + bytes;
  const least = Math.max(endsBeyondBytes, fromBytes);
  const last = Math.min(endsBeforeBytes, end);
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
  const look = (startBytes: number, window: number, work: number): void => {
    const until = startBytes + bytesPerSecond * window;
    if (startBytes < fromBytes || until > last * (1 + 1e-12) || until <= endsBeyondBytes) return;
    const startWork = workUntil(service, startBytes);
    if (startWork === Infinity) return;
    const done = bytesAfter(service, startWork + work);
    if (done !== Infinity) most = Math.max(most, bytesPerSecond * window - (done - startBytes));
  };
  // Windows that begin where the take does, or end where it does; those that cannot matter are passed over.
  const slowest = Math.min(...service.rates);
  windows.tight.forEach((window, at) => {
    if (window > takeSeconds || bytesPerSecond * window - slowest * windows.work[at]! <= most) return;
    if (fromBytes > 0) look(fromBytes, window, windows.work[at]!);
    look(last - bytesPerSecond * window, window, windows.work[at]!);
  });
  const turns = turnsOf(service);
  for (const start of [fromBytes, ...turns.slower]) {
    if (start < fromBytes || start >= last) continue;
    const window = (last - start) / bytesPerSecond;
    look(start, window, workIn(service, window));
  }
  if (fromBytes > 0) {
    const startWork = workUntil(service, fromBytes);
    for (const turn of turns.quicker) {
      const until = workUntil(service, turn) - startWork;
      if (until <= 0) continue;
      const window = windowOfWork(service, until);
      look(fromBytes, window, workIn(service, window));
    }
  }
  return most;
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
  const { seconds, doneBytes } = windows;
  for (let row = 0; row < seconds.length; row += 1) {
    if (seconds[row]! <= takeSeconds) most = Math.max(most, bytesPerSecond * seconds[row]! - doneBytes[row]!);
  }
  return most;
}
