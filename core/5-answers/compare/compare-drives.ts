import { differenceOf, type Difference } from '#core/5-answers/compare/difference.ts';
import type { Connection } from '#core/2-trade/links/connection.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { soundOf } from '#core/4-runs/supply/evidence.ts';
import type { Profile, ProfileRun } from '#core/4-runs/supply/profile.ts';
import { progressDuration } from '#core/1-ground/curves/progress.ts';
import { meanOfKnown } from '#core/1-ground/numbers/statistics.ts';
import { curveBytes, longestCurve, type SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';

/** What one drive shows in one direction, for holding it against others. Rates in bytes per second. */
export interface ComparedSide {
  /** Rates of the passes of the run that made most of them; empty where none made several. */
  passes: number[];
  /** Its longest transfer. */
  longest: SupplyCurve;
  /** Slowest and fastest of its passes, or of the stretches of its longest transfer. */
  lowestBytesPerSecond: number;
  highestBytesPerSecond: number;
  openingBytesPerSecond: number;
  floorBytesPerSecond: number;
  worstSecondBytesPerSecond: number;
}

/** Stretches that a single transfer is cut into: few enough that neighbours say little of each other. */
const STRETCHES = 10;
/** Fewer passes than this are no spread. */
const LEAST_PASSES = 3;

/** Rates of equal stretches of the first bytes of a transfer, bytes per second. */
function stretchRates(curve: SupplyCurve, bytes: number): number[] {
  const points = curve;
  // The flush at the end of a transfer belongs to none of its stretches.
  const whenMoved = (value: number): number => {
    const after = points.bytes.findIndex((moved) => moved >= value);
    if (after < 0) return progressDuration(points);
    if (after === 0) return points.seconds[0]!;
    const [from, to] = [points.bytes[after - 1]!, points.bytes[after]!];
    const [begin, end] = [points.seconds[after - 1]!, points.seconds[after]!];
    return begin + ((value - from) / (to - from)) * (end - begin);
  };
  const length = bytes / STRETCHES;
  if (!(length > 0)) return [];
  return Array.from(
    { length: STRETCHES },
    (_, part) => length / Math.max(1e-9, whenMoved((part + 1) * length) - whenMoved(part * length)),
  );
}

/** What a drive shows in a direction; null when it was not measured that way. */
export function sideOf(profile: Pick<Profile, 'runs'>, direction: Direction): ComparedSide | null {
  const traces = soundOf(profile.runs.flatMap((run) => run.traces).filter((trace) => trace.direction === direction));
  if (traces.length === 0) return null;
  const most = traces.reduce((many, one) => (one.curves.length > many.curves.length ? one : many));
  const passes =
    most.curves.length < LEAST_PASSES
      ? []
      : most.curves.map((curve) => curveBytes(curve) / Math.max(1e-9, curve.seconds.at(-1)!));
  const longest = longestCurve(traces.flatMap(({ curves }) => curves));
  const shown = passes.length > 0 ? passes : stretchRates(longest, curveBytes(longest));
  return {
    passes,
    longest,
    lowestBytesPerSecond: Math.min(...shown),
    highestBytesPerSecond: Math.max(...shown),
    openingBytesPerSecond: Math.max(...traces.map((one) => one.span.openingBytesPerSecond)),
    // A floor that one run saw is not undone by short runs that ended before it.
    floorBytesPerSecond: Math.min(...traces.map((one) => one.span.floorBytesPerSecond)),
    worstSecondBytesPerSecond: Math.min(...traces.map((one) => one.span.worstSecondBytesPerSecond)),
  };
}

/** Conditions further apart than this make a comparison unequal. */
const UNEQUAL = { fillShare: 0.2, celsius: 8 };

interface ComparedDrive {
  runs: readonly Pick<ProfileRun, 'fillShare' | 'startCelsius' | 'doubts' | 'traces' | 'isPromise'>[];
  connection: Connection;
}

/** What was not alike when two drives were measured, each in a few words; empty where it was. */
export function unequalConditions(first: ComparedDrive, second: ComparedDrive): string[] {
  const found: string[] = [];
  const isTyped = ({ runs }: ComparedDrive) => runs.some(({ isPromise }) => isPromise === true);
  if (isTyped(first) !== isTyped(second)) return ['what stands on a box against what was measured'];
  const fills = [first, second].map(({ runs }) => meanOfKnown(runs.map(({ fillShare }) => fillShare)) ?? 0) as [
    number,
    number,
  ];
  if (Math.abs(fills[0] - fills[1]) > UNEQUAL.fillShare) {
    found.push(`${Math.round(100 * fills[0])} % full against ${Math.round(100 * fills[1])} %`);
  }
  const [warm, other] = [first, second].map(({ runs }) => meanOfKnown(runs.map(({ startCelsius }) => startCelsius)));
  if (warm !== null && other !== null && Math.abs(warm! - other!) > UNEQUAL.celsius) {
    found.push(`began at ${Math.round(warm!)} °C against ${Math.round(other!)} °C`);
  }
  const last = ({ connection }: ComparedDrive) => connection.hops.at(-1)?.linkId ?? '';
  if (last(first) !== last(second)) found.push('on another kind of connection');
  const largest = ({ runs }: ComparedDrive) =>
    Math.max(0, ...runs.flatMap(({ traces }) => traces.map(({ provenBytes }) => provenBytes)));
  const [most, least] = [largest(first), largest(second)].sort((a, b) => b - a) as [number, number];
  if (!isTyped(first) && least > 0 && most > 4 * least) found.push('far more was moved on one of them');
  const doubted = ({ runs }: ComparedDrive) =>
    runs.some(({ doubts }) => doubts.some(({ effect }) => effect !== 'finding'));
  if (doubted(first) !== doubted(second)) found.push('a run of one of them is in doubt');
  return found;
}

/** How two drives differ in what both have moved, and whether they differ beyond it. */
export interface SideDifference extends Difference {
  /** Bytes from the start over which they were held against each other; null for pass by pass. */
  overBytes: number | null;
  /** Their floors lie apart, whatever these bytes show. */
  floorsDiffer: boolean;
}

/** Floors further apart than this are no matter of chance. */
const FLOORS_APART = 1.25;

/**
 * One drive held against another in one direction: pass by pass where both made several, else over the
 * first bytes that both have moved, so that like is held against like. Null where either was not
 * measured.
 */
export function compareSides(first: ComparedSide | null, second: ComparedSide | null): SideDifference | null {
  if (!first || !second) return null;
  const bothPass = first.passes.length > 0 && second.passes.length > 0;
  const overBytes = bothPass ? null : Math.min(curveBytes(first.longest), curveBytes(second.longest));
  const difference =
    overBytes === null
      ? differenceOf(first.passes, second.passes)
      : differenceOf(stretchRates(first.longest, overBytes), stretchRates(second.longest, overBytes));
  const [low, high] = [first.floorBytesPerSecond, second.floorBytesPerSecond].sort((a, b) => a - b) as [number, number];
  return difference && { ...difference, overBytes, floorsDiffer: high > FLOORS_APART * low };
}
