import type { Progress } from '#core/trace/progress.ts';

/**
 * What a drive supplied, as far as a demand can tell. For a demand of d bytes per second only
 * d·seconds − bytes matters at each point: its lows are where a backlog begins, its highs where it
 * is largest. A long trace is cut into stretches of which only the points that can be a low or a
 * high for some d are kept: the corners of the stretch's hull, and the windows inside it that bind.
 * Nothing is averaged, so guaranteed rates and backlogs over whole stretches are exactly those of
 * the trace; a window cut off within a stretch is taken at its worst. Never optimistic.
 */
export interface SupplyCurve {
  /** What each corner is, see {@link CORNER}. */
  kinds: number[];
  /** Seconds and bytes of the trace at a corner; for a window its own length. */
  seconds: number[];
  bytes: number[];
  /** Stretch that may be repeated beyond the last byte, and how much slower each time. */
  continuation: Continuation | null;
}

export interface Continuation {
  /** Numbers of the corners, both {@link CORNER.point}, between which the stretch lies. */
  fromCorner: number;
  toCorner: number;
  /** Seconds of each repetition ÷ seconds of the stretch. */
  slower: number[];
}

export const CORNER = {
  /** Of the trace itself: both a high and a low. */
  point: 0,
  /** Furthest behind within its stretch: a high. */
  behind: 1,
  /** Furthest ahead within its stretch: a low. */
  ahead: 2,
  /** A window inside its stretch: bytes moved in so many seconds. */
  window: 3,
} as const;

/** Corners that a stretch has at least, as far as experience goes: short ones have few. */
const USUAL_CORNERS = 4;

/** Corners kept of a trace, beyond which stretches are made longer. */
export const MOST_CORNERS = 2000;

function push(curve: SupplyCurve, kind: number, seconds: number, bytes: number): void {
  curve.kinds.push(kind);
  curve.seconds.push(seconds);
  curve.bytes.push(bytes);
}

/** A curve of every point of a trace. */
export function exactCurve({ seconds, bytes }: Progress): SupplyCurve {
  return { kinds: seconds.map(() => CORNER.point), seconds: [...seconds], bytes: [...bytes], continuation: null };
}

/**
 * The curve of a trace in at most about {@link MOST_CORNERS} corners.
 * @param keepBytes places at which a point has to stay, such as the knee, ascending
 */
export function reducedCurve(progress: Progress, keepBytes: readonly number[] = [], most = MOST_CORNERS): SupplyCurve {
  const { seconds, bytes } = progress;
  if (seconds.length <= most) return exactCurve(progress);
  const kept = keepBytes.map((value) => bytes.findIndex((one) => one >= value)).filter((index) => index > 0);
  // The tolerance is that of a stretch's shape, not of the result: it only sets how many stretches there are.
  let tolerance = (bytes.at(-1)! - bytes[0]!) / 1e5;
  // A stretch is short beside what lies before it: a break within it is told from its beginning.
  let longest = 0.01;
  for (;;) {
    const stretches = stretchesOf(progress, kept, tolerance, longest);
    let over = (stretches.length * USUAL_CORNERS) / most;
    if (over <= 1) {
      const curve = curveOf(progress, stretches);
      if (curve.kinds.length <= most) return curve;
      over = curve.kinds.length / most;
    }
    tolerance *= Math.max(1.6, over);
    longest *= Math.min(2, Math.max(1.15, over));
  }
}

