import { burstOver, type Demand } from '#core/demand/demand.ts';
import type { Evidence } from '#core/supply/evidence.ts';
import {
  CORNER,
  cornersOf,
  curveBytes,
  longestCurve,
  pointAtBytes,
  type SupplyCurve,
} from '#core/trace/supply-curve.ts';
import { progressBytes, type Progress } from '#core/trace/progress.ts';
import {
  breakByClock,
  firstOverflow,
  guaranteedRate,
  leastBuffer,
  readingBreak,
  writingBreak,
  type Break,
  type ByteRange,
  type Overflow,
} from '#core/verdict/backlog.ts';

/** What one run carried of one demand: the figures of a verdict before any policy. */
export interface Carried {
  guaranteedBytesPerSecond: number;
  leastBufferBytes: number;
  broken: Break | null;
}

/** What the first take comes to on a run's curves, the worst of them. */
export function carriedOfTake(demand: Demand, evidence: Evidence): Carried {
  return worst(evidence.curves.map((curve) => carriedOn(demand, evidence, curve, takeRange(demand))));
}

/** The same for a stretch of writing that begins after `fromBytes` of the longest curve. */
export function carriedFrom(demand: Demand, evidence: Evidence, fromBytes: number, bytes: number): Carried {
  const longest = longestCurve(evidence.curves);
  return carriedOn({ ...demand, takeSeconds: bytes / demand.bytesPerSecond }, evidence, longest, {
    fromBytes,
    toBytes: fromBytes + bytes,
  });
}

/** Writing is indexed by bytes, so only the job's own bytes count; reading may begin anywhere. */
function takeRange({ direction, bytesPerSecond, takeSeconds }: Demand): ByteRange {
  return direction === 'write' ? { toBytes: bytesPerSecond * takeSeconds } : {};
}

function worst(all: readonly Carried[]): Carried {
  const broken = all
    .map((one) => one.broken)
    .reduce<Break | null>((soonest, one) => (one && (!soonest || one.seconds < soonest.seconds) ? one : soonest), null);
  return {
    guaranteedBytesPerSecond: Math.min(...all.map((one) => one.guaranteedBytesPerSecond)),
    leastBufferBytes: Math.max(...all.map((one) => one.leastBufferBytes)),
    broken,
  };
}

function carriedOn(demand: Demand, evidence: Evidence, curve: SupplyCurve, range: ByteRange): Carried {
  if (demand.curve !== null) return carriedCurve({ ...demand, curve: demand.curve }, curve, range);
  const { bytesPerSecond } = demand;
  // The demand's own peaks have taken their part of the buffer.
  const buffer = Math.max(0, demand.bufferBytes - demand.burstBytes);
  const wide = withDipsByTime(demand, evidence, curve, range);
  const found = firstOverflow(curve, bytesPerSecond, buffer, untilTheEnd(range, buffer));
  const broken = found
    ? breakAt(found, demand, evidence, curve, buffer, range)
    : breakBeyond(demand, evidence, curve, buffer, range, wide);
  // Rate and buffer are told over all bytes of the take, on the safe side of what waits at its end.
  const rate = guaranteedRate(curve, buffer, wide);
  const needed = leastBuffer(curve, bytesPerSecond, wide) + demand.burstBytes;
  return {
    guaranteedBytesPerSecond: broken ? rate : Math.max(rate, bytesPerSecond),
    leastBufferBytes: broken ? needed : Math.min(needed, demand.bufferBytes),
    broken,
  };
}

/** What still waits in a full buffer when the take ends cannot overflow it any more. */
function untilTheEnd({ fromBytes = 0, toBytes = Infinity }: ByteRange, buffer: number): ByteRange {
  return { fromBytes, toBytes: Math.max(fromBytes, toBytes - buffer) };
}

/** When what overflows somewhere on the curve breaks the take. */
function breakAt(
  found: Overflow,
  { direction, bytesPerSecond }: Demand,
  { swingsFrom }: Evidence,
  curve: SupplyCurve,
  buffer: number,
  { fromBytes = 0 }: ByteRange,
): Break {
  if (direction === 'read') return readingBreak(found);
  const byBytes = writingBreak(found, bytesPerSecond, buffer);
  if (swingsFrom === null || found.bytes + fromBytes <= swingsFrom.bytes) return byBytes;
  // A floor that swings does so by the clock: while nothing waits the drive stands still and its
  // good moments pass. From where it swings on time counts and not bytes, if that is sooner.
  const startBytes = Math.max(0, swingsFrom.bytes - fromBytes);
  const before = startBytes > 0 ? secondsAtBytes(curve, swingsFrom.bytes) - secondsAtBytes(curve, fromBytes) : 0;
  const seconds = startBytes / bytesPerSecond + found.seconds - before;
  return seconds < byBytes.seconds ? breakByClock(seconds, bytesPerSecond, buffer) : byBytes;
}

