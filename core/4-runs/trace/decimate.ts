import type { PassInterval } from '#core/4-runs/trace/passes.ts';

/** One column of a drawn trace: the lowest, highest and mean rate in it. */
export interface TraceColumn {
  /** Middle of the column, in the unit of the x axis. */
  at: number;
  low: number;
  high: number;
  mean: number;
}

export type TraceAxis = 'bytes' | 'seconds';

/**
 * Min–max decimation: every dip and peak stays visible however long the trace. Intervals are
 * gathered into columns of equal width on the axis; the mean is bytes over seconds.
 * @param intervals in order, of one continuous stretch
 * @param from,to range of the whole axis
 * @param columns number of columns over that range
 */
export function decimate(
  intervals: readonly PassInterval[],
  axis: TraceAxis,
  from: number,
  to: number,
  columns: number,
): TraceColumn[] {
  const width = (to - from) / columns;
  const result: (TraceColumn & { column: number; bytes: number; seconds: number })[] = [];
  for (const interval of intervals) {
    const [begin, end] =
      axis === 'bytes' ? [interval.fromBytes, interval.toBytes] : [interval.fromSeconds, interval.toSeconds];
    const middle = (begin + end) / 2;
    const column = width > 0 ? Math.min(columns - 1, Math.max(0, Math.floor((middle - from) / width))) : 0;
    const rate = interval.bytesPerSecond;
    const bytes = interval.toBytes - interval.fromBytes;
    const seconds = interval.toSeconds - interval.fromSeconds;
    const last = result.at(-1);
    if (last?.column === column) {
      last.low = Math.min(last.low, rate);
      last.high = Math.max(last.high, rate);
      last.bytes += bytes;
      last.seconds += seconds;
      last.mean = last.bytes / last.seconds;
    } else {
      result.push({ column, at: middle, low: rate, high: rate, mean: rate, bytes, seconds });
    }
  }
  return result.map(({ at, low, high, mean }) => ({ at, low, high, mean }));
}
