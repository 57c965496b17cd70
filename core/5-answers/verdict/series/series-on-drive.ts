import { sumOf } from '#core/3-jobs/demand/series/frame-bytes.ts';
import { seriesTimes, type SeriesTimes, type SeriesWork } from '#core/3-jobs/demand/series/pipeline.ts';
import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { furthestReaching, reachOf, type Evidence } from '#core/4-runs/supply/evidence.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { progressBytes, secondsAtEach } from '#core/1-ground/curves/progress.ts';
import { continued, longestCurve } from '#core/4-runs/trace/supply-curve.ts';

/** A series worked through on a drive, from the trace of one of its runs. */
export interface SeriesOnDrive {
  runId: string;
  evidence: Evidence;
  /** Nothing of the fast cache comes back while a frame is computed. */
  neverEmptied: SeriesTimes;
  /** Every frame finds the cache as at the start. */
  alwaysEmptied: SeriesTimes;
  /** Bytes of one version, of its largest frame, and up to which the run says anything. */
  bytes: number;
  largestFrameBytes: number;
  provenBytes: number;
  /** Rate that its frames are written at on the whole, bytes per second. */
  bytesPerSecond: number;
}

/**
 * Seconds in which a drive writes up to numbers of bytes, from its trace; beyond the trace at its
 * floor, or at the median where there is none.
 */
export function writingClock(evidence: Evidence): {
  secondsAtEach: (bytes: Float64Array) => Float64Array;
  provenBytes: number;
} {
  const points = continued(longestCurve(evidence.curves));
  const endBytes = progressBytes(points);
  const beyond = Math.max(1, evidence.span.floorBytesPerSecond || evidence.medianBytesPerSecond);
  return {
    provenBytes: reachOf(evidence),
    secondsAtEach(bytes) {
      const found = secondsAtEach(points, bytes);
      for (let at = 0; at < bytes.length; at += 1) {
        if (bytes[at]! > endBytes) found[at]! += (bytes[at]! - endBytes) / beyond;
      }
      return found;
    },
  };
}

/** What was worked through before: dragging the headroom asks for the same again and again. */
const kept = new WeakMap<SeriesItem, WeakMap<Evidence, SeriesOnDrive>>();

/** How a series goes by one run's trace, between its two bounds. */
export function seriesByTrace(item: SeriesItem, evidence: Evidence): SeriesOnDrive {
  const known = kept.get(item) ?? new WeakMap<Evidence, SeriesOnDrive>();
  kept.set(item, known);
  const found = known.get(evidence) ?? workByTrace(seriesWork(item), evidence, 1);
  known.set(evidence, found);
  return found;
}

/**
 * Share of the whole that the drive takes when nothing of its cache comes back and every writing takes
 * so much longer. A writer that blocks waits for all of it; of a queue that is only the most, and
 * where it decides the frames are worked through again.
 */
export function slowerShare(item: SeriesItem, on: SeriesOnDrive, slower: number, mostShare: number): number {
  const { computeSeconds, write } = on.neverEmptied;
  if (computeSeconds + sumOf(write) <= 0) return 0;
  const most = 1 - computeSeconds / Math.max(1e-12, computeSeconds + slower * sumOf(write));
  if (item.queueFrames === 0 || most <= mostShare) return most;
  return workByTrace(seriesWork(item), on.evidence, slower).neverEmptied.driveShare;
}

interface SeriesBytes {
  /** Bytes written when each frame is. */
  ends: Float64Array;
  bytes: number;
  largestFrameBytes: number;
}
const summed = new WeakMap<SeriesWork, SeriesBytes>();

/** What its bytes come to, added up once and not for every drive. */
function bytesOf(work: SeriesWork): SeriesBytes {
  const known = summed.get(work);
  if (known) return known;
  const ends = new Float64Array(work.bytes.length);
  let [bytes, largestFrameBytes] = [0, 0];
  for (let frame = 0; frame < ends.length; frame += 1) {
    const own = work.bytes[frame]!;
    bytes += own;
    ends[frame] = bytes;
    if (own > largestFrameBytes) largestFrameBytes = own;
  }
  const found = { ends, bytes, largestFrameBytes };
  summed.set(work, found);
  return found;
}

