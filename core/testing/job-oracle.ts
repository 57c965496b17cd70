import { randomFrom } from '#core/1-ground/random.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';

/**
 * Does a job step by step on a made drive and says what happened. It shares nothing with the verdict: no levels, no
 * curves, no windows, only bytes and seconds in steps of 20 ms. What comes by the clock comes again as often as the
 * trace is long, and may begin at any moment of it.
 */

/** A drive of known truth. Rates in bytes per second. */
export interface MadeDrive {
  /** By bytes: each level goes up to its end; the last goes on for ever. */
  levels: { toBytes: number; rate: number }[];
  /** Falls with the square root of the bytes from the first level's rate to this share at these bytes; null for none. */
  slope: { endShare: number; endBytes: number } | null;
  /** From these bytes on the rate swings, by the clock or by bytes: a share of the period at a share of the rate. */
  swing: { by: 'clock' | 'bytes'; fromBytes: number; period: number; lowShare: number; low: number } | null;
  /** Stops by the clock, seconds of the trace. */
  stops: { at: number; seconds: number }[];
  /** Stops at bytes. */
  stopsAtBytes: { at: number; seconds: number }[];
  /** Cache that a rest gives back, bytes a second of it; null where none was measured. */
  regainPerSecond: number | null;
  ceiling: number | null;
}

export interface MadeItem {
  /** Bytes asked for by a moment. */
  curve: Progress;
  bufferBytes: number;
}

export interface MadeJob {
  direction: 'write' | 'read';
  items: MadeItem[];
  takes: number;
  gapSeconds: number;
  between: 'stay' | 'take-off';
  takeOffSeconds: number | null;
  roomBytes: number | null;
}

/** What happened: where it was lost or full, or that neither did. */
export interface Happened {
  what: 'lost' | 'full' | 'nothing';
  take: number;
  seconds: number;
}

const STEP = 0.02;

/** A moment: as it goes on, by which a drive swings, and as it comes again after a trace, by which it stops. */
interface Clock {
  free: number;
  round: number;
}

function rateOf(drive: MadeDrive, bytes: number, clock: Clock): number {
  let at = 0;
  while (at < drive.levels.length - 1 && bytes >= drive.levels[at]!.toBytes) at += 1;
  let rate = drive.levels[at]!.rate;
  if (drive.slope) {
    const { endShare, endBytes } = drive.slope;
    rate *= Math.sqrt(Math.max(0.04, 1 - (1 - endShare ** 2) * (bytes / endBytes)));
  }
  if (drive.swing && bytes >= drive.swing.fromBytes) {
    const { by, fromBytes, period, lowShare, low } = drive.swing;
    const at = by === 'clock' ? clock.free : bytes - fromBytes;
    if ((at % period) / period < lowShare) rate *= low;
  }
  for (const { at, seconds } of drive.stops) if (clock.round >= at && clock.round < at + seconds) return 0;
  return Math.min(rate, drive.ceiling ?? Infinity);
}

/** Bytes that a drive moves in a step from a byte and a moment on, when it may go as fast as it can. */
function moved(drive: MadeDrive, bytes: number, clock: Clock, most: number, stopped: number[]): number {
  let [left, done] = [STEP, 0];
  // A step may cross a level, a swing by bytes or a stop: parts of it.
  for (let part = 0; part < 4 && left > 1e-9 && done < most; part += 1) {
    const stop =
      drive.stopsAtBytes.length === 0
        ? -1
        : drive.stopsAtBytes.findIndex(
            ({ at, seconds }, index) => bytes + done >= at && (stopped[index] ?? 0) < seconds,
          );
    if (stop >= 0) {
      const took = Math.min(left, drive.stopsAtBytes[stop]!.seconds - (stopped[stop] ?? 0));
      stopped[stop] = (stopped[stop] ?? 0) + took;
      left -= took;
      continue;
    }
    const later = STEP - left;
    const rate = rateOf(drive, bytes + done, { free: clock.free + later, round: clock.round + later });
    if (rate === 0) break;
    let until = Infinity;
    for (const { at } of drive.stopsAtBytes) if (at > bytes + done) until = Math.min(until, at - bytes - done);
    for (const { toBytes } of drive.levels) if (toBytes > bytes + done) until = Math.min(until, toBytes - bytes - done);
    const all = Math.min(rate * left, until + 1, most - done);
    done += all;
    left -= all / rate;
  }
  return done;
}

