import type { TraceColumn } from '#core/trace/decimate.ts';
import type { Pass } from '#core/trace/passes.ts';

/** Pixels of the trace picture that all its parts share. */
export const LEFT = 62;
export const TOP = 34;
export const LABELS = 166;
export const STRIP = 96;
export const AXIS_HEIGHT = 42;
export const RIBBON_HEIGHT = 40;
/** Columns drawn at most; more cost frames and show nothing more. */
export const MOST_COLUMNS = 600;
/** A trace that spans more than this is drawn on a logarithmic axis. */
export const LOG_SPAN = 8;

export type Stretches = readonly { pass: Pass; columns: TraceColumn[] }[];
export type ToX = (pass: Pass, at: number) => number;
