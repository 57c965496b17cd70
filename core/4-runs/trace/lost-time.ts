import { countAtMost } from '#core/1-ground/numbers/search.ts';
/**
 * The most time that a drive lost by the clock in any window of a length: L(w). Of w seconds it works at least
 * w − L(w) at its level's rate, wherever the window falls.
 */
export interface LostTime {
  /** Lengths of windows, seconds, ascending; the last is the longest that was looked at. */
  windowSeconds: number[];
  /** Most seconds lost in a window up to that length; never falls, never grows faster than the window. */
  lostSeconds: number[];
}

/** A moment of a trace: seconds, and how many of them were lost by then (work that came early counts back). */
export interface LostCurve {
  seconds: Float64Array;
  lost: Float64Array;
}

/** How closely a trace is looked at. */
export interface Closeness {
  /** Each window is so many times as long as the one before. */
  growth: number;
  /** Moments of the trace that are looked at, and points that are left of them without their noise. */
  mostMoments: number;
  mostPoints: number;
}
const CLOSE: Closeness = { growth: 1.04, mostMoments: Infinity, mostPoints: 6000 };

/** Windows are looked at up to half of the trace, or this long. */
const LEAST_LONGEST_SECONDS = 5;
/** Noise within so many seconds is thinned out, and counted as lost once more. */
const NOISE_SECONDS = 0.01;

export const NO_LOST_TIME: LostTime = { windowSeconds: [1], lostSeconds: [0] };

/** A line through moments, seconds ascending, and what is lost by them. */
interface Line {
  seconds: number[];
  lost: number[];
}

/** Numbers of the moments that are kept when what is lost may be off by so much between them. */
function thinned({ seconds, lost }: LostCurve, tolerance: number): number[] {
  const kept = [0];
  let from = 0;
  let [least, most] = [-Infinity, Infinity];
  const last = seconds.length - 1;
  for (let moment = 1; moment <= last; moment += 1) {
    const took = seconds[moment]! - seconds[from]!;
    const slope = (lost[moment]! - lost[from]!) / took;
    if ((slope < least || slope > most) && moment - 1 > from) {
      from = moment - 1;
      kept.push(from);
      [least, most] = [-Infinity, Infinity];
      moment -= 1;
      continue;
    }
    least = Math.max(least, slope - tolerance / took);
    most = Math.min(most, slope + tolerance / took);
  }
  kept.push(last);
  return kept;
}

/** How far what is left out lies above and below the lines between what is kept, together. */
function spreadAround({ seconds, lost }: LostCurve, kept: readonly number[]): number {
  let [above, below] = [0, 0];
  for (let piece = 1; piece < kept.length; piece += 1) {
    const [from, to] = [kept[piece - 1]!, kept[piece]!];
    const slope = (lost[to]! - lost[from]!) / (seconds[to]! - seconds[from]!);
    for (let moment = from + 1; moment < to; moment += 1) {
      const off = lost[moment]! - lost[from]! - slope * (seconds[moment]! - seconds[from]!);
      above = Math.max(above, off);
      below = Math.min(below, off);
    }
  }
  return above - below;
}

/** Samples that lose this share of what the next one does lose as deep as it. */
const AS_DEEP = 0.9;

/**
 * A sample tells how much was lost in it and not when. For windows that begin in it that is taken to lie at its end,
 * for windows that end in it at its beginning: as deep as what is lost next to it, and alone as one stop.
 */
function linesOf({ seconds, lost }: LostCurve, kept: readonly number[]): { late: Line; early: Line } {
  const late: Line = { seconds: [seconds[0]!], lost: [lost[0]!] };
  const early: Line = { seconds: [seconds[0]!], lost: [lost[0]!] };
  const last = seconds.length - 1;
  const shareOf = (sample: number): number => {
    if (sample < 0 || sample >= last) return 0;
    return Math.min(1, (lost[sample + 1]! - lost[sample]!) / (seconds[sample + 1]! - seconds[sample]!));
  };
  for (let piece = 1; piece < kept.length; piece += 1) {
    const [from, to] = [kept[piece - 1]!, kept[piece]!];
    const own = shareOf(from);
    if (to - from === 1 && own > 0 && own < 1) {
      const took = seconds[to]! - seconds[from]!;
      // Two that lose alike may be the two ends of one stop; three lose as deep as they look.
      const depthAt = (way: 1 | -1) => {
        const [next, over] = [shareOf(from + way), shareOf(from + 2 * way)];
        if (next > own) return next;
        return next >= AS_DEEP * own && over >= AS_DEEP * own ? own : 1;
      };
      const whole = (way: 1 | -1) => shareOf(from + way) >= AS_DEEP * own;
      const begins = whole(-1) ? took : (took * own) / depthAt(1);
      const ends = whole(1) ? took : (took * own) / depthAt(-1);
      late.seconds.push(seconds[to]! - begins);
      late.lost.push(lost[from]!);
      early.seconds.push(seconds[from]! + ends);
      early.lost.push(lost[to]!);
    }
    late.seconds.push(seconds[to]!);
    late.lost.push(lost[to]!);
    early.seconds.push(seconds[to]!);
    early.lost.push(lost[to]!);
  }
  return { late, early };
}

