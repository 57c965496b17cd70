import { furthestReaching, reachOf, type Evidence } from '#core/supply/evidence.ts';
import type { Profile } from '#core/supply/profile.ts';
import { cornersOf, longestCurve, pointsOf, type SupplyCurve } from '#core/trace/supply-curve.ts';
import { bindingHop, type Hop } from '#core/links/connection.ts';

/** What is copied. */
export interface Payload {
  bytes: number;
  files: number;
  /** Files that are at work at the same time. */
  parallelFiles: number;
  /** Whether the copy is read back and compared. */
  verifies: boolean;
}

/** What holds a copy back over a stretch. */
export type Binding = { kind: 'source' } | { kind: 'target' } | { kind: 'hop'; label: string } | { kind: 'same-drive' };

/** A stretch of a copy that goes at one rate. */
export interface CopyStretch {
  fromBytes: number;
  toBytes: number;
  bytesPerSecond: number;
  binds: Binding;
}

/** A copy from one drive to another as their runs predict it. Seconds. */
export interface CopyPrediction {
  seconds: number;
  /** Moving the bytes; what files cost beside them; reading back. */
  movingSeconds: number;
  filesSeconds: number;
  verifyingSeconds: number;
  /** What the first seconds of moving promise for all of it. */
  earlySeconds: number;
  stretches: CopyStretch[];
  /** Bytes up to which both drives were measured; beyond, each goes on at its floor. */
  provenBytes: number;
  /** Whether what a file costs is known of both. */
  filesKnown: boolean;
}

/** So long a person looks at the first estimate. */
export const EARLY_SECONDS = 5;

/** One end of a copy: how long it takes per byte as it goes along, and stalls on the way. */
interface Side {
  /** Bytes at which the rate changes, from 0. */
  bytes: number[];
  /** Seconds per byte from each of them on; the last goes on for ever. */
  secondsPerByte: number[];
  provenBytes: number;
}

function sideOf(trace: Evidence): Side {
  const side = stretchesOf(longestCurve(trace.curves));
  side.secondsPerByte.push(1 / Math.max(1, trace.span.floorBytesPerSecond || trace.medianBytesPerSecond));
  return { ...side, provenBytes: reachOf(trace) };
}

/** A curve as stretches of one rate; a stall is spread over the stretch that follows it. */
function stretchesOf(curve: SupplyCurve): { bytes: number[]; secondsPerByte: number[] } {
  const { seconds, bytes } = pointsOf(cornersOf(curve));
  const at: number[] = [];
  const rates: number[] = [];
  let [fromBytes, fromSeconds] = [0, 0];
  bytes.forEach((toBytes, point) => {
    if (toBytes <= fromBytes) return;
    at.push(fromBytes);
    rates.push((seconds[point]! - fromSeconds) / (toBytes - fromBytes));
    [fromBytes, fromSeconds] = [toBytes, seconds[point]!];
  });
  return { bytes: [...at, fromBytes], secondsPerByte: rates };
}

interface CopyEnd {
  trace: Evidence;
  hop: Hop | null;
}

/**
 * Seconds that moving takes, exact between the points of both traces: at each byte the slower of
 * source, target and links counts, since reading and writing go on side by side. On one drive they
 * take turns and their times add up.
 */
export function moveStretches(bytes: number, from: CopyEnd, to: CopyEnd, isSameDrive: boolean): CopyStretch[] {
  const [source, target] = [sideOf(from.trace), sideOf(to.trace)];
  const hop = [from.hop, to.hop]
    .filter((one) => one !== null)
    .sort((a, b) => a.ceilingBytesPerSecond - b.ceilingBytesPerSecond)[0];
  const cuts = [...new Set([...source.bytes, ...target.bytes, bytes])]
    .filter((cut) => cut <= bytes)
    .sort((a, b) => a - b);
  const stretches: CopyStretch[] = [];
  let [s, t] = [0, 0];
  for (let index = 0; index + 1 < cuts.length; index += 1) {
    const [fromBytes, toBytes] = [cuts[index]!, cuts[index + 1]!];
    while (s + 1 < source.bytes.length && source.bytes[s + 1]! <= fromBytes) s += 1;
    while (t + 1 < target.bytes.length && target.bytes[t + 1]! <= fromBytes) t += 1;
    const [read, write, link] = [
      source.secondsPerByte[s]!,
      target.secondsPerByte[t]!,
      hop ? 1 / hop.ceilingBytesPerSecond : 0,
    ];
    const slowest = isSameDrive ? read + write : Math.max(read, write, link);
    const binds: Binding = isSameDrive
      ? { kind: 'same-drive' }
      : slowest === write
        ? { kind: 'target' }
        : slowest === read
          ? { kind: 'source' }
          : { kind: 'hop', label: hop!.label };
    push(stretches, { fromBytes, toBytes, bytesPerSecond: 1 / slowest, binds });
  }
  return stretches;
}

