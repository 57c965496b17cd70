import { greatest } from '#core/1-ground/numbers/statistics.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { linkChoices } from '#core/2-trade/links/link-choices.ts';
import { continuationOf } from '#core/4-runs/supply/continuation.ts';
import type { Doubt } from '#core/4-runs/supply/doubts/doubt.ts';
import { summaryOf, type RunSummary } from '#core/4-runs/supply/run-summary.ts';
import type { DirectionFigures } from '#core/4-runs/trace/figures.ts';
import { countedPasses, longestPass, passesOf, type Pass } from '#core/4-runs/trace/passes.ts';
import { bytesAt, progressDuration, type Progress } from '#core/1-ground/curves/progress.ts';
import { levelsAndLossOf, withLostTime, type LevelsAndLoss } from '#core/4-runs/trace/levels-and-loss.ts';
import type { KnownLevels } from '#core/4-runs/trace/levels.ts';
import { KNEE_SHARE } from '#core/4-runs/trace/reading.ts';
import type { RecoveryPoint } from '#core/4-runs/trace/recovery.ts';
import { thinned } from '#core/4-runs/trace/thinned.ts';
import { lostWhileWatched } from '#core/4-runs/trace/watched.ts';
import { continued, curveOf, type SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';

/** What one run can testify about one direction of its drive. */
export interface Evidence {
  runId: string;
  direction: Direction;
  medium: Medium;
  /** Continuous transfers, each with its flush as a stall at its end. */
  curves: SupplyCurve[];
  /** The same transfers parted into levels and lost time, by which jobs are judged; null in older documents. */
  parted: LevelsAndLoss[] | null;
  /** Bytes that the run itself proves. */
  provenBytes: number;
  /** Bytes up to which it may be continued: its own when it may not be, null for ever. */
  continuedBytes: number | null;
  /** Where levels of the longest transfer end, bytes; empty where none were read. */
  levelEnds: number[];
  kneeBytes: number | null;
  /** Where the longest transfer begins to swing with the clock; null when it does not. */
  swingsFrom: { bytes: number; seconds: number } | null;
  /** Fast cache that rests regained, shortest rest first. */
  recovery: RecoveryPoint[];
  mayProveHolds: boolean;
  mayProveBreaks: boolean;
  /** It was typed and not measured: what follows from it is somebody's promise. Left out of what was measured. */
  isPromise?: boolean | undefined;
  /** Doubts that concern this direction. */
  doubts: Doubt[];
  medianBytesPerSecond: number;
  span: RateSpan;
}

/** Rates of a drive in one direction for the ruler, bytes per second. */
export interface RateSpan {
  worstSecondBytesPerSecond: number;
  /** The floor where one was seen, else the median. */
  floorBytesPerSecond: number;
  openingBytesPerSecond: number;
}

/** An opening has to last this long to be one. */
const OPENING_SECONDS = 3;

/**
 * What a run testifies about a direction; null when it did not go that way or is void.
 * @param ceilings of links behind which it may be asked about, bytes per second
 */
export function evidenceOf(
  run: RunDocument,
  direction: Direction,
  summary: RunSummary = summaryOf(run),
  passes: readonly Pass[] = passesOf(run),
  ceilings: readonly number[] = CEILINGS,
): Evidence | null {
  const own = summary.figures[direction];
  if (own === null) return null;
  const doubts = summary.doubts.filter((doubt) => doubt.direction === null || doubt.direction === direction);
  if (doubts.some((doubt) => doubt.effect === 'void')) return null;
  const { counted } = countedPasses(passes, direction);
  const has = (effect: Doubt['effect']) => doubts.some((doubt) => doubt.effect === effect);
  const { reading } = own;
  const longest = longestPass(counted);
  const curves = counted.map((pass) => {
    const kept = pass === longest ? keptBytes(reading) : [];
    const curve = curveOf(thinned(pass.progress, CURVE_SECONDS, pointsFor(counted.length), kept));
    if (direction === 'write' && pass === longest) curve.continuation = continuationOf(run, longest, reading, curve);
    // A run that may be taken to go on would not have stopped to flush there.
    return curve.continuation === null ? withFlush(curve, pass) : curve;
  });
  const watched = passes.find((pass) => pass.phase === 'watching' && pass.direction === direction);
  const lostSince = watched ? lostWhileWatched(watched.progress) : null;
  const parted = counted.map((pass, index) => {
    const own = levelsAndLossOf(
      curves[index]!.continuation === null ? withFlushAfter(pass) : pass.progress,
      knownLevels(pass === longest ? reading : null),
      ceilings,
    );
    return lostSince ? withLostTime(own, lostSince) : own;
  });
  return {
    runId: run.id,
    direction,
    medium: run.drive.medium,
    curves,
    parted,
    provenBytes: own.longestPassBytes,
    // Memory has no cache to run out of and no tracks: what it does for a second it does for ever.
    continuedBytes: run.drive.medium === 'memory' ? null : greatest(curves.map((one) => continued(one).bytes.at(-1)!)),
    levelEnds: reading?.levels.map((level) => level.toBytes) ?? [],
    kneeBytes: reading?.kneeBytes ?? null,
    swingsFrom: reading?.sawtooth ? { bytes: reading.kneeBytes ?? 0, seconds: reading.kneeSeconds ?? 0 } : null,
    recovery:
      direction === 'write' ? [...(summary.figures.recovery ?? [])].sort((a, b) => a.restSeconds - b.restSeconds) : [],
    mayProveHolds: !has('too-high'),
    mayProveBreaks: !has('too-low'),
    doubts,
    medianBytesPerSecond: own.medianBytesPerSecond,
    span: rateSpan(counted, own),
  };
}

/** Bytes up to which evidence says anything; for ever is Infinity. */
export const reachOf = ({ continuedBytes }: Evidence): number => continuedBytes ?? Infinity;

/** The evidence that reaches furthest; undefined when there is none. */
export function furthestReaching(all: readonly Evidence[]): Evidence | undefined {
  return soundOf(all).reduce<Evidence | undefined>(
    (far, one) => (far && reachOf(one) <= reachOf(far) ? far : one),
    undefined,
  );
}

/** Of several runs those that nothing held back, where there are any: one that was starved does not outweigh them. */
export function soundOf(all: readonly Evidence[]): readonly Evidence[] {
  const sound = all.filter(({ mayProveBreaks }) => mayProveBreaks);
  return sound.length > 0 ? sound : all;
}

/** Curves are off by no more than this, unless they would have too many points. */
const CURVE_SECONDS = 0.02;

/** Many passes share the points that one of them may have. */
const pointsFor = (passes: number): number => Math.max(200, Math.floor(4000 / passes));

function keptBytes(reading: DirectionFigures['reading']): number[] {
  if (reading === null) return [];
  const floorFrom = reading.floorFromBytes;
  const floor = floorFrom === null ? [] : [floorFrom, floorFrom + reading.floorBytes];
  return [reading.kneeBytes ?? 0, ...floor].filter((bytes) => bytes > 0).sort((a, b) => a - b);
}

/** What a run testifies about both directions. `summary` saves working it out again where it is at hand. */
export function evidenceOfRun(run: RunDocument, summary: RunSummary = summaryOf(run)): Evidence[] {
  // Runs whose recipe shows no levels testify nothing: their passes need not be found.
  if (DIRECTIONS.every((direction) => summary.figures[direction] === null)) return [];
  const passes = passesOf(run);
  return DIRECTIONS.map((direction) => evidenceOf(run, direction, summary, passes)).filter((one) => one !== null);
}

/** Links behind which a drive may be asked about: what is lost there is worked out with the run. */
const CEILINGS = linkChoices().map(({ ceilingBytesPerSecond }) => ceilingBytesPerSecond);

function knownLevels(reading: DirectionFigures['reading']): KnownLevels {
  const knee = reading?.kneeBytes ?? 0;
  const opening = reading?.levels.filter((level) => level.toBytes <= knee * (1 + 1e-9)) ?? [];
  const fastest = greatest(opening.map((level) => level.bytesPerSecond));
  const low = reading?.sawtooth?.lowBytesPerSecond ?? 0;
  // What falls as low before its floor as on it, and returns, swings from the beginning. A stop is no swing.
  const swingsBefore = opening.some(
    ({ bytesPerSecond }) => bytesPerSecond < KNEE_SHARE * fastest && bytesPerSecond > KNEE_SHARE * low,
  );
  return {
    levelEnds: reading?.levels.map((level) => level.toBytes) ?? [],
    slopes: reading !== null && reading.slope !== null,
    swing: reading?.sawtooth
      ? {
          fromBytes: swingsBefore ? 0 : knee,
          bytesPerSecond: reading.sawtooth.meanBytesPerSecond,
          lowBytesPerSecond: reading.sawtooth.lowBytesPerSecond,
        }
      : null,
  };
}

/** The transfer with the flush that ended it, as a stop at its end. */
function withFlushAfter({ progress, transferSeconds, flushSeconds, bytes }: Pass): Progress {
  if (flushSeconds <= 0) return progress;
  return {
    seconds: [...progress.seconds, transferSeconds + flushSeconds],
    bytes: [...progress.bytes, bytes],
  };
}

function withFlush(curve: SupplyCurve, { bytes, transferSeconds, flushSeconds }: Pass): SupplyCurve {
  if (flushSeconds <= 0) return curve;
  return {
    ...curve,
    seconds: [...curve.seconds, transferSeconds + flushSeconds],
    bytes: [...curve.bytes, bytes],
  };
}

function rateSpan(counted: readonly Pass[], figures: DirectionFigures): RateSpan {
  const openings = counted.map(({ progress }) => {
    const seconds = Math.min(OPENING_SECONDS, progressDuration(progress));
    return bytesAt(progress, seconds) / seconds;
  });
  const { reading } = figures;
  const floor = reading?.floorBytesPerSecond ?? figures.medianBytesPerSecond;
  const opening = reading?.openingBytesPerSecond ?? 0;
  const worst = figures.worstSecondBytesPerSecond ?? figures.lowestPassBytesPerSecond;
  return {
    worstSecondBytesPerSecond: Math.min(worst, figures.lowestPassBytesPerSecond),
    floorBytesPerSecond: floor,
    openingBytesPerSecond: Math.max(
      floor,
      opening,
      ...(opening > 0 ? [] : [figures.medianBytesPerSecond, ...openings]),
    ),
  };
}
