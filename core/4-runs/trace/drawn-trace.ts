import { LOG_SPAN, linearSpan, logSpan, type AxisSpan } from '#core/1-ground/axis-span.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { greatest, least } from '#core/1-ground/numbers/statistics.ts';
import type { TraceAxis } from '#core/4-runs/trace/decimate.ts';
import type { Pass } from '#core/4-runs/trace/passes.ts';

/** How a trace is laid out wherever it is drawn: on the screen, and on the pages of a report. */

const MEGABYTE = 1e6;

/** More transfers than this cannot be told apart in the picture, and would cost it its frames. */
const MOST_STRETCHES = 160;

/** Of very many transfers, those of a direction as one: their moments still lie where they were. */
export function gathered(passes: readonly Pass[]): readonly Pass[] {
  if (passes.length <= MOST_STRETCHES) return passes;
  return (['write', 'read'] as const).flatMap((direction) => {
    const own = passes.filter((pass) => pass.direction === direction);
    const [first, last] = [own[0], own.at(-1)];
    if (!first || !last) return [];
    const transferSeconds = last.startSeconds + last.transferSeconds - first.startSeconds;
    return [{ ...first, transferSeconds, intervals: own.flatMap((pass) => pass.intervals) }];
  });
}

/** Where each direction's trace begins: on the axis of bytes each counts its own. */
export function originsOf(passes: readonly Pass[], axis: TraceAxis): Record<Direction, number> {
  const first = (direction: Direction) => passes.find((pass) => pass.direction === direction)?.intervals[0];
  if (axis === 'bytes') return { write: first('write')?.fromBytes ?? 0, read: first('read')?.fromBytes ?? 0 };
  const start = least(passes.map((pass) => pass.startSeconds));
  return { write: start, read: start };
}

export function endOf(pass: Pass, axis: TraceAxis): number {
  const last = pass.intervals.at(-1);
  return (axis === 'bytes' ? last?.toBytes : last?.toSeconds) ?? 0;
}

/** Rates in MB/s from the lowest to the highest that is drawn, with what is near them. */
export function traceSpan(
  passes: readonly Pass[],
  needs: readonly { bytesPerSecond: number }[],
  ceiling: { bytesPerSecond: number } | null,
): AxisSpan {
  let low = Infinity;
  let high = 0;
  for (const { intervals } of passes)
    for (const { bytesPerSecond: rate } of intervals) {
      if (rate <= 0) continue;
      low = Math.min(low, rate);
      high = Math.max(high, rate);
    }
  if (high === 0) [low, high] = [1e6, 1e9];
  // Needs and the ceiling belong in the picture while they do not squeeze the trace.
  const near = [...needs.map((need) => need.bytesPerSecond), ...(ceiling ? [ceiling.bytesPerSecond] : [])].filter(
    (rate) => rate < 1.6 * high,
  );
  const top = greatest(near, high) / MEGABYTE;
  if (high / low <= LOG_SPAN) return linearSpan(0, top, 7);
  const bottom = Math.max(low / 4, least(near, low)) / MEGABYTE;
  return logSpan(bottom, top, 9);
}