/** Most that is lost in any window of exactly, or of up to, so many seconds. */
function mostLost(late: Line, early: Line, window: number, queue: Int32Array): number {
  let most = 0;
  // Windows that end at a point: the least lost before them, at a point or where the window begins.
  let [head, tail, next, at] = [0, 0, 0, 0];
  const starts = late.seconds.length;
  for (let end = 0; end < early.seconds.length; end += 1) {
    const endSeconds = early.seconds[end]!;
    const begin = endSeconds - window;
    while (next < starts && late.seconds[next]! <= endSeconds) {
      while (tail > head && late.lost[queue[tail - 1]!]! >= late.lost[next]!) tail -= 1;
      queue[tail] = next;
      tail += 1;
      next += 1;
    }
    while (head < tail && late.seconds[queue[head]!]! < begin) head += 1;
    if (head < tail) most = Math.max(most, early.lost[end]! - late.lost[queue[head]!]!);
    if (begin >= late.seconds[0]!) {
      while (at < starts - 2 && late.seconds[at + 1]! < begin) at += 1;
      most = Math.max(most, early.lost[end]! - between(late, at, begin));
    }
  }
  at = 0;
  const last = early.seconds.at(-1)!;
  for (let start = 0; start < starts; start += 1) {
    const end = late.seconds[start]! + window;
    if (end > last) break;
    while (at < early.seconds.length - 2 && early.seconds[at + 1]! < end) at += 1;
    most = Math.max(most, between(early, at, end) - late.lost[start]!);
  }
  return most;
}

function between({ seconds, lost }: Line, at: number, second: number): number {
  const span = seconds[at + 1]! - seconds[at]!;
  if (!(span > 0)) return lost[at + 1]!;
  return lost[at]! + ((second - seconds[at]!) / span) * (lost[at + 1]! - lost[at]!);
}

const durationOf = ({ seconds }: LostCurve): number => (seconds.length > 1 ? seconds.at(-1)! - seconds[0]! : 0);

/** The longest window that is looked at in a trace, seconds. */
export function longestWindow(curve: LostCurve): number {
  const duration = durationOf(curve);
  return Math.min(duration, Math.max(LEAST_LONGEST_SECONDS, duration / 2));
}

/**
 * L(w) of a trace, for windows that grow by a share; lengths between which it runs straight are left out.
 */
export function lostTimeOf(
  curve: LostCurve,
  { growth, mostPoints }: Closeness = CLOSE,
  { longest = longestWindow(curve), noiseSeconds = NOISE_SECONDS }: { longest?: number; noiseSeconds?: number } = {},
): LostTime {
  const samples = curve.seconds.length - 1;
  const duration = durationOf(curve);
  if (duration <= 0) return NO_LOST_TIME;
  let [tolerance, kept] = [noiseSeconds, thinned(curve, noiseSeconds)];
  while (kept.length > mostPoints) kept = thinned(curve, (tolerance *= 2));
  const spread = spreadAround(curve, kept);
  const { late, early } = linesOf(curve, kept);
  const queue = new Int32Array(late.seconds.length);
  const shortest = Math.min(longest, (0.5 * duration) / samples);
  const steps = Math.max(1, Math.ceil(Math.log(longest / shortest) / Math.log(growth)));
  const found: LostTime = { windowSeconds: [], lostSeconds: [] };
  let last = 0;
  for (let step = 0; step <= steps; step += 1) {
    const window = step === steps ? longest : shortest * growth ** step;
    last = Math.max(last, Math.min(window, mostLost(late, early, window, queue) + spread));
    push(found, window, last);
  }
  return withoutSmallSteps(found);
}

/** Lengths whose loss is within so much of the next one's say the same: between two lengths the longer counts. */
const SMALL_STEP = 0.01;

export function withoutSmallSteps({ windowSeconds, lostSeconds }: LostTime): LostTime {
  const last = windowSeconds.length - 1;
  const kept = [last];
  for (let at = last - 1; at >= 0; at -= 1) {
    const next = kept.at(-1)!;
    // A length at which the loss stops growing with the window is where work begins: it stays.
    if (lostSeconds[at]! < lostSeconds[next]! * (1 - SMALL_STEP)) kept.push(at);
  }
  kept.reverse();
  return { windowSeconds: kept.map((at) => windowSeconds[at]!), lostSeconds: kept.map((at) => lostSeconds[at]!) };
}