/**
 * A dip that only comes up by time, beyond the job's own bytes, strikes at the moment at which the
 * trace saw it. A level that is below the demand as a whole is no dip: it comes by bytes, and what
 * of it waits when the take ends was forgiven.
 */
function breakBeyond(
  { bytesPerSecond }: Demand,
  evidence: Evidence,
  curve: SupplyCurve,
  buffer: number,
  range: ByteRange,
  wide: ByteRange,
): Break | null {
  if (wide.toBytes === undefined || wide.toBytes === range.toBytes) return null;
  const level = levelAt(evidence, curve, wide.toBytes);
  const levelSeconds = secondsAtBytes(curve, level.toBytes) - secondsAtBytes(curve, level.fromBytes);
  if (level.toBytes - level.fromBytes < bytesPerSecond * levelSeconds) return null;
  const found = firstOverflow(curve, bytesPerSecond, buffer, wide);
  return found && breakByClock(found.seconds, bytesPerSecond, buffer);
}

/**
 * Dips that are not levels (journal commits, indexing, the network) come by time as well as by
 * bytes. A demand below the trace's rate takes longer over its bytes than the trace did, so the
 * range is widened to as many seconds of the trace as the take has, up to the end of the level.
 */
function withDipsByTime(
  { direction, takeSeconds }: Demand,
  evidence: Evidence,
  curve: SupplyCurve,
  range: ByteRange,
): ByteRange {
  const { fromBytes = 0, toBytes = Infinity } = range;
  if (direction === 'read' || toBytes === Infinity) return range;
  const levelEnd = levelAt(evidence, curve, toBytes).toBytes;
  const corners = cornersOf(curve);
  const { kinds, seconds, bytes } = corners;
  const start = fromBytes > 0 ? pointAtBytes(corners, fromBytes) : 0;
  const endSeconds = (seconds[start] ?? 0) + takeSeconds;
  let byTime = toBytes;
  for (let corner = 0; corner < kinds.length; corner += 1) {
    if (kinds[corner] !== CORNER.point) continue;
    if (seconds[corner]! > endSeconds || bytes[corner]! > levelEnd) break;
    byTime = Math.max(byTime, bytes[corner]!);
  }
  return { fromBytes, toBytes: byTime };
}

/** The level of a curve in which so many bytes lie. Levels are read on the longest; where there are none the whole is one. */
function levelAt(evidence: Evidence, curve: SupplyCurve, bytes: number): { fromBytes: number; toBytes: number } {
  const { levelEnds } = evidence;
  if (curve !== longestCurve(evidence.curves) || levelEnds.length === 0)
    return { fromBytes: 0, toBytes: curveBytes(curve) };
  const next = levelEnds.findIndex((end) => end >= bytes);
  const at = next < 0 ? levelEnds.length : next;
  return { fromBytes: levelEnds[at - 1] ?? 0, toBytes: levelEnds[at] ?? bytes };
}

/** Seconds of the trace at the last whole point up to a number of bytes. */
function secondsAtBytes(curve: SupplyCurve, value: number): number {
  const { kinds, seconds, bytes } = cornersOf(curve);
  let at = 0;
  for (let corner = 0; corner < kinds.length; corner += 1) {
    if (kinds[corner] !== CORNER.point) continue;
    if (bytes[corner]! > value) break;
    at = seconds[corner]!;
  }
  return at;
}

/**
 * A demand that is no constant rate. For any rate r between, it never overflows when the buffer
 * holds what the demand's stretches bring above r and what the drive's windows leave under r (the
 * arrival and the service curve against the same line); the best r is searched. Where that does
 * not suffice the backlog itself is run.
 */
function carriedCurve(demand: Demand & { curve: Progress }, curve: SupplyCurve, range: ByteRange): Carried {
  const needed = (factor: number): number => leastBufferOfCurve(demand, curve, range, factor).bytes;
  const leastBufferBytes = needed(1);
  // Recording begins where the run began, so running it is the truth; playing may begin anywhere.
  const runs = demand.direction === 'write';
  const fits = (factor: number): boolean =>
    needed(factor) <= demand.bufferBytes || (runs && !breakOfCurve(demand, curve, factor));
  // By how much the demand could grow, by halving on a logarithmic scale.
  let [low, high] = [Math.log(1 / 64), Math.log(64)];
  for (let step = 0; step < 13; step += 1) {
    const middle = (low + high) / 2;
    if (fits(Math.exp(middle))) low = middle;
    else high = middle;
  }
  const broken =
    leastBufferBytes <= demand.bufferBytes
      ? null
      : (breakOfCurve(demand, curve) ?? (runs ? null : peakOverflow(demand, curve, range)));
  return { guaranteedBytesPerSecond: Math.exp(low) * demand.bytesPerSecond, leastBufferBytes, broken };
}