/** A drive on its own clock, moved on by as much as it is asked for in a time. */
export function runningDrive(drive: MadeDrive, traceSeconds: number) {
  const stopped: number[] = [];
  let [bytes, seconds] = [0, 0];
  return {
    /** Moves up to `most` bytes in a tenth of a second. @returns how many */
    tenth(most: number): number {
      let done = 0;
      for (let step = 0; step < 5; step += 1) {
        done += moved(drive, bytes + done, { free: seconds, round: seconds % traceSeconds }, most - done, stopped);
        seconds += STEP;
      }
      bytes += done;
      return done;
    },
  };
}

/** The trace of a drive that writes or reads as fast as it can, a sample each tenth of a second, with noise. */
export function traceOf(drive: MadeDrive, seconds: number, noise: number, seed: number): Progress {
  const random = randomFrom(seed);
  const free = { ...drive, ceiling: null };
  const progress: Progress = { seconds: [0], bytes: [0] };
  const stopped: number[] = [];
  let bytes = 0;
  for (let sample = 1; sample <= Math.round(seconds * 10); sample += 1) {
    for (let step = 0; step < 5; step += 1) {
      const clock = (sample - 1) / 10 + step * STEP;
      bytes += moved(free, bytes, { free: clock, round: clock }, Infinity, stopped);
    }
    progress.seconds.push(sample / 10);
    // Noise is of the look at the clock, not of the drive: the next sample makes up for it.
    const rate = bytes - progress.bytes.at(-1)!;
    progress.bytes.push(Math.max(progress.bytes.at(-1)!, bytes + noise * (random() - 0.5) * rate));
  }
  return progress;
}

function askedAt({ seconds, bytes }: Progress, second: number): number {
  if (second >= seconds.at(-1)!) return bytes.at(-1)!;
  let at = 1;
  while (seconds[at]! < second) at += 1;
  const share = (second - seconds[at - 1]!) / Math.max(1e-12, seconds[at]! - seconds[at - 1]!);
  return bytes[at - 1]! + share * (bytes[at]! - bytes[at - 1]!);
}

/**
 * Does the job. @param phase moment of the trace at which the clock stands when it begins
 * @param traceSeconds after which what comes by the clock comes again
 * @param from bytes of the drive at which playing begins, which it may anywhere, and those that were seen: what comes
 * behind them does not count
 */
