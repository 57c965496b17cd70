import type { Evidence } from '#core/4-runs/supply/evidence.ts';
import { curveOf, type Continuation, type SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';
import { bytesAt, secondsAt } from '#core/1-ground/curves/progress.ts';

/**
 * Several drives that work in step: each takes its share of every stretch, and the slowest of them is waited for.
 * All go through the same levels at the same bytes, but a dip of one comes at another moment than its fellows'. Dips
 * come by bytes, except on a floor that swings: that goes by the clock, and while one drive is waited for the good
 * moments of the others pass.
 */

/** Bytes moved until a second, point by point. */
interface Path {
  seconds: Float64Array;
  bytes: Float64Array;
}

/** One drive's way along its bytes, in pieces in which its dips may come at any moment. */
export interface MemberPath extends Path {
  /** Ends of the pieces, bytes, ascending; the last is the end of the path. */
  pieces: number[];
  /** Bytes from which it swings by the clock; null where it does not. */
  swingsFromBytes: number | null;
  /** Where it may be taken to go on as between two points of it, bytes. */
  goesOn: { fromBytes: number; toBytes: number; slower: Continuation['slower'] } | null;
}

/**
 * Drives in step run ahead of each other by no more than this, a row of a stripe: what they lose within it they lose at
 * once, and beyond it one after the other.
 */
const LEAD_BYTES = 16 * 1024 * 1024;
/** Steps in which a striped path is reported: a row each, but no more and no fewer than this. */
const MOST_STEPS = 1600;
const LEAST_STEPS = 400;
/** Steps in which the time that a floor was seen to swing is reported. */
const SWING_STEPS = 800;
/** On tracks that get slower inwards, drives are at the same track: only within so small a part may their dips shift. */
const PIECES_OF_TRACKS = 32;
/** Drives that swing are followed for at most so many times as long as one was seen. */
const MOST_ROUNDS = 20;
/** Moments of the dips of drive after drive, as shares of a piece: spread evenly for any number of them. */
const GOLDEN = (Math.sqrt(5) - 1) / 2;

/** What swings as many times in a piece as a Fibonacci number would fall together again: that far each is moved on. */
const MOVED_ON = 1 / 8;

const shiftOf = (drive: number): number => (drive * GOLDEN + MOVED_ON * ((drive * Math.SQRT2) % 1)) % 1;

/** The trace of one drive, point by point. */
export function memberPath(
  curve: SupplyCurve,
  { levelEnds, medium, swingsFrom }: Pick<Evidence, 'levelEnds' | 'medium' | 'swingsFrom'>,
): MemberPath {
  const { seconds, bytes, continuation } = curve;
  const path = { seconds, bytes };
  const end = path.bytes.at(-1)!;
  const swingsFromBytes = swingsFrom !== null && swingsFrom.bytes < end ? swingsFrom.bytes : null;
  const inside = [...levelEnds, swingsFromBytes ?? 0].filter((level) => level > 0 && level < end);
  const levels = [...new Set(inside)].sort((a, b) => a - b).concat(end);
  return {
    seconds: Float64Array.from(path.seconds),
    bytes: Float64Array.from(path.bytes),
    pieces: medium === 'spinning' ? levels.flatMap((to, level) => cut(levels[level - 1] ?? 0, to, end)) : levels,
    swingsFromBytes,
    goesOn: continuation && {
      fromBytes: bytes[continuation.fromCorner]!,
      toBytes: bytes[continuation.toCorner]!,
      slower: continuation.slower,
    },
  };
}

function cut(from: number, to: number, end: number): number[] {
  return parted(from, to, Math.max(1, Math.round((PIECES_OF_TRACKS * (to - from)) / end)));
}

/** Ends of so many equal parts; the last exactly where the whole ends. */
const parted = (from: number, to: number, parts: number): number[] =>
  Array.from({ length: parts }, (_, part) => (part + 1 < parts ? from + ((to - from) * (part + 1)) / parts : to));

/** Seconds for each step of a drive whose dips come later by a share of their piece. */
function stepSeconds(path: MemberPath, edges: Float64Array, shift: number): Float64Array {
  const took = new Float64Array(edges.length - 1);
  let [piece, from, fromSeconds, before] = [0, 0, 0, 0];
  let start = shift * path.pieces[0]!;
  let startSeconds = shift === 0 ? 0 : secondsAt(path, start);
  for (let step = 0; step < took.length; step += 1) {
    const to = edges[step + 1]!;
    const end = path.pieces[piece]!;
    const endSeconds = secondsAt(path, end);
    const at = start + (to - from);
    // Beyond the end of its piece it goes on at the beginning of the piece.
    const until =
      at <= end
        ? secondsAt(path, at) - startSeconds
        : endSeconds - startSeconds + secondsAt(path, from + (at - end)) - fromSeconds;
    took[step] = Math.max(0, fromSeconds + until - before);
    before = fromSeconds + until;
    if (to >= end && piece < path.pieces.length - 1) {
      [piece, from, fromSeconds, before] = [piece + 1, end, endSeconds, endSeconds];
      start = from + shift * (path.pieces[piece]! - from);
      startSeconds = shift === 0 ? fromSeconds : secondsAt(path, start);
    }
  }
  return took;
}

/**
 * Steps along the bytes of drives: the points of the first one's path, thinned, and the ends of the pieces of all; long
 * steps are cut, for dips of several drives that fall into one step would count as one.
 */
function edgesOf(paths: readonly MemberPath[], end: number): Float64Array {
  const [{ bytes }] = paths as [MemberPath];
  const every = Math.max(1, Math.ceil(bytes.length / MOST_STEPS));
  const edges = new Set<number>([0, end]);
  for (let point = every; point < bytes.length - 1; point += every) if (bytes[point]! < end) edges.add(bytes[point]!);
  for (const { pieces, goesOn } of paths) {
    for (const edge of [...pieces, ...(goesOn ? [goesOn.fromBytes, goesOn.toBytes] : [])]) {
      if (edge < end) edges.add(edge);
    }
  }
  const ascending = [...edges].sort((a, b) => a - b);
  // A drive that only ever goes at one rate has no dips to tell apart.
  if (paths.every((path) => path.bytes.length <= 2)) return Float64Array.from(ascending);
  const longest = end / Math.min(MOST_STEPS, Math.max(LEAST_STEPS, Math.ceil(end / LEAD_BYTES)));
  return Float64Array.from(
    ascending.flatMap((to, edge) => {
      const from = ascending[edge - 1] ?? 0;
      return parted(from, to, longest > 0 ? Math.max(1, Math.ceil((to - from) / longest)) : 1);
    }),
  );
}

/** Bytes in each equal step of time of a drive that swings later by a share of the time it was seen to swing. */
function stepBytes(path: MemberPath, fromSeconds: number, steps: number, shift: number): Float64Array {
  const span = path.seconds.at(-1)! - fromSeconds;
  const at = (step: number) => {
    const turned = (step / steps + shift) % 1;
    return bytesAt(path, fromSeconds + turned * span);
  };
  const [first, last] = [bytesAt(path, fromSeconds), path.bytes.at(-1)!];
  const moved = new Float64Array(steps);
  for (let step = 0; step < steps; step += 1) {
    const [from, to] = [at(step), at(step + 1)];
    // Past the end it goes on at the beginning.
    moved[step] = to > from || (to === from && step < steps - 1) ? to - from : last - from + (to - first);
  }
  return moved;
}

/** Drives of one kind in a stripe. */
export interface StripeMembers {
  path: MemberPath;
  count: number;
}

/** Slowest of the first so many drives of one kind at each step; kept, since one more drive only adds to it. */
interface Slowest {
  edges: Float64Array;
  tookAfter: Float64Array[];
  /** Of a floor that swings: where it begins, seconds of a step, and the least that is moved in each. */
  fromSeconds: number;
  movedAfter: Float64Array[];
  /** What so many of them come to. */
  paths: Map<number, Path>;
}

const kept = new WeakMap<MemberPath, Slowest>();

/** The first so many columns of what each drive does, the worst of them so far. */
function grow(
  columns: Float64Array[],
  count: number,
  own: (shift: number) => Float64Array,
  worse: (a: number, b: number) => number,
): Float64Array {
  for (let drive = columns.length; drive < count; drive += 1) {
    const before = columns[drive - 1];
    const next = own(shiftOf(drive));
    columns.push(before ? next.map((value, step) => worse(value, before[step]!)) : next);
  }
  return columns[count - 1]!;
}

function ofOneKind(path: MemberPath, count: number): Path {
  const end = path.swingsFromBytes ?? path.bytes.at(-1)!;
  const known: Slowest = kept.get(path) ?? {
    edges: end > 0 ? edgesOf([path], end) : Float64Array.of(0),
    tookAfter: [],
    fromSeconds: secondsAt(path, end),
    movedAfter: [],
    paths: new Map<number, Path>(),
  };
  kept.set(path, known);
  const found = known.paths.get(count) ?? together(path, count, known);
  known.paths.set(count, found);
  return found;
}

function together(path: MemberPath, count: number, known: Slowest): Path {
  const { edges, fromSeconds } = known;
  const took = grow(known.tookAfter, count, (shift) => stepSeconds(path, edges, shift), Math.max);
  const striped = { seconds: [0], bytes: [...edges] };
  for (const one of took) striped.seconds.push(striped.seconds.at(-1)! + one);
  const span = path.seconds.at(-1)! - fromSeconds;
  if (path.swingsFromBytes === null || !(span > 0)) return asPath(striped);
  const moved = grow(known.movedAfter, count, (shift) => stepBytes(path, fromSeconds, SWING_STEPS, shift), Math.min);
  const steps = SWING_STEPS;
  // What was seen goes round until as many bytes are moved as one drive moved, or nearly stands still.
  const target = path.bytes.at(-1)!;
  for (let step = 0; striped.bytes.at(-1)! < target * (1 - 1e-9) && step < MOST_ROUNDS * steps; step += 1) {
    const next = striped.bytes.at(-1)! + moved[step % steps]!;
    const share = next > target ? (target - striped.bytes.at(-1)!) / moved[step % steps]! : 1;
    striped.bytes.push(Math.min(next, target));
    striped.seconds.push(striped.seconds.at(-1)! + (share * span) / steps);
  }
  return asPath(striped);
}

const asPath = ({ seconds, bytes }: { seconds: number[]; bytes: number[] }): Path => ({
  seconds: Float64Array.from(seconds),
  bytes: Float64Array.from(bytes),
});

/**
 * The path of one drive among those that are waited for: bytes of one drive, seconds of the slowest at each step.
 * Drives of several kinds go as far as the one that was measured least, and shift by bytes throughout.
 */
export function stripedPath(members: readonly StripeMembers[]): Path {
  const [first] = members as [StripeMembers];
  if (members.length === 1) return ofOneKind(first.path, first.count);
  const all = members.map(({ path }) => path);
  const edges = edgesOf(all, Math.min(...all.map(({ bytes }) => bytes.at(-1)!)));
  const took = new Float64Array(edges.length - 1);
  let drive = 0;
  for (const { path, count } of members) {
    for (let one = 0; one < count; one += 1, drive += 1) {
      stepSeconds(path, edges, shiftOf(drive)).forEach((seconds, step) => {
        took[step] = Math.max(took[step]!, seconds);
      });
    }
  }
  const seconds = new Float64Array(edges.length);
  took.forEach((one, step) => (seconds[step + 1] = seconds[step]! + one));
  return { seconds, bytes: edges };
}

/** A striped path as a curve of so many drives' worth of data that each keep a share of their rate. */
export function widenedCurve(
  { seconds, bytes }: Path,
  goesOn: MemberPath['goesOn'],
  dataDrives: number,
  efficiency: number,
): SupplyCurve {
  const curve = curveOf({
    seconds: Array.from(seconds, (one) => one / efficiency),
    bytes: Array.from(bytes, (one) => one * dataDrives),
  });
  if (goesOn === null) return curve;
  const { fromBytes, toBytes, slower } = goesOn;
  const fromCorner = bytes.findIndex((one) => one >= fromBytes);
  const toCorner = bytes.findLastIndex((one) => one <= toBytes);
  return fromCorner >= 0 && fromCorner < toCorner
    ? { ...curve, continuation: { fromCorner, toCorner, slower } }
    : curve;
}
