import type { ReactNode } from 'react';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunFigures } from '#core/4-runs/trace/figures.ts';
import type { RunAnalysis } from '../use-analysis.ts';

/** How a run of one measure is shown: its picture, the figures under it, and a word for it in a list. */
export interface MeasureView {
  /** Null while there is nothing to draw yet. */
  picture(run: RunDocument, analysis: RunAnalysis): ReactNode;
  table(figures: RunFigures): ReactNode;
  /** Null where the rates of both directions say it. */
  word(figures: RunFigures): string | null;
  /** What else stands in the column beside it. */
  aside?(run: RunDocument): ReactNode;
  /** Whether the picture has an axis of data moved that can be changed to time. */
  hasTraceAxis: boolean;
}
