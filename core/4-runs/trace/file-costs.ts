import { FILE_ACTIONS, type FileAction, type FileColumns, type Marker } from '#core/4-runs/run/run-document.ts';
import { median, quantile } from '#core/1-ground/numbers/statistics.ts';

/** What one action on many files took. */
export interface FileFigures {
  action: FileAction;
  files: number;
  bytes: number;
  /** From the first to the last, with the flush that ends creating. */
  seconds: number;
  filesPerSecond: number;
  /** 0 for actions that move none. */
  bytesPerSecond: number;
  /**
   * What a file costs beside its bytes, seconds: the constant part of a line through the times by
   * size. Where all files are of one size the parts cannot be told apart and it is the whole time.
   */
  costSeconds: number;
  /** Whether the constant part could be told from the bytes. */
  costApart: boolean;
  p50Seconds: number;
  p99Seconds: number;
}

/** Figures of each action that was carried out, in the order of a run. */
export function fileFiguresOf(files: FileColumns, markers: readonly Marker[]): FileFigures[] {
  return FILE_ACTIONS.flatMap((action) => {
    const rows = files.action.flatMap((one, row) => (one === action ? [row] : []));
    return rows.length === 0 ? [] : [actionFigures(action, files, rows, markers)];
  });
}

function actionFigures(
  action: FileAction,
  files: FileColumns,
  rows: readonly number[],
  markers: readonly Marker[],
): FileFigures {
  const sum = (column: readonly number[]) => rows.reduce((total, row) => total + column[row]!, 0);
  const begin = Math.min(
    ...quantiles(
      rows.map((row) => files.atSeconds[row]! - files.seconds[row]!),
      [0],
    ),
  );
  const end = Math.max(
    ...quantiles(
      rows.map((row) => files.atSeconds[row]!),
      [1],
    ),
  );
  const flush =
    action === 'create' ? markers.filter((one) => one.kind === 'flush' && one.atSeconds >= begin)[0] : undefined;
  const seconds = Math.max(1e-9, end - begin + (flush?.seconds ?? 0));
  const [count, bytes] = [sum(files.files), sum(files.bytes)];
  const perFile = rows.map((row) => files.seconds[row]! / files.files[row]!);
  const [p50, p99] = quantiles(perFile, [0.5, 0.99]) as [number, number];
  const cost = costOf(
    rows.map((row) => files.bytes[row]!),
    perFile,
  );
  return {
    action,
    files: count,
    bytes,
    seconds,
    filesPerSecond: count / seconds,
    bytesPerSecond: bytes / seconds,
    costSeconds: cost.seconds,
    costApart: cost.apart,
    p50Seconds: p50,
    p99Seconds: p99,
  };
}

function quantiles(values: readonly number[], shares: readonly number[]): number[] {
  const sorted = [...values].sort((a, b) => a - b);
  return shares.map((share) => quantile(sorted, share)!);
}

/** Sizes within a factor of two are one group; its median time is not moved by single outliers. */
function costOf(bytes: readonly number[], seconds: readonly number[]): { seconds: number; apart: boolean } {
  const groups = new Map<number, { bytes: number[]; seconds: number[] }>();
  bytes.forEach((size, index) => {
    const key = Math.floor(Math.log2(Math.max(1, size)));
    const group = groups.get(key) ?? { bytes: [], seconds: [] };
    group.bytes.push(size);
    group.seconds.push(seconds[index]!);
    groups.set(key, group);
  });
  const points = [...groups.values()].map((group) => ({
    x: median(group.bytes),
    y: median(group.seconds),
    weight: group.bytes.length,
  }));
  if (points.length < 2) return { seconds: median(seconds), apart: false };
  // Least squares with neither part below zero.
  const total = points.reduce((sum, { weight }) => sum + weight, 0);
  const mean = (of: (point: { x: number; y: number }) => number) =>
    points.reduce((sum, point) => sum + point.weight * of(point), 0) / total;
  const [mx, my] = [mean(({ x }) => x), mean(({ y }) => y)];
  const spread = mean(({ x }) => (x - mx) ** 2);
  const slope = spread > 0 ? Math.max(0, mean(({ x, y }) => (x - mx) * (y - my)) / spread) : 0;
  return { seconds: Math.max(0, my - slope * mx), apart: true };
}
