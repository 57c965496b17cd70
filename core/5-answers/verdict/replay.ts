import type { Progress } from '#core/1-ground/curves/progress.ts';
import { workUntil, type Service } from '#core/5-answers/verdict/service.ts';

export interface Break {
  /** Seconds since the take began. */
  seconds: number;
  /** Bytes that had reached the drive, or come from it. */
  bytes: number;
}

/** How a drive goes in a replay: by bytes, or by bytes with what comes by the clock. */
export interface Course {
  /** Rate by bytes, in pieces; a piece of no bytes is a stop of so many seconds. */
  pieces: { toBytes: number; bytesPerSecond: number; stopSeconds: number }[];
  clock: Clock | null;
}

/** Share of the time that is lost from one moment of a clock to the next; it goes round. */
export interface Clock {
  seconds: readonly number[];
  lostShare: readonly number[];
  startSeconds: number;
  /** Bytes of the drive before which nothing of it counts. */
  fromBytes: number;
}

/** A trace as a course: every stretch and every stop of it at its bytes. */
export function courseByBytes({ seconds, bytes }: Progress, fromBytes: number, beyond: Service): Course {
  const pieces: Course['pieces'] = [];
  for (let point = 1; point < seconds.length; point += 1) {
    if (bytes[point]! < fromBytes) continue;
    const [took, moved] = [seconds[point]! - seconds[point - 1]!, bytes[point]! - bytes[point - 1]!];
    if (moved > 0)
      pieces.push({ toBytes: bytes[point]!, bytesPerSecond: moved / Math.max(took, 1e-9), stopSeconds: 0 });
    else if (took > 0) pieces.push({ toBytes: bytes[point]!, bytesPerSecond: 0, stopSeconds: took });
  }
  const end = bytes.at(-1) ?? 0;
  beyond.ends.forEach((toBytes, level) => {
    if (toBytes > end && toBytes > fromBytes)
      pieces.push({ toBytes, bytesPerSecond: beyond.rates[level]!, stopSeconds: 0 });
  });
  return { pieces, clock: null };
}

/** Levels alone: a drive that loses no time. */
export function courseOfLevels({ ends, rates }: Service, fromBytes: number): Course {
  const pieces = ends.map((toBytes, level) => ({ toBytes, bytesPerSecond: rates[level]!, stopSeconds: 0 }));
  return { pieces: pieces.filter(({ toBytes }) => toBytes > fromBytes), clock: null };
}

/** What a trace lost by its clock, moment by moment; of one that swings from some bytes on only what is behind them. */
export function clockOf(path: Progress, service: Service, swingFromBytes: number | null): Clock {
  const first =
    swingFromBytes === null
      ? 0
      : Math.max(
          0,
          path.bytes.findIndex((one) => one >= swingFromBytes),
        );
  const seconds = path.seconds.slice(first).map((one) => one - path.seconds[first]!);
  const lostShare: number[] = [];
  for (let point = first + 1; point < path.seconds.length; point += 1) {
    const took = path.seconds[point]! - path.seconds[point - 1]!;
    const worked = workUntil(service, path.bytes[point]!) - workUntil(service, path.bytes[point - 1]!);
    lostShare.push(took > 0 && Number.isFinite(worked) ? 1 - worked / took : 0);
  }
  return { seconds, lostShare, startSeconds: 0, fromBytes: swingFromBytes ?? 0 };
}

/** Levels with what comes by a clock, which stands at a moment of its own when the take begins. */
export function courseByClock(clock: Clock, service: Service, fromBytes: number, startSeconds: number): Course {
  return { ...courseOfLevels(service, fromBytes), clock: { ...clock, startSeconds } };
}

/** A trace by its own clock, beginning at a moment of it. */
export function courseByTime({ seconds, bytes }: Progress, startSeconds: number): Course {
  const rates = seconds
    .slice(1)
    .map((second, at) => (bytes[at + 1]! - bytes[at]!) / Math.max(1e-9, second - seconds[at]!));
  const most = Math.max(1, ...rates);
  return {
    pieces: [{ toBytes: Infinity, bytesPerSecond: most, stopSeconds: 0 }],
    clock: { seconds, lostShare: rates.map((rate) => 1 - rate / most), startSeconds, fromBytes: 0 },
  };
}

/**
 * Does a recording on a drive, moment by moment (Lindley's recursion, piecewise linear), and tells when its buffer
 * first runs over; null when it never does, or not before the course ends.
 */
export function breakOf(asked: Progress, bufferBytes: number, course: Course, fromBytes: number): Break | null {
  return doing(asked, bufferBytes, course, fromBytes, () => undefined);
}

