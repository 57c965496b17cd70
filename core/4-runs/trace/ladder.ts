import { rungsOf, blockLadderOptionsSchema, type Rung } from '#core/3-jobs/recipes/block-ladder.ts';
import { percentileSeconds, sumHistogram } from '#core/4-runs/run/histogram.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { passesOf } from '#core/4-runs/trace/passes.ts';

/** What one rung of a ladder did. */
export interface LadderRung extends Rung {
  bytesPerSecond: number;
  operationsPerSecond: number;
  latencyP50Seconds: number | null;
  latencyP99Seconds: number | null;
  latencyMaxSeconds: number;
}

/** The rungs of a block ladder that were measured, in their order. */
export function ladderOf(run: Pick<RunDocument, 'options' | 'samples' | 'markers' | 'latency'>): LadderRung[] {
  const rungs = new Map(rungsOf(blockLadderOptionsSchema.cast(run.options)).map((rung) => [rung.rung, rung]));
  const longest = new Map<number, number>();
  run.samples.pass.forEach((pass, row) => {
    longest.set(pass, Math.max(longest.get(pass) ?? 0, run.samples.latencyMaxSeconds[row]!));
  });
  return passesOf(run).flatMap((pass) => {
    const rung = rungs.get(pass.pass);
    if (!rung || pass.phase === 'laying-out') return [];
    const histogram = sumHistogram(run.latency, (_, number) => number === pass.pass);
    const latencyMaxSeconds = longest.get(pass.pass) ?? 0;
    return [
      {
        ...rung,
        bytesPerSecond: pass.bytesPerSecond,
        operationsPerSecond: pass.bytesPerSecond / rung.blockBytes,
        latencyP50Seconds: percentileSeconds(histogram, 0.5, latencyMaxSeconds),
        latencyP99Seconds: percentileSeconds(histogram, 0.99, latencyMaxSeconds),
        latencyMaxSeconds,
      },
    ];
  });
}