/** Adds a length; the one before it is left out where all three lie in a line. */
function push({ windowSeconds, lostSeconds }: LostTime, window: number, lost: number): void {
  const at = windowSeconds.length;
  if (at > 0) {
    const [before, lostBefore] = [windowSeconds[at - 1]!, lostSeconds[at - 1]!];
    const [earlier, lostEarlier] = at > 1 ? [windowSeconds[at - 2]!, lostSeconds[at - 2]!] : [0, 0];
    const [slope, slopeBefore] = [
      (lost - lostBefore) / (window - before),
      (lostBefore - lostEarlier) / (before - earlier),
    ];
    const isStraight = Math.abs(slope - slopeBefore) < 1e-6 && (slope < 1e-6 || slope > 1 - 1e-6);
    if (isStraight) {
      windowSeconds.pop();
      lostSeconds.pop();
    }
  }
  windowSeconds.push(window);
  lostSeconds.push(lost);
}

/** Most seconds lost in a window of so many; between two lengths all that the longer loses comes at once. */
export function lostIn({ windowSeconds, lostSeconds }: LostTime, window: number): number {
  const count = windowSeconds.length;
  const longest = windowSeconds[count - 1]!;
  let [whole, rest] = [0, window];
  if (window > longest) {
    const times = Math.floor(window / longest);
    whole = times * lostSeconds[count - 1]!;
    rest = window - times * longest;
  }
  const shorter = countAtMost(windowSeconds, rest);
  const [fromWindow, fromLost] = shorter === 0 ? [0, 0] : [windowSeconds[shorter - 1]!, lostSeconds[shorter - 1]!];
  const until = shorter < count ? lostSeconds[shorter]! : fromLost;
  return whole + Math.min(until, fromLost + rest - fromWindow);
}

/**
 * Lengths of windows, up to one, at which the work in them is about to grow again: where all that is lost has been,
 * seconds ascending. Between two of them the work first stands still and then grows with the window. Of many rounds of
 * the longest window only the first and the last are among them: what is between goes evenly from round to round, but for
 * where something turns; those around a turn are found by {@link forTightAround}.
 */
export function tightWindows(lost: LostTime, mostSeconds: number): number[] {
  const longest = lost.windowSeconds.at(-1)!;
  const { afterSeconds } = growingIn(lost);
  const tight: number[] = [];
  const last = Math.floor(mostSeconds / longest);
  for (let round = 0; round <= last; round += 1) {
    if (round === FIRST_ROUNDS && last - round > LAST_ROUNDS) round = last - LAST_ROUNDS;
    for (const after of afterSeconds) {
      const window = round * longest + after;
      if (window > mostSeconds) return tight;
      tight.push(window);
    }
  }
  return tight;
}

const FIRST_ROUNDS = 8;
const LAST_ROUNDS = 3;

/** Where in each round the work is about to grow again, and what is lost up to there; worked out once. */
const growing = new WeakMap<LostTime, { afterSeconds: number[]; lostSeconds: number[] }>();

function growingIn(lost: LostTime): { afterSeconds: number[]; lostSeconds: number[] } {
  const known = growing.get(lost);
  if (known) return known;
  const found: { afterSeconds: number[]; lostSeconds: number[] } = { afterSeconds: [], lostSeconds: [] };
  lost.lostSeconds.forEach((until, at) => {
    const [fromWindow, fromLost] = at === 0 ? [0, 0] : [lost.windowSeconds[at - 1]!, lost.lostSeconds[at - 1]!];
    if (until <= fromLost) return;
    found.afterSeconds.push(fromWindow + until - fromLost);
    found.lostSeconds.push(until);
  });
  growing.set(lost, found);
  return found;
}

/**
 * Calls with each length at which the work is about to grow again of the rounds before and after a length, and with the
 * work in it, seconds: the most that waits goes evenly from round to round up to where something turns, so that it is
 * there or beside it.
 */
export function forTightAround(lost: LostTime, window: number, look: (window: number, work: number) => void): void {
  const longest = lost.windowSeconds.at(-1)!;
  // All of the first rounds are looked at anyway.
  if (window < (FIRST_ROUNDS - 1) * longest) return;
  const { afterSeconds, lostSeconds } = growingIn(lost);
  const most = lost.lostSeconds.at(-1)!;
  for (let at = 0; at < afterSeconds.length; at += 1) {
    const after = afterSeconds[at]!;
    const round = Math.floor((window - after) / longest);
    const work = round * (longest - most) + after - lostSeconds[at]!;
    look(after + round * longest, work);
    look(after + (round + 1) * longest, work + longest - most);
  }
}

/** For every window the larger of two. */
export function largerOf(one: LostTime, other: LostTime): LostTime {
  return combined(one, other, Math.max);
}

/** For every window both together, never more than the window. */
export function sumOf(one: LostTime, other: LostTime): LostTime {
  return combined(one, other, (a, b) => a + b);
}

function combined(one: LostTime, other: LostTime, join: (a: number, b: number) => number): LostTime {
  const windowSeconds = [...new Set([...one.windowSeconds, ...other.windowSeconds])].sort((a, b) => a - b);
  return {
    windowSeconds,
    lostSeconds: windowSeconds.map((window) => Math.min(window, join(lostIn(one, window), lostIn(other, window)))),
  };
}
