import type { Evidence } from '#core/4-runs/supply/evidence.ts';
import { transfersOf, type Transfer } from '#core/4-runs/supply/transfers.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { progressBytes, type Progress } from '#core/1-ground/curves/progress.ts';
import { askedBytes, askedSeconds, cutAt, hastened, summed, type Asked } from '#core/5-answers/verdict/asked.ts';
import {
  breakOf,
  courseByBytes,
  courseByClock,
  courseByTime,
  clockOf,
  courseOfLevels,
  soonestDry,
  type Break,
  type Clock,
} from '#core/5-answers/verdict/replay.ts';
import { serviceOf, type Service } from '#core/5-answers/verdict/service.ts';
import { mostMissing, mostWaiting, waitsWithin } from '#core/5-answers/verdict/constant-rate.ts';
import { mostOverdue, mostStarved, type Placed } from '#core/5-answers/verdict/worst-case.ts';
import { halved } from '#core/1-ground/numbers/search.ts';

/** What one run carries of one take, before any policy. */
export interface Carried {
  /** How many times as fast the same bytes could be asked for and still be carried; 0 for not even a little of it. */
  timesCarried: number;
  /** For one item; of several the sum that was looked at. */
  leastBufferBytes: number;
  /** When it is certain to break: between two moments where the trace leaves that open. */
  broken: (Break & { latestSeconds: number }) | null;
}

/** Moments of what comes by the clock at which a job is tried. */
const SHIFTS = 12;
/** Rates are looked for between these shares of what is asked for, to so many steps of halving. */
const LEAST_TIMES = 1 / 64;
const MOST_TIMES = 64;
const STEPS = 22;
/** A demand that changes takes longer to look at: within a per mille. */
const FEWER_STEPS = 12;

export interface CarriedOptions {
  /** Bytes of each transfer after which the take begins. */
  fromBytes?: number;
  /** Whether only what levels alone decide is told to break, as many searches need it: where and when takes long. */
  isQuick?: boolean;
}

/** What a run carries of a take that begins after so many bytes of each of its transfers; the worst of them counts. */
export function carriedOf(
  items: readonly Asked[],
  direction: Direction,
  evidence: Evidence,
  { fromBytes = 0, isQuick = false }: CarriedOptions = {},
): Carried {
  const all = transfersOf(evidence).map((transfer) => carriedOn(items, direction, transfer, fromBytes, isQuick));
  const broken = all
    .map((one) => one.broken)
    .reduce((soonest, one) => (one && (!soonest || one.seconds < soonest.seconds) ? one : soonest), null);
  return {
    timesCarried: Math.min(...all.map((one) => one.timesCarried)),
    leastBufferBytes: Math.max(...all.map((one) => one.leastBufferBytes)),
    broken,
  };
}

/** Whether a run carries a take at so many times its rate, from the same bytes in less time. */
export function carries(
  items: readonly Asked[],
  direction: Direction,
  evidence: Evidence,
  times = 1,
  fromBytes = 0,
): boolean {
  const asked = times === 1 ? items : hastened(items, times);
  return transfersOf(evidence).every((transfer) => fitsOn(asked, direction, transfer, fromBytes, slack(asked)));
}

/** Rounding of sums of many bytes. */
const slack = (items: readonly Asked[]): number => 1 + 1e-9 * askedBytes(items);

interface Services {
  all: Service;
  before: { bytes: number; service: Service } | null;
}
const laidOut = new WeakMap<Transfer, Services>();

function servicesOf(transfer: Transfer): Services {
  const known = laidOut.get(transfer);
  if (known) return known;
  const { levels, parted } = transfer;
  const services: Services = {
    all: serviceOf(levels, parted.lost),
    before: parted.before && { bytes: parted.before.bytes, service: serviceOf(levels, parted.before.lost) },
  };
  laidOut.set(transfer, services);
  return services;
}

/** @param limitBytes where only that is asked, whether more than so much is overdue; see {@link mostOverdue} */
function overdueOn(
  items: readonly Asked[],
  direction: Direction,
  transfer: Transfer,
  fromBytes: number,
  limitBytes: number | null = null,
): number {
  const constant = constantRate(items);
  if (direction === 'read') {
    const { all } = servicesOf(transfer);
    if (constant === null) return mostStarved(items, all, limitBytes);
    return mostMissing(constant.rate, constant.bytes / constant.rate, all) - constant.bufferBytes;
  }
  return Math.max(
    ...placedOn(transfer, fromBytes).map(({ service, placed }) =>
      constant === null
        ? mostOverdue(items, service, placed, limitBytes)
        : mostWaiting(constant.rate, constant.bytes, service, placed) - constant.bufferBytes,
    ),
  );
}