/** Tells what waits at each turn of a recording without a limit to its buffer, with the bytes done by then. */
export function waitingOn(
  asked: Progress,
  course: Course,
  look: (second: number, waitingBytes: number, doneBytes: number) => void,
): void {
  look(0, 0, 0);
  doing(asked, Infinity, course, 0, look);
}

function doing(
  asked: Progress,
  bufferBytes: number,
  course: Course,
  fromBytes: number,
  look: (second: number, waitingBytes: number, doneBytes: number) => void,
): Break | null {
  const { pieces, clock } = course;
  let [piece, stopped, done, waiting, now, row] = [0, 0, 0, 0, 0, 1];
  let [tick, round] = [0, 0];
  const span = clock ? clock.seconds.at(-1)! : 0;
  if (clock && span > 0) {
    const start = clock.startSeconds % span;
    while (tick < clock.lostShare.length - 1 && clock.seconds[tick + 1]! <= start) tick += 1;
    round = -start;
  }
  const end = asked.seconds.at(-1)!;
  while (now < end - 1e-9) {
    while (row < asked.seconds.length - 1 && asked.seconds[row]! <= now + 1e-12) row += 1;
    const pieceTook = asked.seconds[row]! - asked.seconds[row - 1]!;
    const inRate = pieceTook > 0 ? (asked.bytes[row]! - asked.bytes[row - 1]!) / pieceTook : 0;
    let step = asked.seconds[row]! - now;

    let here = pieces[piece];
    while (here && here.bytesPerSecond > 0 && fromBytes + done >= here.toBytes - 1e-6) here = pieces[(piece += 1)];
    if (!here) return null;
    let capacity = here.bytesPerSecond;
    if (capacity === 0) step = Math.min(step, here.stopSeconds - stopped);
    if (clock && span > 0) {
      const nextTick = round + clock.seconds[tick + 1]!;
      if (nextTick <= now + 1e-9) {
        tick += 1;
        if (tick >= clock.lostShare.length) [tick, round] = [0, round + span];
        continue;
      }
      step = Math.min(step, nextTick - now);
      if (fromBytes + done >= clock.fromBytes) capacity *= Math.max(0, 1 - clock.lostShare[tick]!);
    }
    const out = waiting > 1e-6 ? capacity : Math.min(capacity, inRate);
    const growth = inRate - out;
    if (out > 0) step = Math.min(step, (here.toBytes - fromBytes - done) / out);
    if (growth < 0) step = Math.min(step, waiting / -growth);
    if (growth > 0 && waiting + growth * step > bufferBytes * (1 + 1e-9) + 1) {
      const until = Math.max(0, bufferBytes - waiting) / growth;
      return { seconds: now + until, bytes: done + out * until };
    }
    step = Math.max(step, 1e-9);
    done += out * step;
    waiting = Math.max(0, waiting + growth * step);
    now += step;
    look(now, waiting, done);
    if (here.bytesPerSecond === 0 && (stopped += step) >= here.stopSeconds - 1e-9) [piece, stopped] = [piece + 1, 0];
  }
  return null;
}

/**
 * The soonest that playing runs dry, wherever on the trace it begins: a window of the trace itself that holds less
 * than what is played in it. Null when there is none.
 * @param withinSeconds of a take
 */
export function soonestDry(
  path: Progress,
  bytesPerSecond: number,
  bufferBytes: number,
  withinSeconds: number,
): Break | null {
  const { seconds, bytes } = path;
  let soonest: Break | null = null;
  let most = withinSeconds;
  for (let from = 0; from < seconds.length - 1; from += 1) {
    for (let to = from + 1; to < seconds.length; to += 1) {
      const [took, moved] = [seconds[to]! - seconds[from]!, bytes[to]! - bytes[from]!];
      const waits = bytesPerSecond * took - moved - bufferBytes;
      if (waits > 1e-6 * bufferBytes + 1) {
        const before =
          bytesPerSecond * (seconds[to - 1]! - seconds[from]!) - (bytes[to - 1]! - bytes[from]!) - bufferBytes;
        const share = Math.max(0, -before) / (waits - before);
        const at = seconds[to - 1]! + share * (seconds[to]! - seconds[to - 1]!) - seconds[from]!;
        if (at <= most) {
          soonest = { seconds: at, bytes: bytes[to - 1]! + share * (bytes[to]! - bytes[to - 1]!) - bytes[from]! };
          most = at;
        }
        break;
      }
      if (took > most) break;
    }
  }
  return soonest;
}
