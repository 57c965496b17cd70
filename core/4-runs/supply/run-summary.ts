import { startCelsiusOf, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { writtenByDrive } from '#core/4-runs/run/written.ts';
import type { Doubt } from '#core/4-runs/supply/doubts/doubt.ts';
import { doubtsOf } from '#core/4-runs/supply/doubts/registry.ts';
import { figuresOf, type RunFigures } from '#core/4-runs/trace/figures.ts';

/** Raised whenever figures or doubts are computed differently, so that kept ones are made anew. */
export const ANALYSIS_VERSION = 8;

/** What a list of runs shows of one. */
export interface RunSummary {
  figures: RunFigures;
  doubts: Doubt[];
  /** Temperature of the drive when it began; null when it was not told. */
  startCelsius: number | null;
  /** Bytes that it wrote, by drive. */
  written: Record<string, number>;
}

export function summaryOf(run: RunDocument): RunSummary {
  const figures = figuresOf(run);
  const startCelsius = startCelsiusOf(run.conditions);
  return { figures, doubts: doubtsOf(run, figures), startCelsius, written: writtenByDrive(run) };
}
