import { least } from '#core/1-ground/numbers/statistics.ts';
import { boolean, number, object, string, type InferType } from 'yup';
import { pacedFramesOptionsSchema } from '#core/3-jobs/recipes/paced-frames.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { framesPerSecond } from '#core/1-ground/units/frame-rate.ts';

const wayPlayed = () =>
  object({
    /** Of all streams of this direction together; 0 where there were none. */
    bytesPerSecond: number().min(0).required(),
    streams: number().min(0).required(),
    /** Seconds from the first deadline to the first frame that was dropped; null when none was. */
    droppedAtSeconds: number().nullable().defined(),
  }).required();

/** What a run of Paced frames did: nothing of it is extrapolated. */
export const pacedProofSchema = object({
  runId: string().required().max(80),
  seconds: number().min(0).required(),
  bufferSeconds: number().min(0).required(),
  write: wayPlayed(),
  read: wayPlayed(),
  mayProveHolds: boolean().required(),
  mayProveBreaks: boolean().required(),
});
export type PacedProof = InferType<typeof pacedProofSchema>;

/** A spinning drive that slept is up within this. */
const WAKING_SECONDS = 15;

function lastDropSeconds({ frames }: RunDocument, beginSeconds: number): number {
  const row = frames.latenessSeconds.lastIndexOf(null);
  return row < 0 ? 0 : frames.dueSeconds[row]! - beginSeconds;
}

/** What a run of Paced frames proved by doing; null for other runs, and for one that is void. */
export function pacedProofOf(run: RunDocument, { figures, doubts }: RunSummary): PacedProof | null {
  const { frames } = figures;
  if (frames === null || doubts.some((doubt) => doubt.effect === 'void')) return null;
  const { streams, bufferSeconds } = pacedFramesOptionsSchema.cast(run.options);
  // Frames that only a sleeping drive lost are set apart, as its waking is in every other run.
  const asleep = run.drive.medium === 'spinning' && lastDropSeconds(run, frames.beginSeconds) < WAKING_SECONDS;
  const part = (direction: Direction) => {
    const own = streams.filter(({ action }) => (action === 'record') === (direction === 'write'));
    const drops = asleep
      ? []
      : frames.streams
          .filter((one) => one.direction === direction)
          .map((one) => one.firstDroppedSeconds)
          .filter((seconds) => seconds !== null);
    return {
      bytesPerSecond: own.reduce(
        (sum, { frameBytes, frameRate, count }) => sum + frameBytes * framesPerSecond(frameRate) * count,
        0,
      ),
      streams: own.reduce((sum, { count }) => sum + count, 0),
      droppedAtSeconds: drops.length === 0 ? null : least(drops),
    };
  };
  const [write, read] = DIRECTIONS.map(part);
  const has = (effect: string) => doubts.some((doubt) => doubt.effect === effect);
  return {
    runId: run.id,
    seconds: frames.seconds,
    bufferSeconds,
    write: write!,
    read: read!,
    mayProveHolds: !has('too-high'),
    mayProveBreaks: !has('too-low'),
  };
}