/** Ends of stretches in which the trace stays within a tolerance (bytes) of a straight line from the start. */
function stretchesOf(
  { seconds, bytes }: Progress,
  kept: readonly number[],
  tolerance: number,
  longestShare: number,
): number[] {
  const ends: number[] = [];
  const last = seconds.length - 1;
  let from = 0;
  let [steepest, flattest] = [Infinity, -Infinity];
  let nextKept = 0;
  for (let index = 1; index <= last; index += 1) {
    const took = seconds[index]! - seconds[from]!;
    const moved = bytes[index]! - bytes[from]!;
    if (took > 0) {
      const high = Math.min(steepest, (moved + tolerance) / took);
      const low = Math.max(flattest, (moved - tolerance) / took);
      if (low > high && index - 1 > from) {
        ends.push(index - 1);
        from = index - 1;
        index -= 1;
        [steepest, flattest] = [Infinity, -Infinity];
        continue;
      }
      [steepest, flattest] = [high, low];
    }
    while (nextKept < kept.length && kept[nextKept]! < index) nextKept += 1;
    const isLong =
      took > longestShare * (seconds[index]! - seconds[0]!) || moved > longestShare * (bytes[index]! - bytes[0]!);
    if (index === last || index === kept[nextKept] || isLong) {
      ends.push(index);
      from = index;
      [steepest, flattest] = [Infinity, -Infinity];
    }
  }
  return ends;
}

function curveOf(progress: Progress, ends: readonly number[]): SupplyCurve {
  const curve: SupplyCurve = { kinds: [], seconds: [], bytes: [], continuation: null };
  push(curve, CORNER.point, progress.seconds[0]!, progress.bytes[0]!);
  let from = 0;
  for (const to of ends) {
    if (to - from > 1) addStretch(curve, progress, from, to);
    push(curve, CORNER.point, progress.seconds[to]!, progress.bytes[to]!);
    from = to;
  }
  return curve;
}

function addStretch(curve: SupplyCurve, progress: Progress, from: number, to: number): void {
  const { seconds, bytes } = progress;
  for (const index of hull(progress, from, to, -1)) push(curve, CORNER.behind, seconds[index]!, bytes[index]!);
  for (const [took, moved] of bindingWindows(progress, from, to)) push(curve, CORNER.window, took, moved);
  for (const index of hull(progress, from, to, 1)) push(curve, CORNER.ahead, seconds[index]!, bytes[index]!);
}

/** Points strictly inside a stretch on its upper (1) or lower (−1) hull, in their order (Andrew's monotone chain). */
function hull({ seconds, bytes }: Progress, from: number, to: number, side: 1 | -1): number[] {
  const chain: number[] = [];
  for (let index = from; index <= to; index += 1) {
    while (chain.length >= 2) {
      const [a, b] = [chain.at(-2)!, chain.at(-1)!];
      const turn =
        (seconds[b]! - seconds[a]!) * (bytes[index]! - bytes[a]!) -
        (bytes[b]! - bytes[a]!) * (seconds[index]! - seconds[a]!);
      if (side * turn < 0) break;
      chain.pop();
    }
    chain.push(index);
  }
  return chain.slice(1, -1);
}

/**
 * Windows inside a stretch in which some demand builds up its largest backlog, seconds and bytes.
 * The largest backlog is a convex, piecewise linear function of the demand; its pieces are found by
 * halving: where two pieces meet either a third lies above or there is none between them.
 */
function bindingWindows(progress: Progress, from: number, to: number): [number, number][] {
  const found = new Map<string, [number, number]>();
  const at = (demand: number): [number, number] => {
    const window = worstWithin(progress, from, to, demand);
    found.set(window.join(' '), window);
    return window;
  };
  const split = (low: [number, number], high: [number, number], depth: number): void => {
    if (depth === 0 || high[0] - low[0] < 1e-12) return;
    const meet = (high[1] - low[1]) / (high[0] - low[0]);
    const between = at(meet);
    const gain = meet * between[0] - between[1] - (meet * low[0] - low[1]);
    if (gain <= 1e-9 * Math.max(1, Math.abs(meet * low[0]))) return;
    split(low, between, depth - 1);
    split(between, high, depth - 1);
  };
  const whole: [number, number] = [
    progress.seconds[to]! - progress.seconds[from]!,
    progress.bytes[to]! - progress.bytes[from]!,
  ];
  // From no demand at all, where no window binds, to one so high that the whole stretch does.
  split([0, 0], whole, 12);
  found.delete('0 0');
  return [...found.values()];
}

