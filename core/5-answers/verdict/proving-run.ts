import { takeBytesOf, type Demand } from '#core/3-jobs/demand/demand.ts';
import type { Evidence } from '#core/4-runs/supply/evidence.ts';
import type { ProvingRun, VerdictReason } from '#core/5-answers/verdict/verdict.ts';

/** Rests that a Long fill can make, seconds; the longest that is no longer than the gap between takes is reported. */
const RESTS = [1800, 900, 300, 60];

/** The run that would settle a demand that is not proven: recipe, bytes and about how long. */
export function provingRun(demand: Demand, evidence: Evidence | null, reason: VerdictReason): ProvingRun {
  const takeBytes = takeBytesOf(demand);
  if (reason === 'several-streams' || reason === 'mixed') {
    const { takeSeconds } = demand;
    return { recipe: 'paced-frames', readsBack: false, bytes: takeBytes, seconds: takeSeconds, restSeconds: null };
  }
  const rest =
    reason === 'later-takes' && evidence?.kneeBytes !== null
      ? (RESTS.find((seconds) => seconds <= demand.gapSeconds) ?? null)
      : null;
  const bytes = reason === 'later-takes' && rest === null ? takeBytes * demand.takes : takeBytes;
  const rereads =
    evidence === null
      ? demand.direction === 'read'
      : evidence.doubts.some(({ code }) => code === 'read-from-write-cache' || code === 'server-memory');
  const rate = evidence && (evidence.span.floorBytesPerSecond || evidence.medianBytesPerSecond);
  return {
    recipe: demand.direction === 'read' && rereads ? 'existing-material' : 'long-fill',
    readsBack: demand.direction === 'read' && !rereads,
    bytes,
    seconds: rate ? bytes / rate + (rest ?? 0) : null,
    restSeconds: rest,
  };
}
