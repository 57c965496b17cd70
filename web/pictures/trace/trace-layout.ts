import type { TraceColumn } from '#core/4-runs/trace/decimate.ts';
import type { Pass } from '#core/4-runs/trace/passes.ts';

/** Pixels of the trace picture that its parts share. */
export const LABELS = 166;
export const STRIP = 96;
export const AXIS_HEIGHT = 42;
export const RIBBON_HEIGHT = 40;
/** Columns drawn at most; more cost frames and show nothing more. */
export const COLUMNS = 500;

export type Stretches = readonly { pass: Pass; columns: TraceColumn[] }[];
/** Place of bytes or seconds of a pass along the axis, in its unit. */
export type ToAxis = (pass: Pass, at: number) => number;
/** The same in pixels. */
export type ToX = (pass: Pass, at: number) => number;
