import { percentileSeconds, sumHistogram } from '#core/run/histogram.ts';
import { DIRECTIONS, type Direction, type RunDocument } from '#core/run/run-document.ts';
import { countedPasses, passesOf, type Pass } from '#core/trace/passes.ts';
import { worstWindow } from '#core/trace/progress.ts';
import { coefficientOfVariation, median, medianInterval95 } from '#core/trace/spread.ts';

/** What a run says of one direction. Rates in bytes per second; null where it cannot be said. */
export interface DirectionFigures {
  medianBytesPerSecond: number;
  /** 95 % interval of the median; null under six passes. */
  medianInterval95: [number, number] | null;
  lowestPassBytesPerSecond: number;
  highestPassBytesPerSecond: number;
  /** Lowest one-second window of any counted pass; null when every pass was shorter. */
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
}

export type RunFigures = Record<Direction, DirectionFigures | null>;

/** The figures of a run, from its samples, markers and histograms. */
export function figuresOf(run: Pick<RunDocument, 'samples' | 'markers' | 'latency'>): RunFigures {
  const passes = passesOf(run);
  const entries = DIRECTIONS.map((direction) => [direction, directionFigures(run, passes, direction)] as const);
  return Object.fromEntries(entries) as RunFigures;
}

function directionFigures(
  run: Pick<RunDocument, 'samples' | 'latency'>,
  passes: readonly Pass[],
  direction: Direction,
): DirectionFigures | null {
  const { counted, apart } = countedPasses(passes, direction);
  if (counted.length === 0) return null;
  const rates = counted.map((pass) => pass.bytesPerSecond);
  const numbers = new Set(counted.map((pass) => pass.pass));
  const worst = counted.map((pass) => worstWindow(pass.progress, 1)).filter((rate) => rate !== null);
  const histogram = sumHistogram(run.latency, (one, pass) => one === direction && numbers.has(pass));
  const sum = (of: (pass: Pass) => number) => counted.reduce((total, pass) => total + of(pass), 0);
  return {
    medianBytesPerSecond: median(rates),
    medianInterval95: medianInterval95(rates),
    lowestPassBytesPerSecond: Math.min(...rates),
    highestPassBytesPerSecond: Math.max(...rates),
    worstSecondBytesPerSecond: worst.length > 0 ? Math.min(...worst) : null,
    coefficientOfVariation: coefficientOfVariation(rates),
    passes: counted.length,
    passesApart: apart.length,
    spinUpSeconds: Math.max(...passes.filter((pass) => pass.direction === direction).map((pass) => pass.spinUpSeconds)),
    bytes: sum((pass) => pass.bytes),
    seconds: sum((pass) => pass.transferSeconds + pass.flushSeconds),
    longestPassBytes: Math.max(...counted.map((pass) => pass.bytes)),
    flushSeconds: sum((pass) => pass.flushSeconds),
    latencyP50Seconds: percentileSeconds(histogram, 0.5),
    latencyP99Seconds: percentileSeconds(histogram, 0.99),
    latencyP999Seconds: percentileSeconds(histogram, 0.999),
    latencyMaxSeconds: longestRequest(run, direction, numbers),
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
