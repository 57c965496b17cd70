import { EARLY_SECONDS, nameOf, sameBinding, type Binding, type CopyStretch } from '#core/copies/stretches.ts';
import { furthestReaching, reachOf, type Evidence } from '#core/supply/evidence.ts';
import type { Profile } from '#core/supply/profile.ts';
import { continued, longestCurve, type SupplyCurve } from '#core/trace/supply-curve.ts';
import type { Hop } from '#core/links/connection.ts';
import { linkKindById } from '#core/links/links.ts';

/** What is copied. */
export interface Payload {
  bytes: number;
  files: number;
  /** Files that are at work at the same time. */
  parallelFiles: number;
  /** Whether the copy is read back and compared. */
  verifies: boolean;
}

/** A copy from one drive to others as their runs predict it. Seconds. */
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

/** Blocks in memory between the two sides, as the recipe *Copy* has them unless it is told otherwise. */
export const USUAL_AHEAD_BYTES = 128 * 1024 * 1024;

/** One end of a copy: how long it takes per byte as it goes along, and stalls on the way. */
interface Side {
  /** Bytes at which the rate changes, from 0. */
  bytes: number[];
  /** Seconds per byte from each of them on; the last goes on for ever. */
  secondsPerByte: number[];
  /** Where it swings with the clock and not with its bytes: from there on how long it keeps each pace. */
  swing: { fromBytes: number; paces: { seconds: number; secondsPerByte: number }[] } | null;
}

function sideOf(trace: Evidence): Side {
  const side = stretchesOf(longestCurve(trace.curves));
  side.secondsPerByte.push(1 / Math.max(1, trace.span.floorBytesPerSecond || trace.medianBytesPerSecond));
  return { ...side, swing: swingOf(trace, side) };
}

function swingOf({ swingsFrom }: Evidence, { bytes, secondsPerByte }: Omit<Side, 'swing'>): Side['swing'] {
  if (swingsFrom === null) return null;
  const paces = bytes.flatMap((from, index) =>
    from >= swingsFrom.bytes && index + 1 < bytes.length
      ? [{ secondsPerByte: secondsPerByte[index]!, seconds: (bytes[index + 1]! - from) * secondsPerByte[index]! }]
      : [],
  );
  return paces.length > 0 ? { fromBytes: swingsFrom.bytes, paces } : null;
}

