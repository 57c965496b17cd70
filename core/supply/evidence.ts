import { DIRECTIONS, type Direction, type Medium, type RunDocument } from '#core/run/run-document.ts';
import type { Doubt } from '#core/supply/doubts.ts';
import { summaryOf, type RunSummary } from '#core/supply/run-summary.ts';
import type { DirectionFigures } from '#core/trace/figures.ts';
import { countedPasses, passesOf, type Pass } from '#core/trace/passes.ts';
import { bytesAt, progressDuration, type Progress } from '#core/trace/progress.ts';

/** What one run can testify about one direction of its drive. */
export interface Evidence {
  runId: string;
  direction: Direction;
  medium: Medium;
  /** Continuous transfers, each with its flush as a stall at its end. */
  pieces: Progress[];
  /** Bytes that the run itself proves. */
  provenBytes: number;
  /** Whether the medium goes on for ever as it began. */
  continuesFreely: boolean;
  mayProveHolds: boolean;
  mayProveBreaks: boolean;
  /** Doubts that concern this direction. */
  doubts: Doubt[];
  figures: DirectionFigures;
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

/** What a run testifies about a direction; null when it did not go that way or is void. */
export function evidenceOf(
  run: RunDocument,
  direction: Direction,
  summary: RunSummary = summaryOf(run),
): Evidence | null {
  const own = summary.figures[direction];
  if (own === null) return null;
  const doubts = summary.doubts.filter((doubt) => doubt.direction === null || doubt.direction === direction);
  if (doubts.some((doubt) => doubt.effect === 'void')) return null;
  const { counted } = countedPasses(passesOf(run), direction);
  const has = (effect: Doubt['effect']) => doubts.some((doubt) => doubt.effect === effect);
  return {
    runId: run.id,
    direction,
    medium: run.drive.medium,
    pieces: counted.map(withFlush),
    provenBytes: own.longestPassBytes,
    // Memory has no cache to run out of and no tracks: what it does for a second it does for ever.
    continuesFreely: run.drive.medium === 'memory',
    mayProveHolds: !has('too-high'),
    mayProveBreaks: !has('too-low'),
    doubts,
    figures: own,
    span: rateSpan(counted, own),
  };
}

/** What a run testifies about both directions. `summary` saves working it out again where it is at hand. */
export function evidenceOfRun(run: RunDocument, summary: RunSummary = summaryOf(run)): Evidence[] {
  return DIRECTIONS.map((direction) => evidenceOf(run, direction, summary)).filter((one) => one !== null);
}

function withFlush({ progress, bytes, transferSeconds, flushSeconds }: Pass): Progress {
  if (flushSeconds <= 0) return progress;
  return { seconds: [...progress.seconds, transferSeconds + flushSeconds], bytes: [...progress.bytes, bytes] };
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
