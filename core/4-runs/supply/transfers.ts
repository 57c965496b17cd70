import { greatest, least } from '#core/1-ground/numbers/statistics.ts';
import type { Evidence } from '#core/4-runs/supply/evidence.ts';
import { levelsAndLossOf, type LevelsAndLoss } from '#core/4-runs/trace/levels-and-loss.ts';
import type { Levels } from '#core/4-runs/trace/levels.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';
import { curveBytes, type SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';

/** What each transfer of a run is judged by: its levels and the time lost beside them, and how it may go on. */
export interface Transfer {
  parted: LevelsAndLoss;
  /** The trace itself, thinned to within a few hundredths of a second. */
  path: Progress;
  /** Its levels with what it may be continued to behind them. */
  levels: Levels;
}

const transfers = new WeakMap<Evidence, Transfer[]>();

/** The transfers of a run; parted from their curves where an older document does not say how. */
export function transfersOf(evidence: Evidence): Transfer[] {
  const known = transfers.get(evidence);
  if (known) return known;
  const parted = evidence.parted ?? evidence.curves.map((curve) => partedCurve(curve, evidence));
  const found = parted.map((one, index) => ({
    parted: one,
    path: evidence.curves[index]!,
    levels: goingOn(one, evidence.curves[index]!, evidence.continuedBytes === null),
  }));
  transfers.set(evidence, found);
  return found;
}

/** The parted traces of a run. */
export const partedOf = (evidence: Evidence): LevelsAndLoss[] => transfersOf(evidence).map(({ parted }) => parted);

/** What evidence says of its levels, where its trace has to be parted anew. */
export const knownLevelsOf = ({ levelEnds, medium, swingsFrom, span }: Evidence) => ({
  levelEnds,
  slopes: medium === 'spinning' && levelEnds.length > 1,
  swing: swingsFrom && {
    fromBytes: swingsFrom.bytes,
    bytesPerSecond: span.floorBytesPerSecond,
    lowBytesPerSecond: span.worstSecondBytesPerSecond,
  },
});

function partedCurve(curve: SupplyCurve, evidence: Evidence): LevelsAndLoss {
  const isLongest = curveBytes(curve) === greatest(evidence.curves.map(curveBytes));
  return levelsAndLossOf(curve, isLongest ? knownLevelsOf(evidence) : ONE_LEVEL);
}

const ONE_LEVEL = { levelEnds: [], slopes: false, swing: null };

/** Levels behind the last byte: for ever, or the stretch that may be repeated, as much slower each time. */
function goingOn({ levels }: LevelsAndLoss, { continuation, bytes, seconds }: SupplyCurve, forEver: boolean): Levels {
  const toBytes = [...levels.toBytes];
  const bytesPerSecond = [...levels.bytesPerSecond];
  // Thinning and rounding may leave the last level a byte short of the trace.
  toBytes[toBytes.length - 1] = Math.max(toBytes.at(-1)!, bytes.at(-1) ?? 0);
  if (forEver) {
    toBytes[toBytes.length - 1] = Infinity;
    return { toBytes, bytesPerSecond };
  }
  if (continuation === null) return { toBytes, bytesPerSecond };
  const { fromCorner, toCorner, slower } = continuation;
  const [from, to] = [bytes[fromCorner]!, bytes[toCorner]!];
  const mean = (to - from) / Math.max(1e-9, seconds[toCorner]! - seconds[fromCorner]!);
  // A floor goes on at its own rate, and loses by the clock what it lost; tracks go on at their mean, ever slower.
  const middle = levels.toBytes.findIndex((end) => end > from + (to - from) / 2);
  const rate = fromCorner === 0 ? mean : least(levels.bytesPerSecond.slice(Math.max(0, middle)));
  for (const factor of slower) {
    toBytes.push(toBytes.at(-1)! + to - from);
    bytesPerSecond.push(rate / factor);
  }
  return { toBytes, bytesPerSecond };
}