function workByTrace(work: SeriesWork, evidence: Evidence, slower: number): SeriesOnDrive {
  const { secondsAtEach: clock, provenBytes } = writingClock(evidence);
  const frames = work.bytes.length;
  const { ends, bytes, largestFrameBytes } = bytesOf(work);
  // Each frame is written from where the one before it ended. What a run waited before its first byte is part of the
  // first frame; at best no other waits for it.
  const atEnds = clock(ends);
  const inTurn = new Float64Array(frames);
  for (let frame = 0; frame < frames; frame += 1) {
    inTurn[frame] = slower * (atEnds[frame]! - (frame > 0 ? atEnds[frame - 1]! : 0));
  }
  const neverEmptied = seriesTimes(work, inTurn);
  const [begin] = clock(Float64Array.of(0));
  const fromStart = clock(work.bytes);
  for (let frame = 0; frame < frames; frame += 1) fromStart[frame] = slower * (fromStart[frame]! - begin!);
  const alwaysEmptied = seriesTimes(work, fromStart);
  // A trace that begins slowly would make “always emptied” the slower of the two.
  const [quick, slow] =
    alwaysEmptied.totalSeconds <= neverEmptied.totalSeconds
      ? [alwaysEmptied, neverEmptied]
      : [neverEmptied, alwaysEmptied];
  return {
    runId: evidence.runId,
    evidence,
    neverEmptied: slow,
    alwaysEmptied: quick,
    bytes,
    largestFrameBytes,
    provenBytes,
    bytesPerSecond: bytes / Math.max(1e-9, sumOf(slow.write)),
  };
}

/** Bytes of one version. */
const writtenBytes = (item: SeriesItem): number => bytesOf(seriesWork(item)).bytes;

/** The worst of a drive's runs that reach to the end of the series, else the one that reaches furthest; null without any. */
export function seriesOnDrive(item: SeriesItem, { traces }: Supply): SeriesOnDrive | null {
  const bytes = writtenBytes(item);
  const writing = traces.filter((one) => one.direction === 'write');
  const furthest = furthestReaching(writing);
  if (furthest === undefined) return null;
  const whole = writing.filter((one) => reachOf(one) >= bytes);
  if (whole.length === 0) return seriesByTrace(item, furthest);
  return whole
    .map((one) => seriesByTrace(item, one))
    .reduce((worst, one) => (one.neverEmptied.totalSeconds > worst.neverEmptied.totalSeconds ? one : worst));
}

/** Where the volume is full: the version and the frame that no longer fits, both from 1; null when all fit. */
export function fullAt(item: SeriesItem, roomBytes: number | null): { version: number; frame: number } | null {
  if (roomBytes === null) return null;
  const { bytes } = seriesWork(item);
  const whole = sumOf(bytes);
  if (whole * item.versions <= roomBytes) return null;
  const version = whole > 0 ? Math.floor(roomBytes / whole) : 0;
  let used = version * whole;
  for (let frame = 0; frame < bytes.length; frame += 1) {
    used += bytes[frame]!;
    if (used > roomBytes) return { version: version + 1, frame: frame + 1 };
  }
  return null;
}

/** Frames whose writing takes longer than computing them, first and last from 1 and how many; null for none. */
export function writeBoundFrames(
  { write }: SeriesTimes,
  compute: ArrayLike<number>,
): { first: number; last: number; count: number } | null {
  let [first, last, count] = [0, 0, 0];
  write.forEach((seconds, frame) => {
    if (seconds <= compute[frame]!) return;
    if (count === 0) first = frame + 1;
    last = frame + 1;
    count += 1;
  });
  return count === 0 ? null : { first, last, count };
}

/** Frames a second at which a cache is looked at. */
export interface PlaybackRates {
  /** Reading and showing one after the other. */
  plain: number;
  /** Reading ahead while a frame is shown. */
  readAhead: number;
  /** Once it is in memory: what showing alone allows; null when showing was given no time. */
  fromMemory: number | null;
}

/** N frames in N·k + V ÷ r seconds, cold; with read-ahead the slower of both. Null where reading was not measured. */
export function playbackRates(item: SeriesItem, { traces }: Supply): PlaybackRates | null {
  const reading = traces.filter((one) => one.direction === 'read').map((one) => one.medianBytesPerSecond);
  if (item.playback === null || reading.length === 0) return null;
  const { showSeconds } = item.playback;
  const bytes = sumOf(seriesWork(item).bytes) / item.frameCount;
  const read = bytes / Math.max(1, Math.min(...reading));
  return {
    plain: 1 / (showSeconds + read),
    readAhead: 1 / Math.max(showSeconds, read),
    fromMemory: showSeconds > 0 ? 1 / showSeconds : null,
  };
}
