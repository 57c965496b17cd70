import { MEGABYTE } from './units.ts';

/** A stretch in which a rate held: bytes or seconds along the axis, and bytes per second. */
export interface Step {
  from: number;
  to: number;
  rate: number;
}

/**
 * Points of a line in steps (Recharts' `stepAfter`) in MB/s: each where it begins, and the last also where it ends.
 * @param unit bytes or seconds in one unit of the axis
 */
export function stepPoints(steps: readonly Step[], unit: number): { x: number; rate: number }[] {
  const end = steps.slice(-1).map(({ to, rate }) => ({ from: to, rate }));
  return [...steps, ...end].map(({ from, rate }) => ({ x: from / unit, rate: rate / MEGABYTE }));
}