/** A curve as stretches of one rate; a stall is spread over the stretch that follows it. */
function stretchesOf(curve: SupplyCurve): { bytes: number[]; secondsPerByte: number[] } {
  const { seconds, bytes } = continued(curve);
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

/** One stream of a copy: a drive that is read or written, over the links to it. */
export interface CopyFlow {
  trace: Evidence;
  driveId: string;
  hops: readonly Hop[];
  /** How it is named where it binds. */
  binds: Binding;
}

/** A link with the streams that share it, each way. */
interface SharedHop {
  hop: Hop;
  read: number;
  write: number;
}

/** Every link once: those that two streams go over are told by where they are. */
function sharedHops(flows: readonly CopyFlow[]): SharedHop[] {
  const found = new Map<string, SharedHop>();
  flows.forEach(({ trace, driveId, hops }) =>
    hops.forEach((hop, place) => {
      const key = hop.at ?? `${driveId} ${place}`;
      const known = found.get(key) ?? { hop, read: 0, write: 0 };
      found.set(key, known);
      known[trace.direction] += 1;
      if (hop.ceilingBytesPerSecond < known.hop.ceilingBytesPerSecond) known.hop = hop;
    }),
  );
  return [...found.values()];
}

/** Seconds that a shared link takes for a byte of each of its streams: both ways at once only where it is duplex. */
function hopSecondsPerByte({ hop, read, write }: SharedHop): number {
  const isDuplex = linkKindById(hop.linkId)?.duplex !== 'half';
  return (isDuplex ? Math.max(read, write) : read + write) / hop.ceilingBytesPerSecond;
}

/**
 * The rate of streams that go on side by side, byte for byte, exact between the points of their traces:
 * at each byte the slowest counts. Streams of one drive take turns, so their times add up; a link that
 * several share is split between them, by its kind each way for itself or both together.
 * @param aheadBytes by which one side may be ahead of another
 */
export function moveStretches(
  bytes: number,
  flows: readonly CopyFlow[],
  aheadBytes = USUAL_AHEAD_BYTES,
): CopyStretch[] {
  const sides = flows.map(({ trace }) => sideOf(trace));
  const drives = [...new Set(flows.map(({ driveId }) => driveId))].map((id) => {
    const members = flows.flatMap((flow, index) => (flow.driveId === id ? [index] : []));
    const binds: Binding = members.length > 1 ? { kind: 'same-drive' } : flows[members[0]!]!.binds;
    return { members, binds };
  });
  // On one drive nothing is won by going ahead.
  const turns = new Set(drives.flatMap(({ members }) => (members.length > 1 ? members : [])));
  const slowestHop = sharedHops(flows)
    .map((one) => ({ label: one.hop.label, secondsPerByte: hopSecondsPerByte(one) }))
    .sort((a, b) => b.secondsPerByte - a.secondsPerByte)[0];
  const cuts = [...new Set([...sides.flatMap((side) => side.bytes), bytes])]
    .filter((cut) => cut <= bytes)
    .sort((a, b) => a - b);
  const at = sides.map(() => 0);
  const stretches: CopyStretch[] = [];
  for (let index = 0; index + 1 < cuts.length; index += 1) {
    const [fromBytes, toBytes] = [cuts[index]!, cuts[index + 1]!];
    sides.forEach((side, which) => {
      while (at[which]! + 1 < side.bytes.length && side.bytes[at[which]! + 1]! <= fromBytes) at[which]! += 1;
    });
    const paces = sides.map((side, which) => side.secondsPerByte[at[which]!]!);
    const swinging = sides.findIndex(({ swing }) => swing !== null && fromBytes >= swing.fromBytes);
    const { bytesPerSecond, binds } =
      swinging < 0
        ? slowestOf(paces, drives, slowestHop)
        : meanOfSwing(sides[swinging]!.swing!, turns.has(swinging) ? 0 : aheadBytes, (pace) =>
            slowestOf(paces.with(swinging, pace), drives, slowestHop),
          );
    push(stretches, { fromBytes, toBytes, bytesPerSecond, binds });
  }
  return stretches;
}

type Pace = Pick<CopyStretch, 'bytesPerSecond' | 'binds'>;

/** The pace of all streams together when each has its own. */
function slowestOf(
  paces: readonly number[],
  drives: readonly { members: readonly number[]; binds: Binding }[],
  hop: { label: string; secondsPerByte: number } | undefined,
): Pace {
  let [slowest, binds]: [number, Binding] = [0, { kind: 'source' }];
  for (const drive of drives) {
    const seconds = drive.members.reduce((sum, member) => sum + paces[member]!, 0);
    // Of two that are alike the later one binds: what is written is what one waits for.
    if (seconds >= slowest) [slowest, binds] = [seconds, drive.binds];
  }
  if (hop && hop.secondsPerByte > slowest) [slowest, binds] = [hop.secondsPerByte, { kind: 'hop', label: hop.label }];
  return { bytesPerSecond: 1 / slowest, binds };
}

/**
 * A drive that swings by the clock spends its slow times whatever the others do: the rate is the mean over
 * time of what all come to at each of its paces, and what binds for the longest is what binds. While it is
 * slow the others go ahead by what the program holds in memory, and while it is quick it makes that up.
 */
function meanOfSwing(
  swing: NonNullable<Side['swing']>,
  aheadBytes: number,
  paceAt: (secondsPerByte: number) => Pace,
): Pace {
  const others = paceAt(0).bytesPerSecond;
  let [ahead, moved, all] = [0, 0, 0];
  const bound = new Map<string, { binds: Binding; seconds: number }>();
  for (const { seconds, secondsPerByte } of swing.paces) {
    const { bytesPerSecond, binds } = paceAt(secondsPerByte);
    const alone = 1 / secondsPerByte;
    const madeUp = Math.min(ahead, Math.max(0, alone - bytesPerSecond) * seconds);
    moved += bytesPerSecond * seconds + madeUp;
    ahead = Math.min(aheadBytes, ahead - madeUp + Math.max(0, others - alone) * seconds);
    all += seconds;
    const key = `${binds.kind} ${nameOf(binds)}`;
    bound.set(key, { binds, seconds: (bound.get(key)?.seconds ?? 0) + seconds });
  }
  const longest = [...bound.values()].reduce((most, one) => (one.seconds > most.seconds ? one : most));
  return { bytesPerSecond: moved / all, binds: longest.binds };
}

/** Stretches of the same cause and about the same rate are one. */
function push(stretches: CopyStretch[], next: CopyStretch): void {
  const last = stretches.at(-1);
  const isOne =
    last && sameBinding(last.binds, next.binds) && Math.abs(last.bytesPerSecond / next.bytesPerSecond - 1) < 1e-9;
  if (isOne) last.toBytes = next.toBytes;
  else stretches.push(next);
}

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

/** With requests waiting, a drive with heads takes the nearest first; that is all it wins by them. */
const SEEK_GAIN = 0.22;

/** By how much the waiting for one file shrinks when several are at work. */
const sharedBy = (parallelFiles: number, medium: Profile['drive']['medium']): number =>
  medium === 'spinning' ? 1 + SEEK_GAIN * Math.log2(parallelFiles) : parallelFiles;

const known = (values: readonly (number | null | undefined)[]): number | null =>
  values.find((value) => value !== null && value !== undefined) ?? null;

/**
 * A copy from one drive to one or several at once. Null where reading the source or writing a target
 * was not measured. Bytes move at the pace of the slowest drive and link; what files cost beside their
 * bytes comes on top, shared among those at work; reading all the copies back, at the same time,
 * follows when it is asked for.
 */
export function predictCopy(payload: Payload, from: Profile, targets: readonly Profile[]): CopyPrediction | null {
  const flow = (profile: Profile, direction: 'read' | 'write', binds: Binding): CopyFlow | null => {
    const trace = longestTrace(profile, direction);
    return trace ? { trace, driveId: profile.drive.id, hops: profile.connection.hops, binds } : null;
  };
  const target = ({ drive }: Profile): Binding => ({ kind: 'target', label: targets.length > 1 ? drive.label : null });
  const flows = [flow(from, 'read', { kind: 'source' }), ...targets.map((one) => flow(one, 'write', target(one)))];
  if (!flows.every((one) => one !== null)) return null;
  const stretches = moveStretches(payload.bytes, flows);
  const movingSeconds = secondsOf(stretches);
  const costs = [
    { drive: from.drive, seconds: known(from.runs.map(({ fileSeconds }) => fileSeconds)) },
    ...targets.map(({ drive, runs }) => ({ drive, seconds: known(runs.map(({ createSeconds }) => createSeconds)) })),
  ];
  const fileSeconds = costs.reduce(
    (sum, { drive, seconds }) => sum + (seconds ?? 0) / sharedBy(payload.parallelFiles, drive.medium),
    0,
  );
  const filesSeconds = payload.files * fileSeconds;
  const backs = targets.map((one) => flow(one, 'read', target(one)));
  const verifyingSeconds =
    payload.verifies && backs.every((one) => one !== null) ? secondsOf(moveStretches(payload.bytes, backs)) : 0;
  return {
    seconds: movingSeconds + filesSeconds + verifyingSeconds,
    movingSeconds,
    filesSeconds,
    verifyingSeconds,
    earlySeconds: earlyEstimate(stretches, payload.bytes),
    stretches,
    provenBytes: Math.min(...flows.map(({ trace }) => reachOf(trace))),
    filesKnown: costs.every(({ seconds }) => seconds !== null),
  };
}