export function doJob(
  drive: MadeDrive,
  job: MadeJob,
  phase: number,
  traceSeconds: number,
  from: { bytes: number; seenBytes: number } = { bytes: 0, seenBytes: Infinity },
): Happened {
  const fromBytes = from.bytes;
  const takeSeconds = Math.max(...job.items.map(({ curve }) => curve.seconds.at(-1)!));
  const takeBytes = job.items.reduce((sum, { curve }) => sum + curve.bytes.at(-1)!, 0);
  const steps = Math.ceil(takeSeconds / STEP - 1e-9);
  const stopped: number[] = drive.stopsAtBytes.map(({ at, seconds }) => (at < fromBytes ? seconds : 0));
  let position = fromBytes;
  let [offDone, there] = [0, 0];
  const leaves: number[] = [];
  let now = 0;
  for (let take = 1; take <= job.takes; take += 1) {
    const begins = now;
    const waiting = job.items.map(() => 0);
    for (let step = 1; step <= steps; step += 1) {
      const second = Math.min(takeSeconds, step * STEP);
      const before = (step - 1) * STEP;
      let total = 0;
      for (let index = 0; index < job.items.length; index += 1) {
        const asked = askedAt(job.items[index]!.curve, second);
        waiting[index]! += asked - askedAt(job.items[index]!.curve, before);
        total += asked;
      }
      now = begins + second;
      while (leaves.length > 0 && leaves[0]! <= now) {
        there -= takeBytes;
        leaves.shift();
      }
      if (job.roomBytes !== null && job.direction === 'write' && there + total > job.roomBytes) {
        return { what: 'full', take, seconds: second };
      }
      const clock = phase + begins + before;
      let able = moved(drive, position, { free: clock, round: clock % traceSeconds }, sum(waiting), stopped);
      position += able;
      if (position > from.seenBytes) return { what: 'nothing', take, seconds: second };
      // The one whose buffer would run over soonest first.
      if (job.items.length === 1) {
        waiting[0]! -= able;
        able = 0;
      }
      while (able > 1e-6) {
        let [urgent, least] = [-1, Infinity];
        for (let index = 0; index < job.items.length; index += 1) {
          const { curve, bufferBytes } = job.items[index]!;
          const slack = (bufferBytes - waiting[index]!) / (curve.bytes.at(-1)! / curve.seconds.at(-1)!);
          if (waiting[index]! > 1e-6 && slack < least) [urgent, least] = [index, slack];
        }
        if (urgent < 0) break;
        const done = Math.min(able, waiting[urgent]!);
        waiting[urgent]! -= done;
        able -= done;
      }
      for (let index = 0; index < job.items.length; index += 1) {
        if (waiting[index]! > job.items[index]!.bufferBytes * 1.002 + 1) return { what: 'lost', take, seconds: second };
      }
    }
    there += takeBytes;
    if (job.between === 'take-off') {
      offDone = Math.max(offDone, now) + (job.takeOffSeconds ?? job.gapSeconds);
      leaves.push(offDone);
    }
    // What waits at the end of a take is written before the next.
    position += sum(waiting);
    now += job.gapSeconds;
    // A rest gives back cache; beyond it the drive stays on its last level, however long it has been there.
    if (drive.regainPerSecond !== null && job.gapSeconds > 0) {
      position = Math.max(
        0,
        Math.min(position, drive.levels.at(-2)?.toBytes ?? 0) - drive.regainPerSecond * job.gapSeconds,
      );
    }
  }
  return { what: 'nothing', take: job.takes, seconds: takeSeconds };
}

const sum = (values: readonly number[]): number => values.reduce((total, one) => total + one, 0);

export const MADE_KINDS = ['single', 'link', 'room', 'together', 'changing', 'playing', 'takes', 'partial'] as const;
export type MadeKind = (typeof MADE_KINDS)[number];

export interface MadeCase {
  kind: MadeKind;
  drive: MadeDrive;
  job: MadeJob;
  traceSeconds: number;
  noise: number;
}

