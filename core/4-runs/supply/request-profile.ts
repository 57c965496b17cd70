import { number, object, string, type InferType } from 'yup';
import { ACCESS_ORDERS } from '#core/3-jobs/recipes/block-ladder.ts';
import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';

/** One rung of a ladder, for what reads in requests of a size: rate and the spread of single requests. */
export const requestRungSchema = object({
  runId: string().required().max(80),
  direction: string().oneOf(DIRECTIONS).required(),
  order: string().oneOf(ACCESS_ORDERS).required(),
  blockBytes: number().positive().required(),
  depth: number().integer().min(1).required(),
  bytesPerSecond: number().min(0).required(),
  latencyP50Seconds: number().min(0).nullable().defined(),
  latencyP99Seconds: number().min(0).nullable().defined(),
  latencyMaxSeconds: number().min(0).required(),
});
export type RequestRung = InferType<typeof requestRungSchema>;

/** The rungs of a run; none where a doubt says that its reads did not come from the drive. */
export function requestRungsOf(
  runId: string,
  { figures, doubts }: Pick<RunSummary, 'figures' | 'doubts'>,
): RequestRung[] {
  if (doubts.some(({ effect }) => effect === 'void' || effect === 'too-high')) return [];
  return (figures.ladder ?? []).map((rung) => ({
    runId,
    direction: rung.direction,
    order: rung.order,
    blockBytes: rung.blockBytes,
    depth: rung.depth,
    bytesPerSecond: rung.bytesPerSecond,
    latencyP50Seconds: rung.latencyP50Seconds,
    latencyP99Seconds: rung.latencyP99Seconds,
    latencyMaxSeconds: rung.latencyMaxSeconds,
  }));
}

/** What a file costs beside its bytes, seconds: opening it for reading, or making it; null when the run did not scatter files. */
export function fileSecondsOf({ figures }: Pick<RunSummary, 'figures'>, does: 'read' | 'create'): number | null {
  return figures.files?.find(({ action }) => action === does)?.costSeconds ?? null;
}