/** What is looked at of a drive for a take that begins after so many bytes: up to where it changes, and beyond. */
function placedOn(transfer: Transfer, fromBytes: number): { service: Service; placed: Placed }[] {
  const { all, before } = servicesOf(transfer);
  if (before === null || fromBytes >= before.bytes) return [{ service: all, placed: { fromBytes } }];
  return [
    { service: before.service, placed: { fromBytes, endsBeforeBytes: before.bytes } },
    { service: all, placed: { fromBytes, endsBeyondBytes: before.bytes } },
  ];
}

/** Whether a take is never overdue by more than so many bytes, which is quicker to say than by how many. */
function fitsOn(
  items: readonly Asked[],
  direction: Direction,
  transfer: Transfer,
  fromBytes: number,
  mostBytes: number,
): boolean {
  const constant = direction === 'write' ? constantRate(items) : null;
  if (constant === null) return overdueOn(items, direction, transfer, fromBytes, mostBytes) <= mostBytes;
  return placedOn(transfer, fromBytes).every(({ service, placed }) =>
    waitsWithin(mostBytes + constant.bufferBytes, constant.rate, constant.bytes, service, placed),
  );
}

/** One item of a constant rate, of which what waits is by far the quickest to say; null for anything else. */
function constantRate(items: readonly Asked[]): { rate: number; bytes: number; bufferBytes: number } | null {
  const [{ curve, bufferBytes, burst }] = items as [Asked];
  const bytes = progressBytes(curve);
  if (items.length > 1 || curve.seconds.length !== 2 || burst.bytes > 0 || !(bytes > 0)) return null;
  return { rate: bytes / curve.seconds[1]!, bytes, bufferBytes };
}

function carriedOn(
  items: readonly Asked[],
  direction: Direction,
  transfer: Transfer,
  fromBytes: number,
  isQuick: boolean,
): Carried {
  const overdueMost = slack(items);
  const fits = (times: number): boolean =>
    fitsOn(times === 1 ? items : hastened(items, times), direction, transfer, fromBytes, overdueMost);
  const holds = fits(1);
  const steps = constantRate(items) ? STEPS : FEWER_STEPS;
  const timesCarried = (): number => {
    const [least, most] = holds ? [1, MOST_TIMES] : [LEAST_TIMES, 1];
    if (holds && fits(most)) return most;
    if (!holds && !fits(least)) return 0;
    return Math.exp(halved(Math.log(least), Math.log(most), steps, (power) => fits(Math.exp(power))).passing);
  };
  const withoutBuffer = items.map((one) => ({ ...one, bufferBytes: 0 }));
  return {
    timesCarried: timesCarried(),
    leastBufferBytes: Math.max(0, overdueOn(withoutBuffer, direction, transfer, fromBytes)),
    broken: holds
      ? null
      : isQuick
        ? brokenByLevels(items, direction, transfer, fromBytes)
        : brokenOn(items, direction, transfer, fromBytes),
  };
}

/** When a take breaks on the levels alone, which lose no time. */
function brokenByLevels(
  items: readonly Asked[],
  direction: Direction,
  transfer: Transfer,
  fromBytes: number,
): Carried['broken'] {
  if (direction === 'read') return brokenOn(items, direction, transfer, fromBytes);
  const { curve, bufferBytes } = together(items);
  const found = breakOf(curve, bufferBytes, courseOfLevels(servicesOf(transfer).all, fromBytes), fromBytes);
  return found && { ...found, latestSeconds: found.seconds };
}

/** When a take breaks for certain; null when it may or may not. */
function brokenOn(
  items: readonly Asked[],
  direction: Direction,
  transfer: Transfer,
  fromBytes: number,
): Carried['broken'] {
  const single = (one: Asked) => ({
    curve: one.curve,
    bufferBytes: Math.max(0, one.bufferBytes - one.burst.bytes),
  });
  // An item breaks beside others where it would alone, and some item does where all would as one.
  let worst: number | null = null;
  const worstSeconds = () => (worst ??= soonestBreak(items, direction, transfer, fromBytes));
  const tried = items.length === 1 ? items.map(single) : [...items.map(single), together(items)];
  const found = tried
    .map(({ curve, bufferBytes }) =>
      direction === 'read'
        ? dry(curve, bufferBytes, transfer)
        : overflow(curve, bufferBytes, transfer, fromBytes, worstSeconds),
    )
    .filter((one) => one !== null);
  if (found.length === 0) return null;
  const latestSeconds = Math.min(...found.map((one) => one.latestSeconds));
  const soonest = found.reduce((a, b) => (b.seconds < a.seconds ? b : a));
  if (direction === 'read') return { ...soonest, latestSeconds };
  // Never sooner than where the worst that may come by the clock would break it.
  const seconds = worstSeconds();
  if (seconds * SAME >= soonest.seconds) return { ...soonest, latestSeconds };
  const share = seconds / soonest.seconds;
  return { seconds, bytes: soonest.bytes * share, latestSeconds };
}