/** Stretches of the same cause and about the same rate are one. */
function push(stretches: CopyStretch[], next: CopyStretch): void {
  const last = stretches.at(-1);
  const isOne =
    last && sameBinding(last.binds, next.binds) && Math.abs(last.bytesPerSecond / next.bytesPerSecond - 1) < 1e-9;
  if (isOne) last.toBytes = next.toBytes;
  else stretches.push(next);
}

export const sameBinding = (a: Binding, b: Binding): boolean =>
  a.kind === b.kind && (a.kind !== 'hop' || b.kind !== 'hop' || a.label === b.label);

const secondsOf = (stretches: readonly CopyStretch[]): number =>
  stretches.reduce((sum, { fromBytes, toBytes, bytesPerSecond }) => sum + (toBytes - fromBytes) / bytesPerSecond, 0);

/** What the first seconds promise: their rate for all of it. */
function earlyEstimate(stretches: readonly CopyStretch[], bytes: number): number {
  let [clock, moved] = [0, 0];
  for (const { fromBytes, toBytes, bytesPerSecond } of stretches) {
    const seconds = (toBytes - fromBytes) / bytesPerSecond;
    if (clock + seconds >= EARLY_SECONDS) {
      moved += (EARLY_SECONDS - clock) * bytesPerSecond;
      return (bytes * EARLY_SECONDS) / moved;
    }
    clock += seconds;
    moved = toBytes;
  }
  return clock;
}

/** The run of a drive that reaches furthest in a direction; undefined when there is none. */
function longestTrace({ runs }: Pick<Profile, 'runs'>, direction: 'read' | 'write'): Evidence | undefined {
  return furthestReaching(runs.flatMap(({ traces }) => traces).filter((trace) => trace.direction === direction));
}

const known = (values: readonly (number | null | undefined)[]): number | null =>
  values.find((value) => value !== null && value !== undefined) ?? null;

/**
 * A copy from one drive to another. Null where reading the source or writing the target was not
 * measured. Bytes move at the slower of both and of every hop; what files cost beside their bytes
 * comes on top, shared among those at work; reading back follows when it is asked for.
 */
export function predictCopy(payload: Payload, from: Profile, to: Profile): CopyPrediction | null {
  const [reading, writing] = [longestTrace(from, 'read'), longestTrace(to, 'write')];
  if (!reading || !writing) return null;
  const isSameDrive = from.drive.id === to.drive.id;
  const ends = [
    { trace: reading, hop: bindingHop(from.connection) },
    { trace: writing, hop: bindingHop(to.connection) },
  ] as const;
  const stretches = moveStretches(payload.bytes, ends[0], ends[1], isSameDrive);
  const movingSeconds = secondsOf(stretches);
  const open = known(from.runs.map(({ fileSeconds }) => fileSeconds));
  const make = known(to.runs.map(({ createSeconds }) => createSeconds));
  const filesSeconds = (payload.files * ((open ?? 0) + (make ?? 0))) / payload.parallelFiles;
  const readBack = longestTrace(to, 'read');
  const verifyingSeconds =
    payload.verifies && readBack
      ? secondsOf(
          moveStretches(
            payload.bytes,
            { trace: readBack, hop: ends[1].hop },
            { trace: readBack, hop: ends[1].hop },
            false,
          ),
        )
      : 0;
  return {
    seconds: movingSeconds + filesSeconds + verifyingSeconds,
    movingSeconds,
    filesSeconds,
    verifyingSeconds,
    earlySeconds: earlyEstimate(stretches, payload.bytes),
    stretches,
    provenBytes: Math.min(sideOf(reading).provenBytes, sideOf(writing).provenBytes),
    filesKnown: open !== null && make !== null,
  };
}
