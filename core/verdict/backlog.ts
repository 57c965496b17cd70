import { CORNER, cornersOf, type Corners, type SupplyCurve } from '#core/trace/supply-curve.ts';

/**
 * Deterministic network calculus on a measured curve (Le Boudec & Thiran, *Network Calculus*,
 * Springer 2001, ch. 1). S(x) is the time the trace took to reach byte x. A demand of d bytes per
 * second with a buffer of B bytes never overflows exactly when, for all points y before x of the
 * curve, d·(S(x) − S(y)) − (x − y) ≤ B. Both sides are linear between points, so the extremes lie
 * at corners.
 */

/** Part of a curve, by bytes: the job begins at `fromBytes` and ends at `toBytes`. All of it by default. */
export interface ByteRange {
  fromBytes?: number;
  toBytes?: number;
}

/** The window in which a demand builds up its largest backlog. */
interface WorstWindow {
  backlog: number;
  seconds: number;
  bytes: number;
}

/** Where a range begins: its corner, and the moment at which the trace was there at the earliest. */
function startOf(
  { kinds, seconds, bytes }: Corners,
  fromBytes: number,
): { corner: number; seconds: number; bytes: number } {
  if (fromBytes <= 0) return { corner: 0, seconds: seconds[0] ?? 0, bytes: bytes[0] ?? 0 };
  let point = 0;
  for (let corner = 1; corner < kinds.length; corner += 1) {
    if (kinds[corner] !== CORNER.point) continue;
    if (bytes[corner]! > fromBytes) break;
    point = corner;
  }
  // Along the side that is ahead: a start that is too early is never optimistic.
  let before = point;
  for (let corner = point + 1; corner < kinds.length; corner += 1) {
    const kind = kinds[corner]!;
    if (kind !== CORNER.ahead && kind !== CORNER.point) continue;
    if (bytes[corner]! >= fromBytes) {
      const share = (fromBytes - bytes[before]!) / Math.max(1e-9, bytes[corner]! - bytes[before]!);
      return {
        corner: point,
        seconds: seconds[before]! + share * (seconds[corner]! - seconds[before]!),
        bytes: fromBytes,
      };
    }
    before = corner;
  }
  return { corner: point, seconds: seconds[point]!, bytes: bytes[point]! };
}

function worstWindow(
  curve: SupplyCurve,
  demand: number,
  { fromBytes = 0, toBytes = Infinity }: ByteRange,
): WorstWindow {
  const corners = cornersOf(curve);
  const { kinds, seconds, bytes } = corners;
  const start = startOf(corners, fromBytes);
  const end = toBytes;
  let [lowSeconds, lowBytes] = [start.seconds, start.bytes];
  let low = demand * lowSeconds - lowBytes;
  let worst = 0;
  let [took, moved] = [0, 0];
  // The corner before on the side that is behind: where the range ends between two, the line between counts.
  let [behindSeconds, behindBytes] = [lowSeconds, lowBytes];
  let over = false;
  for (let corner = start.corner + 1; corner < kinds.length; corner += 1) {
    const kind = kinds[corner]!;
    if (kind === CORNER.window) {
      const backlog = demand * seconds[corner]! - bytes[corner]!;
      if (backlog > worst) [worst, took, moved] = [backlog, seconds[corner]!, bytes[corner]!];
      continue;
    }
    let [atSeconds, atBytes] = [seconds[corner]!, bytes[corner]!];
    if (atBytes <= start.bytes && atSeconds <= start.seconds) continue;
    if (kind !== CORNER.ahead && !over) {
      if (atBytes > end) {
        const share = (end - behindBytes) / (atBytes - behindBytes);
        atSeconds = behindSeconds + share * (atSeconds - behindSeconds);
        atBytes = end;
        over = true;
      }
      const value = demand * atSeconds - atBytes;
      if (value - low > worst) [worst, took, moved] = [value - low, atSeconds - lowSeconds, atBytes - lowBytes];
      [behindSeconds, behindBytes] = [atSeconds, atBytes];
    }
    if (kind === CORNER.point && over) break;
    if (kind !== CORNER.behind && atBytes <= end) {
      const value = demand * atSeconds - atBytes;
      if (value < low) [low, lowSeconds, lowBytes] = [value, atSeconds, atBytes];
    }
  }
  return { backlog: worst, seconds: took, bytes: moved };
}

/** Bytes of buffer without which a constant demand overflows somewhere on the curve. */
export function leastBuffer(curve: SupplyCurve, bytesPerSecond: number, range: ByteRange = {}): number {
  return worstWindow(curve, bytesPerSecond, range).backlog;
}

/**
 * The largest constant rate, bytes per second, that the curve carries with a buffer of
 * `bufferBytes`: the least of (x − y + B) ÷ (S(x) − S(y)) over all windows. Infinity for a curve
 * without time. Newton's method on the (convex, piecewise linear) largest backlog: each step
 * takes the window that binds at the present rate, so it ends exactly and after few steps.
 */