function leastBufferOfCurve(
  { curve: asked, bytesPerSecond, peakBytesPerSecond }: Demand & { curve: Progress },
  curve: SupplyCurve,
  range: ByteRange,
  factor: number,
): { bytes: number; rate: number } {
  const at = (rate: number) => factor * burstOver(asked, rate / factor) + leastBuffer(curve, rate, range);
  // Convex in the rate: the least lies where neither third is lower.
  let [low, high] = [factor * bytesPerSecond * 0.5, factor * peakBytesPerSecond * 1.001];
  for (let step = 0; step < 18; step += 1) {
    const [left, right] = [low + (high - low) / 3, high - (high - low) / 3];
    if (at(left) <= at(right)) high = right;
    else low = left;
  }
  const rate = (low + high) / 2;
  return { bytes: at(rate), rate };
}

/** The moment of the demand at which its peak meets the drive's worst window and the buffer does not last. */
function peakOverflow(demand: Demand & { curve: Progress }, curve: SupplyCurve, range: ByteRange): Break | null {
  const { bytes, rate } = leastBufferOfCurve(demand, curve, range, 1);
  const burst = burstOver(demand.curve, rate);
  const left = Math.max(0, demand.bufferBytes - (bytes - burst));
  const { seconds, bytes: asked } = demand.curve;
  let [lowest, before] = [Infinity, 0];
  for (let row = 0; row < seconds.length; row += 1) {
    const value = asked[row]! - rate * seconds[row]!;
    if (value - lowest > left) {
      const share = Math.max(0, Math.min(1, (left + lowest - before) / (value - before)));
      const at = seconds[row - 1]! + share * (seconds[row]! - seconds[row - 1]!);
      return { seconds: at, bytes: asked[row - 1]! + share * (asked[row]! - asked[row - 1]!) };
    }
    lowest = Math.min(lowest, value);
    before = value;
  }
  return null;
}

/**
 * Runs a demand's curve against the drive's from the beginning of both (Lindley's recursion,
 * piecewise linear). The drive goes along its curve at its own pace while something waits, else at
 * the demand's.
 */
function breakOfCurve(demand: Demand & { curve: Progress }, supply: SupplyCurve, factor = 1): Break | null {
  const { kinds, seconds, bytes } = cornersOf(supply);
  const path: [number, number][] = [];
  kinds.forEach((kind, corner) => {
    if (kind === CORNER.point || kind === CORNER.behind) path.push([seconds[corner]!, bytes[corner]!]);
  });
  const { curve: asked } = demand;
  let [piece, done, backlog, clock] = [1, path[0]![1], 0, 0];
  const rateHere = (): number => {
    while (piece < path.length && done >= path[piece]![1] - 1e-6 && path[piece]![1] > path[piece - 1]![1]) piece += 1;
    const [from, to] = [path[piece - 1]!, path[piece]];
    return to === undefined ? Infinity : (to[1] - from[1]) / Math.max(1e-12, to[0] - from[0]);
  };
  let stalled = 0;
  for (let row = 1; row < asked.seconds.length; row += 1) {
    let left = asked.seconds[row]! - asked.seconds[row - 1]!;
    if (left <= 0) continue;
    const inRate = (factor * (asked.bytes[row]! - asked.bytes[row - 1]!)) / left;
    while (left > 1e-9) {
      const supplyRate = rateHere();
      const to = path[piece];
      if (to === undefined) return null;
      if (supplyRate === 0) {
        // A stall: nothing moves for as long as it lasted, whatever is asked for.
        const lasts = Math.min(left, to[0] - path[piece - 1]![0] - stalled);
        if (backlog + inRate * lasts > demand.bufferBytes && inRate > 0) {
          const until = (demand.bufferBytes - backlog) / inRate;
          return { seconds: clock + until, bytes: done };
        }
        backlog += inRate * lasts;
        stalled += lasts;
        left -= lasts;
        clock += lasts;
        if (stalled >= to[0] - path[piece - 1]![0] - 1e-9) {
          stalled = 0;
          piece += 1;
        }
        continue;
      }
      const outRate = backlog > 0 ? supplyRate : Math.min(supplyRate, inRate);
      const untilPiece = outRate > 0 ? (to[1] - done) / outRate : Infinity;
      const growth = inRate - outRate;
      const untilEmpty = growth < 0 ? backlog / -growth : Infinity;
      const untilFull = growth > 0 ? (demand.bufferBytes - backlog) / growth : Infinity;
      const step = Math.min(left, untilPiece, untilEmpty);
      if (untilFull < step) return { seconds: clock + untilFull, bytes: done + outRate * untilFull };
      const took = Math.max(step, 1e-9);
      done += outRate * took;
      backlog = took >= untilEmpty ? 0 : Math.max(0, backlog + growth * took);
      clock += took;
      left -= took;
    }
  }
  return null;
}

/** Bytes of one take. */
export function takeBytesOf({ curve, bytesPerSecond, takeSeconds }: Demand): number {
  return curve ? progressBytes(curve) : bytesPerSecond * takeSeconds;
}
