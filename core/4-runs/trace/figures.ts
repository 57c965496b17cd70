import type { Measures } from '#core/3-jobs/recipes/recipe-kind.ts';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { percentileSeconds, sumHistogram } from '#core/4-runs/run/histogram.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { copyFiguresOf, type CopyFigures } from '#core/4-runs/trace/copied.ts';
import { fileFiguresOf, type FileFigures } from '#core/4-runs/trace/file-costs.ts';
import { framesOf, type FrameFigures } from '#core/4-runs/trace/frames.ts';
import { ladderOf, type LadderRung } from '#core/4-runs/trace/ladder.ts';
import { countedPasses, longestPass, passesOf, type Pass } from '#core/4-runs/trace/passes.ts';
import { progressDuration, worstWindow } from '#core/1-ground/curves/progress.ts';
import { readTrace, type TraceReading } from '#core/4-runs/trace/reading.ts';
import { replayedOf, type ReplayedPhase } from '#core/4-runs/trace/replayed.ts';
import { recoveryOf, type RecoveryPoint } from '#core/4-runs/trace/recovery.ts';
import {
  coefficientOfVariation,
  greatest,
  least,
  median,
  medianInterval95,
} from '#core/1-ground/numbers/statistics.ts';

/** What a run says of one direction. Rates in bytes per second; null where it cannot be said. */
export interface DirectionFigures {
  medianBytesPerSecond: number;
  /** 95 % interval of the median; null under six passes. */
  medianInterval95: [number, number] | null;
  lowestPassBytesPerSecond: number;
  highestPassBytesPerSecond: number;
  /** Lowest one-second window of any counted pass, its flush counted; null when every pass was shorter. */
  worstSecondBytesPerSecond: number | null;
  /** Standard deviation ÷ mean of the passes. */
  coefficientOfVariation: number;
  passes: number;
  /** Passes set apart, see countedPasses. */
  passesApart: number;
  /** Longest wait at the start of a pass before anything moved; it is set apart. */
  spinUpSeconds: number;
  /** Bytes and seconds of the counted passes, flushes included. */
  bytes: number;
  seconds: number;
  /** Bytes of the longest continuous transfer: what a run without a knee can prove. */
  longestPassBytes: number;
  flushSeconds: number;
  latencyP50Seconds: number | null;
  latencyP99Seconds: number | null;
  latencyP999Seconds: number | null;
  latencyMaxSeconds: number | null;
  /** Lowest ten-second window; null when every pass was shorter. */
  worstTenSecondsBytesPerSecond: number | null;
  /** What the longest pass says of levels; null when it was too short for any. */
  reading: TraceReading | null;
  /** Moment of the run at which that pass began, seconds. */
  readingFromSeconds: number;
}

/** What a run says. Each recipe answers some of these; the rest is null. */
export interface RunFigures extends Record<Direction, DirectionFigures | null> {
  ladder: LadderRung[] | null;
  frames: FrameFigures | null;
  files: FileFigures[] | null;
  phases: ReplayedPhase[] | null;
  copies: CopyFigures | null;
  recovery: RecoveryPoint[] | null;
}

export type MeasuredRun = Pick<
  RunDocument,
  'recipe' | 'options' | 'samples' | 'markers' | 'latency' | 'frames' | 'files' | 'copy'
>;

const NO_FIGURES: RunFigures = {
  write: null,
  read: null,
  ladder: null,
  frames: null,
  files: null,
  phases: null,
  copies: null,
  recovery: null,
};

/** How each measure is read from a run. */
const READERS: Record<Measures, (run: MeasuredRun) => Partial<RunFigures>> = {
  levels: levelFigures,
  // Rungs, paced frames and scattered files are no levels of the drive: they have figures of their own.
  rungs: (run) => ({ ladder: ladderOf(run) }),
  frames: (run) => ({ frames: framesOf(run) }),
  files: (run) => ({ files: fileFiguresOf(run.files, run.markers) }),
  phases: (run) => ({ phases: replayedOf(run) }),
  copies: ({ copy }) => ({ copies: copy && copyFiguresOf(copy) }),
};