function worstWithin({ seconds, bytes }: Progress, from: number, to: number, demand: number): [number, number] {
  let low = from;
  let lowValue = demand * seconds[from]! - bytes[from]!;
  let [worst, took, moved] = [0, 0, 0];
  for (let index = from + 1; index <= to; index += 1) {
    const value = demand * seconds[index]! - bytes[index]!;
    if (value - lowValue > worst) {
      worst = value - lowValue;
      took = seconds[index]! - seconds[low]!;
      moved = bytes[index]! - bytes[low]!;
    } else if (value < lowValue) [low, lowValue] = [index, value];
  }
  return [took, moved];
}

/** Number of the first whole point at or beyond a number of bytes; the last corner when there is none. */
export function pointAtBytes({ kinds, bytes }: SupplyCurve | Corners, value: number): number {
  for (let corner = 0; corner < kinds.length; corner += 1) {
    if (kinds[corner] === CORNER.point && bytes[corner]! >= value) return corner;
  }
  return kinds.length - 1;
}

export const curveBytes = (curve: SupplyCurve): number => curve.bytes.at(-1) ?? 0;

/** The curve that moves most; there has to be one. */
export function longestCurve(curves: readonly SupplyCurve[]): SupplyCurve {
  return curves.reduce((long, one) => (curveBytes(one) > curveBytes(long) ? one : long));
}

/** The points of the trace itself, without what else was kept of its stretches. */
export function pointsOf(curve: SupplyCurve | Corners): Progress {
  const points: Progress = { seconds: [], bytes: [] };
  for (let corner = 0; corner < curve.kinds.length; corner += 1) {
    if (curve.kinds[corner] !== CORNER.point) continue;
    points.seconds.push(curve.seconds[corner]!);
    points.bytes.push(curve.bytes[corner]!);
  }
  return points;
}

/** Corners of a curve with its continuation laid out behind it, in arrays that are quick to walk. */
export interface Corners {
  kinds: Uint8Array;
  seconds: Float64Array;
  bytes: Float64Array;
}

const laidOut = new WeakMap<SupplyCurve, Corners>();

export function cornersOf(curve: SupplyCurve): Corners {
  const known = laidOut.get(curve);
  if (known) return known;
  const { fromCorner, toCorner, slower } = curve.continuation ?? { fromCorner: 0, toCorner: 0, slower: [] };
  const own = curve.kinds.length;
  const repeated = toCorner - fromCorner;
  const count = own + slower.length * repeated;
  const corners: Corners = {
    kinds: new Uint8Array(count),
    seconds: new Float64Array(count),
    bytes: new Float64Array(count),
  };
  const { kinds, seconds, bytes } = corners;
  kinds.set(curve.kinds);
  seconds.set(curve.seconds);
  bytes.set(curve.bytes);
  // What is repeated ends where the stretch does: at a point of the trace.
  let [endSeconds, endBytes] = [seconds[own - 1]!, bytes[own - 1]!];
  let at = own;
  for (const factor of slower) {
    for (let corner = fromCorner + 1; corner <= toCorner; corner += 1, at += 1) {
      const isWindow = curve.kinds[corner] === CORNER.window;
      kinds[at] = curve.kinds[corner]!;
      seconds[at] = isWindow
        ? factor * curve.seconds[corner]!
        : endSeconds + factor * (curve.seconds[corner]! - curve.seconds[fromCorner]!);
      bytes[at] = isWindow ? curve.bytes[corner]! : endBytes + curve.bytes[corner]! - curve.bytes[fromCorner]!;
    }
    endSeconds = seconds[at - 1]!;
    endBytes = bytes[at - 1]!;
  }
  laidOut.set(curve, corners);
  return corners;
}
