import { replayOptionsSchema, replaySteps } from '#core/3-jobs/recipes/replay.ts';
import { percentileSeconds, sumHistogram } from '#core/4-runs/run/histogram.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { passesOf } from '#core/4-runs/trace/passes.ts';
import { greatest, median } from '#core/1-ground/numbers/statistics.ts';

/** What one phase of a load took when it was replayed. Seconds. */
export interface ReplayedPhase {
  name: string;
  /** Pauses in which the program would compute. */
  processorSeconds: number;
  /** Reading; of what streams, a chunk in the middle. */
  dataSeconds: number;
  /** The slowest chunk of what streams; null for what is waited for once. */
  worstChunkSeconds: number | null;
  /** Chunks of what streams, and those that came too late. */
  chunks: number;
  lateChunks: number;
  limitSeconds: number | null;
  bytes: number;
  bytesPerSecond: number;
  latencyP50Seconds: number | null;
  latencyP99Seconds: number | null;
}

/** The phases that were replayed to their end, in order. */
export function replayedOf(run: Pick<RunDocument, 'options' | 'samples' | 'markers' | 'latency'>): ReplayedPhase[] {
  const { phases } = replayOptionsSchema.cast(run.options);
  const steps = replaySteps({ phases });
  const passes = new Map(
    passesOf(run)
      .filter(({ direction, phase }) => direction === 'read' && phase === 'reading')
      .map((pass) => [pass.pass, pass]),
  );
  const rests = restsByPhase(run);
  return phases.flatMap((phase, index) => {
    const own = steps.filter((step) => step.phase === index).flatMap(({ pass }) => passes.get(pass) ?? []);
    if (own.length === 0 && phase.bytes > 0) return [];
    const seconds = own.map(({ transferSeconds }) => transferSeconds);
    const bytes = own.reduce((sum, pass) => sum + pass.bytes, 0);
    const whole = seconds.reduce((sum, one) => sum + one, 0);
    const numbers = new Set(own.map(({ pass }) => pass));
    const histogram = sumHistogram(run.latency, (way, pass) => way === 'read' && numbers.has(pass));
    const deadline = phase.limitSeconds ?? phase.stream?.everySeconds ?? null;
    return [
      {
        name: phase.name,
        processorSeconds: phase.stream ? phase.processorSeconds : (rests[index] ?? 0),
        dataSeconds: seconds.length === 0 ? 0 : phase.stream ? median(seconds) : whole,
        worstChunkSeconds: phase.stream && seconds.length > 0 ? greatest(seconds) : null,
        chunks: phase.stream ? own.length : 0,
        lateChunks: phase.stream && deadline !== null ? seconds.filter((one) => one > deadline).length : 0,
        limitSeconds: phase.limitSeconds,
        bytes,
        bytesPerSecond: whole > 0 ? bytes / whole : 0,
        latencyP50Seconds: percentileSeconds(histogram, 0.5),
        latencyP99Seconds: percentileSeconds(histogram, 0.99),
      },
    ];
  });
}

/** Seconds of rest that a run made for each phase, told by the marker's note. */
function restsByPhase({ markers }: Pick<RunDocument, 'markers'>): Record<number, number> {
  const rests: Record<number, number> = {};
  for (const { kind, note, seconds } of markers) {
    const phase = /^phase (\d+)$/.exec(note)?.[1];
    if (kind === 'rest' && phase !== undefined) rests[Number(phase) - 1] = (rests[Number(phase) - 1] ?? 0) + seconds;
  }
  return rests;
}
