import { copyBesideSwings, type Paced } from '#core/5-answers/copies/swings.ts';
import { EARLY_SECONDS, sameBinding, type Binding, type CopyStretch } from '#core/4-runs/trace/copy-stretches.ts';
import { furthestReaching, reachOf, type Evidence } from '#core/4-runs/supply/evidence.ts';
import type { Profile } from '#core/4-runs/supply/profile.ts';
import { continued, flushSecondsFor, longestCurve, type SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';
import type { Hop } from '#core/2-trade/links/connection.ts';
import { linkKindById } from '#core/2-trade/links/links.ts';

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
  /** Moving the bytes; until the last are on the targets; what files cost beside them; reading back. */
  movingSeconds: number;
  flushingSeconds: number;
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

/** A link with the streams that share it, each way, and their numbers. */
interface SharedHop {
  hop: Hop;
  read: number;
  write: number;
  flows: number[];
}

/** Every link once: those that two streams go over are told by where they are. */
function sharedHops(flows: readonly CopyFlow[]): SharedHop[] {
  const found = new Map<string, SharedHop>();
  flows.forEach(({ trace, driveId, hops }, flow) =>
    hops.forEach((hop, place) => {
      const key = hop.at ?? `${driveId} ${place}`;
      const known = found.get(key) ?? { hop, read: 0, write: 0, flows: [] };
      found.set(key, known);
      // A stream goes once through a place, however many of its links are said to be there.
      if (!known.flows.includes(flow)) {
        known[trace.direction] += 1;
        known.flows.push(flow);
      }
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
  const hops = sharedHops(flows).map((one) => ({
    label: one.hop.label,
    flows: one.flows,
    secondsPerByte: hopSecondsPerByte(one),
  }));
  const slowestHop = slowestHopOf(hops);
  // How fast each stream may go over its own links.
  const ownHop = flows.map((_, flow) => slowestHopOf(hops.filter((one) => one.flows.includes(flow))));
  const cuts = [...new Set([...sides.flatMap((side) => side.bytes), bytes])]
    .filter((cut) => cut <= bytes)
    .sort((a, b) => a - b);
  const at = sides.map(() => 0);
  const kept = new Map<string, Pace>();
  const stretches: CopyStretch[] = [];
  for (let index = 0; index + 1 < cuts.length; index += 1) {
    const [fromBytes, toBytes] = [cuts[index]!, cuts[index + 1]!];
    sides.forEach((side, which) => {
      while (at[which]! + 1 < side.bytes.length && side.bytes[at[which]! + 1]! <= fromBytes) at[which]! += 1;
    });
    const paces = sides.map((side, which) => side.secondsPerByte[at[which]!]!);
    const swinging = sides.flatMap(({ swing }, which) => (swing && fromBytes >= swing.fromBytes ? [which] : []));
    const pace =
      swinging.length === 0
        ? slowestOf(paces, drives, slowestHop)
        : swinging.some((which) => turns.has(which))
          ? meanOfSwing(sides[swinging[0]!]!.swing!, (own) =>
              slowestOf(paces.with(swinging[0]!, own), drives, slowestHop),
            )
          : besideSwings(swinging, paces);
    push(stretches, { fromBytes, toBytes, ...pace });
  }
  return stretches;

  /** The pace beside streams that swing by the clock: it differs little with that of the others, and is kept. */
  function besideSwings(swinging: readonly number[], paces: readonly number[]): Pace {
    const key = paces
      .map((pace, which) => (swinging.includes(which) ? `swings ${which}` : Math.round(Math.log(pace) / KEPT_WITHIN)))
      .join(' ');
    const found = kept.get(key);
    if (found) return found;
    const streams = sides.map(({ swing }, which): Paced => {
      const link = ownHop[which]?.secondsPerByte ?? 0;
      const { members } = drives.find((drive) => drive.members.includes(which))!;
      const own = swinging.includes(which)
        ? swing!.paces
        : [{ seconds: 1, secondsPerByte: members.reduce((sum, member) => sum + paces[member]!, 0) }];
      return {
        paces: own.map(({ seconds, secondsPerByte }) => ({
          seconds,
          bytesPerSecond: 1 / Math.max(secondsPerByte, link),
        })),
      };
    });
    // Copies that are read back wait for nobody.
    const isCopy =
      flows[0]!.trace.direction === 'read' && flows.slice(1).every(({ trace }) => trace.direction === 'write');
    const { bytesPerSecond, boundSeconds } = isCopy
      ? copyBesideSwings(streams, aheadBytes)
      : copyBesideSwings([{ paces: [{ seconds: 1, bytesPerSecond: 1e15 }] }, ...streams], Infinity);
    const bound = isCopy ? boundSeconds : boundSeconds.slice(1);
    const which = bound.indexOf(Math.max(...bound));
    const link = ownHop[which];
    const isLink = link !== undefined && 1 / bytesPerSecond <= link.secondsPerByte * HARDLY_SLOWER;
    const pace: Pace = { bytesPerSecond, binds: isLink ? { kind: 'hop', label: link.label } : flows[which]!.binds };
    kept.set(key, pace);
    return pace;
  }
}

/** Paces within so much of each other, as a logarithm, are looked at once; a link binds that is within this of the whole. */
const KEPT_WITHIN = 0.01;
const HARDLY_SLOWER = 1.01;

type HopPace = { label: string; secondsPerByte: number };

const slowestHopOf = (hops: readonly HopPace[]): HopPace | undefined =>
  [...hops].sort((a, b) => b.secondsPerByte - a.secondsPerByte)[0];

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

/** A drive that swings by the clock and does two things in turn: the mean over time of what both come to at each pace. */
function meanOfSwing(swing: NonNullable<Side['swing']>, paceAt: (secondsPerByte: number) => Pace): Pace {
  const all = swing.paces.reduce((sum, { seconds }) => sum + seconds, 0);
  const moved = swing.paces.reduce(
    (sum, { seconds, secondsPerByte }) => sum + seconds * paceAt(secondsPerByte).bytesPerSecond,
    0,
  );
  return { bytesPerSecond: moved / all, binds: { kind: 'same-drive' } };
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
 * bytes comes on top, shared among those at work, and so does what the targets take until the last bytes are on
 * them; reading all the copies back, at the same time, follows when it is asked for.
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
  // Two copies on one drive are flushed there one after the other.
  const flushes = new Map<string, number>();
  for (const { driveId, trace } of flows.slice(1)) {
    const seconds = flushSecondsFor(longestCurve(trace.curves), payload.bytes);
    flushes.set(driveId, (flushes.get(driveId) ?? 0) + seconds);
  }
  const flushingSeconds = Math.max(...flushes.values());
  const costs = [
    { drive: from.drive, seconds: known(from.runs.map(({ fileSeconds }) => fileSeconds)) },
    ...targets.map(({ drive, runs }) => ({ drive, seconds: known(runs.map(({ createSeconds }) => createSeconds)) })),
  ];
  // No more files can be at work than there are.
  const atWork = Math.max(1, Math.min(payload.parallelFiles, payload.files));
  const fileSeconds = costs.reduce(
    (sum, { drive, seconds }) => sum + (seconds ?? 0) / sharedBy(atWork, drive.medium),
    0,
  );
  const filesSeconds = payload.files * fileSeconds;
  const backs = targets.map((one) => flow(one, 'read', target(one)));
  const verifyingSeconds =
    payload.verifies && backs.every((one) => one !== null) ? secondsOf(moveStretches(payload.bytes, backs)) : 0;
  return {
    seconds: movingSeconds + flushingSeconds + filesSeconds + verifyingSeconds,
    movingSeconds,
    flushingSeconds,
    filesSeconds,
    verifyingSeconds,
    earlySeconds: earlyEstimate(stretches, payload.bytes),
    stretches,
    provenBytes: Math.min(...flows.map(({ trace }) => reachOf(trace))),
    filesKnown: costs.every(({ seconds }) => seconds !== null),
  };
}