export function guaranteedRate(curve: SupplyCurve, bufferBytes: number, range: ByteRange = {}): number {
  let rate = Infinity;
  // Above every rate of the curve the whole of it binds: a start from which Newton only comes down.
  let { seconds, bytes } = worstWindow(curve, 1e15, range);
  for (;;) {
    if (seconds <= 0) return rate;
    const next = (bytes + bufferBytes) / seconds;
    if (!(next < rate)) return rate;
    rate = next;
    const worst = worstWindow(curve, rate, range);
    if (worst.backlog <= bufferBytes) return rate;
    ({ seconds, bytes } = worst);
  }
}

/** Where on the curve the backlog of a demand first exceeds its buffer; see {@link writingBreak} for when. */
export interface Overflow {
  /** Seconds and bytes of the trace from the start of the range to that point. */
  seconds: number;
  bytes: number;
  /** The same from the point at which the backlog had begun. */
  sinceSeconds: number;
  sinceBytes: number;
}

/**
 * The first point at which the backlog of a constant demand exceeds the buffer, or null. Within a
 * stretch of a reduced curve it lies at or before the true one. When it is reached depends on what
 * the demand waits for: see {@link writingBreak} and {@link readingBreak}.
 */
export function firstOverflow(
  curve: SupplyCurve,
  demand: number,
  bufferBytes: number,
  { fromBytes = 0, toBytes = Infinity }: ByteRange = {},
): Overflow | null {
  const corners = cornersOf(curve);
  const { kinds, seconds, bytes } = corners;
  const start = startOf(corners, fromBytes);
  const [originSeconds, originBytes] = [start.seconds, start.bytes];
  const end = toBytes;
  let [lowSeconds, lowBytes] = [originSeconds, originBytes];
  let low = demand * lowSeconds - lowBytes;
  let [behindSeconds, behindBytes] = [originSeconds, originBytes];
  let over = false;
  let [pointSeconds, pointBytes] = [originSeconds, originBytes];
  const at = (atSeconds: number, atBytes: number): Overflow => ({
    seconds: atSeconds - originSeconds,
    bytes: atBytes - originBytes,
    sinceSeconds: atSeconds - lowSeconds,
    sinceBytes: atBytes - lowBytes,
  });
  for (let corner = start.corner + 1; corner < kinds.length; corner += 1) {
    const kind = kinds[corner]!;
    const [atSeconds, atBytes] = [seconds[corner]!, bytes[corner]!];
    if (kind !== CORNER.window && atBytes <= start.bytes && atSeconds <= start.seconds) continue;
    if (kind === CORNER.window) {
      // Where inside its stretch is not kept: its beginning is never too late.
      if (demand * atSeconds - atBytes > bufferBytes && pointBytes <= end) {
        return { ...at(pointSeconds, pointBytes), sinceSeconds: atSeconds, sinceBytes: atBytes };
      }
      continue;
    }
    const value = demand * atSeconds - atBytes;
    if (kind !== CORNER.ahead) {
      if (value - low > bufferBytes && !over) {
        const before = demand * behindSeconds - behindBytes - low;
        const share = Math.max(0, Math.min(1, (bufferBytes - before) / (value - low - before)));
        const crossBytes = behindBytes + share * (atBytes - behindBytes);
        // At the very end the buffer is full, and nothing has run over.
        if (crossBytes < end || atBytes <= end)
          return at(behindSeconds + share * (atSeconds - behindSeconds), crossBytes);
        // Windows inside this stretch may still lie before the end.
        over = true;
      }
      [behindSeconds, behindBytes] = [atSeconds, atBytes];
    }
    if (kind === CORNER.point) {
      [pointSeconds, pointBytes] = [atSeconds, atBytes];
      if (over || atBytes > end) return null;
    }
    if (kind !== CORNER.behind && value < low) [low, lowSeconds, lowBytes] = [value, atSeconds, atBytes];
  }
  return null;
}

export interface Break {
  /** Seconds since the demand began. */
  seconds: number;
  /** Bytes that had reached the drive, or come from it. */
  bytes: number;
}

/**
 * When a recording overflows its buffer: what came in by then is what reached the drive and what
 * fills the buffer, whatever the drive did while nothing waited. It goes along the curve by bytes.
 */
export function writingBreak({ bytes }: Overflow, demand: number, bufferBytes: number): Break {
  return { seconds: (bytes + bufferBytes) / demand, bytes };
}

/** When playing runs dry, in the worst alignment: it began where the backlog does. It goes along the curve by time. */
export function readingBreak({ sinceSeconds, sinceBytes }: Overflow): Break {
  return { seconds: sinceSeconds, bytes: sinceBytes };
}

/** When a recording overflows by the clock of the trace, so many seconds into the take. */
export function breakByClock(seconds: number, demand: number, bufferBytes: number): Break {
  return { seconds, bytes: Math.max(0, seconds * demand - bufferBytes) };
}