/** A random drive and a random job on it. */
export function madeCase(kind: MadeKind, seed: number): MadeCase {
  const random = randomFrom(seed * 2654435 + MADE_KINDS.indexOf(kind) * 7919 + 17);
  const between = (low: number, high: number) => low + random() * (high - low);
  const log = (low: number, high: number) => Math.exp(between(Math.log(low), Math.log(high)));
  const chance = (share: number) => random() < share;
  const opening = log(200e6, 3000e6);
  const openingSeconds = between(15, 80);
  const floorSeconds = between(70, 200);
  const shape = random();
  const levels: MadeDrive['levels'] = [];
  let traceSeconds = openingSeconds + floorSeconds;
  let slope: MadeDrive['slope'] = null;
  if (shape < 0.55) {
    const floor = opening * between(0.1, 0.65);
    levels.push({ toBytes: opening * openingSeconds, rate: opening });
    if (chance(0.25)) {
      const second = floor * between(0.3, 0.7);
      levels.push({ toBytes: opening * openingSeconds + floor * floorSeconds, rate: floor });
      levels.push({ toBytes: Infinity, rate: second });
      traceSeconds += between(70, 120);
    } else levels.push({ toBytes: Infinity, rate: floor });
  } else if (shape < 0.75) {
    levels.push({ toBytes: Infinity, rate: opening });
  } else {
    levels.push({ toBytes: Infinity, rate: opening });
    slope = { endShare: between(0.45, 0.6), endBytes: opening * traceSeconds * 0.8 };
  }
  const kneeBytes = levels.length > 1 ? levels[0]!.toBytes : 0;
  const swings = slope === null && chance(0.3);
  const byClock = chance(0.5);
  const swing: MadeDrive['swing'] = swings
    ? {
        by: byClock ? 'clock' : 'bytes',
        fromBytes: kneeBytes,
        period: byClock ? between(4, 18) : between(4, 18) * levels.at(-1)!.rate * 0.6,
        lowShare: between(0.2, 0.7),
        low: between(0.1, 0.5),
      }
    : null;
  const stops = chance(0.35)
    ? Array.from({ length: Math.ceil(between(0.1, 4)) }, () => ({
        at: between(1, traceSeconds - 6),
        seconds: between(0.3, 4),
      }))
    : [];
  const stopsAtBytes = chance(0.12)
    ? [{ at: between(0.1, 0.8) * opening * openingSeconds, seconds: between(0.5, 3) }]
    : [];
  const drive: MadeDrive = { levels, slope, swing, stops, stopsAtBytes, regainPerSecond: null, ceiling: null };
  const noise = chance(0.3) ? 0 : between(0.02, 0.2);

  const least = levels.at(-1)!.rate * (slope ? slope.endShare : 1) * (swing ? 1 - swing.lowShare * (1 - swing.low) : 1);
  const rate = chance(0.6) ? least * between(0.4, 1.3) : log(least * 0.2, opening * 1.2);
  const takeSeconds = between(10, traceSeconds * 0.9);
  const constant = (one: number, seconds: number): Progress => ({ seconds: [0, seconds], bytes: [0, one * seconds] });
  const bufferOf = (one: number) => one * log(0.05, 12);
  const job: MadeJob = {
    direction: kind === 'playing' ? 'read' : 'write',
    items: [{ curve: constant(rate, takeSeconds), bufferBytes: bufferOf(rate) }],
    takes: 1,
    gapSeconds: 0,
    between: 'stay',
    takeOffSeconds: null,
    roomBytes: null,
  };
  if (kind === 'link') drive.ceiling = log(least * 0.5, opening * 1.05);
  if (kind === 'room') {
    job.takes = Math.ceil(between(0.01, 4));
    job.gapSeconds = between(5, 60);
    job.between = chance(0.5) ? 'stay' : 'take-off';
    job.takeOffSeconds = job.between === 'take-off' && chance(0.5) ? between(5, 150) : null;
    job.roomBytes = rate * takeSeconds * between(0.3, job.takes + 0.5);
  }
  if (kind === 'together') {
    const parts = Math.ceil(between(1.01, 3));
    job.items = Array.from({ length: parts }, () => {
      const own = (rate / parts) * between(0.5, 1.5);
      return { curve: constant(own, takeSeconds * between(0.4, 1)), bufferBytes: bufferOf(own) };
    });
  }
  if (kind === 'changing') {
    const pieces = Math.ceil(between(2, 9));
    const curve: Progress = { seconds: [0], bytes: [0] };
    for (let piece = 0; piece < pieces; piece += 1) {
      const seconds = takeSeconds / pieces;
      curve.seconds.push(curve.seconds.at(-1)! + seconds);
      curve.bytes.push(curve.bytes.at(-1)! + seconds * rate * (chance(0.15) ? 0 : between(0.3, 1.7)));
    }
    if (curve.bytes.at(-1)! === 0) curve.bytes[pieces] = rate * takeSeconds;
    job.items = [{ curve, bufferBytes: bufferOf(rate) }];
  }
  if (kind === 'takes') {
    job.takes = Math.ceil(between(1.01, 5));
    job.gapSeconds = chance(0.3) ? 0 : between(20, 120);
    job.items = [{ curve: constant(rate, takeSeconds / job.takes), bufferBytes: bufferOf(rate) }];
    if (kneeBytes > 0 && chance(0.6)) drive.regainPerSecond = (kneeBytes / 300) * between(0.2, 1.5);
  }
  if (kind === 'partial') traceSeconds *= between(0.15, 0.6);
  return { kind, drive, job, traceSeconds, noise };
}