/** The figures of a run, from its samples, markers and histograms. */
export function figuresOf(run: MeasuredRun): RunFigures {
  return { ...NO_FIGURES, ...READERS[recipeKindById(run.recipe).measures](run) };
}

function levelFigures(run: MeasuredRun): Partial<RunFigures> {
  const passes = passesOf(run);
  const [write, read] = DIRECTIONS.map((direction) => directionFigures(run, passes, direction));
  const { kneeBytes = null, openingBytesPerSecond = null } = write?.reading ?? {};
  const hasCache = kneeBytes !== null && openingBytesPerSecond !== null;
  const recovery = hasCache ? recoveryOf(passes, run.markers, openingBytesPerSecond) : [];
  return { write: write!, read: read!, recovery: recovery.length > 0 ? recovery : null };
}

/** A pass shorter than this shows a rate and no levels. */
const LEAST_READ_SECONDS = 6;

function directionFigures(
  run: Pick<RunDocument, 'samples' | 'latency'>,
  passes: readonly Pass[],
  direction: Direction,
): DirectionFigures | null {
  const { counted, apart } = countedPasses(passes, direction);
  if (counted.length === 0) return null;
  const rates = counted.map((pass) => pass.bytesPerSecond);
  const numbers = new Set(counted.map((pass) => pass.pass));
  // A pass counts its flush, in which nothing is counted as moved: no window of it can have been better than all of it.
  const worst = (seconds: number): number | null => {
    const lows = counted.flatMap((pass) => {
      const low = worstWindow(pass.progress, seconds);
      return low === null ? [] : [low, pass.bytesPerSecond];
    });
    return lows.length > 0 ? least(lows) : null;
  };
  const longest = longestPass(counted);
  const histogram = sumHistogram(run.latency, (one, pass) => one === direction && numbers.has(pass));
  const sum = (of: (pass: Pass) => number) => counted.reduce((total, pass) => total + of(pass), 0);
  const latencyMaxSeconds = longestRequest(run, direction, numbers);
  const percentile = (share: number) => percentileSeconds(histogram, share, latencyMaxSeconds);
  return {
    medianBytesPerSecond: median(rates),
    medianInterval95: medianInterval95(rates),
    lowestPassBytesPerSecond: least(rates),
    highestPassBytesPerSecond: greatest(rates),
    worstSecondBytesPerSecond: worst(1),
    worstTenSecondsBytesPerSecond: worst(10),
    reading: progressDuration(longest.progress) >= LEAST_READ_SECONDS ? readTrace(longest.progress) : null,
    readingFromSeconds: longest.startSeconds,
    coefficientOfVariation: coefficientOfVariation(rates),
    passes: counted.length,
    passesApart: apart.length,
    spinUpSeconds: greatest(passes.filter((pass) => pass.direction === direction).map((pass) => pass.spinUpSeconds)),
    bytes: sum((pass) => pass.bytes),
    seconds: sum((pass) => pass.transferSeconds + pass.flushSeconds),
    longestPassBytes: greatest(counted.map((pass) => pass.bytes)),
    flushSeconds: sum((pass) => pass.flushSeconds),
    latencyP50Seconds: percentile(0.5),
    latencyP99Seconds: percentile(0.99),
    latencyP999Seconds: percentile(0.999),
    latencyMaxSeconds,
  };
}

function longestRequest(
  { samples }: Pick<RunDocument, 'samples'>,
  direction: Direction,
  passes: ReadonlySet<number>,
): number | null {
  let longest: number | null = null;
  samples.latencyMaxSeconds.forEach((seconds, row) => {
    if (samples.direction[row] !== direction || !passes.has(samples.pass[row]!)) return;
    if (samples.operations[row]! > 0) longest = Math.max(longest ?? 0, seconds);
  });
  return longest;
}