/** Moments that differ by less are one. */
const SAME = 1.03;

/** The longest beginning of a take that holds whatever comes by the clock, seconds. */
function soonestBreak(items: readonly Asked[], direction: Direction, transfer: Transfer, fromBytes: number): number {
  const most = slack(items);
  const holds = (seconds: number): boolean => fitsOn(cutAt(items, seconds), direction, transfer, fromBytes, most);
  return halved(0, askedSeconds(items), SOONEST_STEPS, holds).failing;
}

const SOONEST_STEPS = 18;

function together(items: readonly Asked[]): { curve: Progress; bufferBytes: number } {
  const bufferBytes = items.reduce((sum, one) => sum + Math.max(0, one.bufferBytes - one.burst.bytes), 0);
  return { curve: summed(items), bufferBytes };
}

function overflow(
  curve: Progress,
  bufferBytes: number,
  transfer: Transfer,
  fromBytes: number,
  worstSeconds: () => number,
): Carried['broken'] {
  const { all } = servicesOf(transfer);
  const { path, parted } = transfer;
  const swingFromBytes = parted.swingFromBytes;
  const on = (course: Parameters<typeof breakOf>[2]) => breakOf(curve, bufferBytes, course, fromBytes);
  const byLevels = on(courseOfLevels(all, fromBytes));
  // A drive that swings does better than its mean as well: there the levels alone say nothing for certain.
  const isCertain = byLevels !== null && swingFromBytes === null;
  // Where not even the worst that comes by the clock makes a difference, nothing of it has to be tried.
  if (isCertain && worstSeconds() * SAME >= byLevels.seconds) {
    return { ...byLevels, latestSeconds: byLevels.seconds };
  }
  const byBytes = on(courseByBytes(path, fromBytes, all));
  const found: Break[] = byBytes ? [byBytes] : [];
  if (!byBytes && !isCertain) return null;
  const clock = clockOf(path, all, swingFromBytes);
  for (const startSeconds of momentsOf(clock)) {
    const one = on(courseByClock(clock, all, fromBytes, startSeconds));
    if (one) found.push(one);
    else if (!isCertain) return null;
  }
  if (isCertain) found.push(byLevels);
  const soonest = found.reduce((a, b) => (b.seconds < a.seconds ? b : a));
  return { ...soonest, latestSeconds: Math.max(...found.map((one) => one.seconds)) };
}

/**
 * Moments of what comes by the clock at which a take is tried: spread over it, and where much has just been lost, from
 * where it is longest until it comes again.
 */
function momentsOf({ seconds, lostShare }: Clock): number[] {
  const span = seconds.at(-1)!;
  const spread = Array.from({ length: SHIFTS }, (_, shift) => (shift * span) / SHIFTS);
  const lost = lostShare.map((share, piece) => ({
    until: seconds[piece + 1]!,
    lost: share * (seconds[piece + 1]! - seconds[piece]!),
  }));
  const most = lost.filter((one) => one.lost > MUCH_LOST_SECONDS).sort((a, b) => b.lost - a.lost);
  return [...spread, ...most.slice(0, SHIFTS).map(({ until }) => until % span)];
}

const MUCH_LOST_SECONDS = 0.1;

/** Alignments of a take that is no constant rate at which a trace is tried. */
const ALIGNMENTS = 48;

function dry(curve: Progress, bufferBytes: number, { path }: Transfer): Carried['broken'] {
  const end = curve.seconds.at(-1)!;
  const constant = curve.seconds.length === 2;
  let soonest = constant ? soonestDry(path, progressBytes(curve) / end, bufferBytes, end) : null;
  if (!constant) {
    const span = path.seconds.at(-1)!;
    for (let one = 0; one < ALIGNMENTS; one += 1) {
      const start = (one * span) / ALIGNMENTS;
      const found = breakOf(curve, bufferBytes, courseByTime(path, start), 0);
      if (found && found.seconds <= span - start && (!soonest || found.seconds < soonest.seconds)) soonest = found;
    }
  }
  return soonest && { ...soonest, latestSeconds: soonest.seconds };
}
