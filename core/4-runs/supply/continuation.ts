import type { Marker, RunDocument } from '#core/4-runs/run/run-document.ts';
import { progressBytes, type Progress } from '#core/1-ground/curves/progress.ts';
import type { Pass } from '#core/4-runs/trace/passes.ts';
import type { TraceReading } from '#core/4-runs/trace/reading.ts';
import { pointAtBytes, type Continuation, type SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';

/** A floor that may be continued lasted at least this long, and took this much. */
const FLOOR_SECONDS = 60;
const FLOOR_BYTES = 20e9;
/** A temperature still moving by this much in the last minute may yet change the rate. */
const SETTLED_CELSIUS = 1;
const SETTLED_SECONDS = 60;
/** What was seen is repeated at most so often. */
const MOST_REPEATS = 4;
/** Under this share of the rate seen first, a line through what was measured is no longer a curve of tracks. */
const LEAST_TRACK_SHARE = 0.4;

/**
 * How far the writing of a run may be taken to go on beyond its last byte, and how. A drive on its
 * floor goes on there when a knee was found, the floor lasted, and the temperature had settled;
 * spinning media go on along their tracks. Null when only the run's own bytes are proven.
 * @param pass the run's longest pass; @param reading what was read off it
 */
export function continuationOf(
  run: Pick<RunDocument, 'drive' | 'conditions' | 'markers'>,
  pass: Pass,
  reading: TraceReading | null,
  curve: SupplyCurve,
): Continuation | null {
  if (reading === null) return null;
  if (run.drive.medium === 'spinning') return alongTracks(pass.progress, reading, curve);
  if (reading.kneeBytes === null || reading.floorFromBytes === null) return null;
  if (reading.floorSeconds < FLOOR_SECONDS || reading.floorBytes < FLOOR_BYTES) return null;
  if (!temperatureSettled(run, pass)) return null;
  const fromCorner = pointAtBytes(curve, reading.floorFromBytes);
  const toCorner = pointAtBytes(curve, reading.floorFromBytes + reading.floorBytes);
  if (toCorner <= fromCorner) return null;
  return { fromCorner, toCorner, slower: Array<number>(MOST_REPEATS).fill(1) };
}

/**
 * Tracks further in are shorter. At a constant speed of rotation and a constant density along the
 * track the rate goes with the radius and the bytes with its square, so rate² falls in a straight
 * line with the bytes. Each repetition takes the rate at its own inner end.
 */
function alongTracks(progress: Progress, { slope }: TraceReading, curve: SupplyCurve): Continuation | null {
  if (slope === null) return null;
  const { startBytesPerSecond: start, endBytesPerSecond: end } = slope;
  const bytes = progressBytes(progress);
  const fallPerByte = (start ** 2 - end ** 2) / bytes;
  const mean = bytes / (curve.seconds.at(-1) ?? 1);
  const slower: number[] = [];
  for (let repeat = 1; repeat <= MOST_REPEATS; repeat += 1) {
    const squared = start ** 2 - fallPerByte * bytes * (repeat + 1);
    if (squared < (LEAST_TRACK_SHARE * start) ** 2) break;
    slower.push(mean / Math.sqrt(squared));
  }
  const toCorner = curve.seconds.length - 1;
  return slower.length === 0 ? null : { fromCorner: 0, toCorner, slower };
}

/** Whether the temperature, where it was told, had come to rest in the last minute of a pass. */
function temperatureSettled({ conditions, markers }: Pick<RunDocument, 'conditions' | 'markers'>, pass: Pass): boolean {
  const end = pass.startSeconds + pass.transferSeconds + pass.pausedSeconds;
  const { atSeconds, temperatureCelsius } = conditions.series;
  let [lowest, highest] = [Infinity, -Infinity];
  atSeconds.forEach((second, row) => {
    const celsius = temperatureCelsius[row] ?? null;
    if (celsius === null || second > end || second < end - SETTLED_SECONDS) return;
    lowest = Math.min(lowest, celsius);
    highest = Math.max(highest, celsius);
  });
  const heldIn = markers.some(
    (one: Marker) => one.kind === 'pause' && one.atSeconds > end - SETTLED_SECONDS && one.atSeconds < end,
  );
  return !heldIn && (highest === -Infinity || highest - lowest < SETTLED_CELSIUS);
}
