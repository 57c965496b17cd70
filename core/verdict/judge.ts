import type { Demand } from '#core/demand/footage-demand.ts';
import type { Evidence } from '#core/supply/evidence.ts';
import { cutAtBytes, type Progress } from '#core/trace/progress.ts';
import { firstBreak, guaranteedRate, leastBuffer, type Break } from '#core/verdict/backlog.ts';

export const VERDICTS = ['holds', 'tight', 'breaks', 'not-proven'] as const;
export type VerdictWord = (typeof VERDICTS)[number];

export interface Policy {
  /** Share of the rate that must be left over for *Holds*, 0.25 by default. */
  headroomShare: number;
}
export const DEFAULT_POLICY: Policy = { headroomShare: 0.25 };

/** Why a verdict is what it is; the sentence is made from it. */
export type VerdictReason = 'carried' | 'too-slow' | 'full' | 'too-short' | 'later-takes' | 'doubtful' | 'no-run';

/** Whether one demand holds on one drive, and what is known about it. Null where it does not apply. */
export interface Verdict {
  verdict: VerdictWord;
  reason: VerdictReason;
  breaksAtSeconds: number | null;
  breaksAtBytes: number | null;
  /** For *Not proven* the lower bound over the proven bytes. */
  guaranteedBytesPerSecond: number | null;
  leastBufferBytes: number | null;
  provenBytes: number | null;
  /** How long the demand is proven to be carried. */
  provenSeconds: number | null;
  /** Whether the run was continued beyond its last byte. */
  continued: boolean;
  runId: string | null;
  wouldProve: ProvingRun | null;
}

/** The run that would settle what is not proven. */
export interface ProvingRun {
  /** A fill of that size, or reading as much that was not just written. */
  recipe: 'long-fill' | 'existing-material';
  /** A fill that reads everything back, for what is to be played. */
  readsBack: boolean;
  bytes: number;
  /** About how long it takes at the rates seen; null when none were. */
  seconds: number | null;
}

/**
 * The verdict on a demand from everything that is known of a drive: a verdict for each run, of
 * which the worst proven one counts. A run that proves nothing never overrides one that does.
 * @param roomBytes free bytes less the reserve; null when not known
 */
export function judge(
  demand: Demand,
  evidence: readonly Evidence[],
  policy: Policy,
  roomBytes: number | null,
): Verdict {
  const takeBytes = demand.bytesPerSecond * demand.takeSeconds;
  const relevant = evidence.filter((one) => one.direction === demand.direction);
  const verdicts = relevant.map((one) => judgeRun(demand, one, policy));
  const worst = worstProven(verdicts) ?? longestUnproven(verdicts) ?? noRun(takeBytes, demand);
  if (demand.direction === 'write' && roomBytes !== null && takeBytes > roomBytes) {
    const seconds = roomBytes / demand.bytesPerSecond;
    if (worst.breaksAtSeconds === null || seconds < worst.breaksAtSeconds) {
      return {
        ...worst,
        verdict: 'breaks',
        reason: 'full',
        breaksAtSeconds: seconds,
        breaksAtBytes: roomBytes,
        wouldProve: null,
      };
    }
  }
  return worst;
}

function worstProven(verdicts: readonly Verdict[]): Verdict | undefined {
  const of = (word: VerdictWord) => verdicts.filter((one) => one.verdict === word);
  const soonest = of('breaks').sort((a, b) => a.breaksAtSeconds! - b.breaksAtSeconds!)[0];
  const least = [...of('tight'), ...of('holds')].sort(
    (a, b) => a.guaranteedBytesPerSecond! - b.guaranteedBytesPerSecond!,
  )[0];
  return soonest ?? least;
}

function longestUnproven(verdicts: readonly Verdict[]): Verdict | undefined {
  return [...verdicts].sort((a, b) => (b.provenBytes ?? 0) - (a.provenBytes ?? 0))[0];
}

function noRun(takeBytes: number, demand: Demand): Verdict {
  return {
    verdict: 'not-proven',
    reason: 'no-run',
    breaksAtSeconds: null,
    breaksAtBytes: null,
    guaranteedBytesPerSecond: null,
    leastBufferBytes: null,
    provenBytes: 0,
    provenSeconds: 0,
    continued: false,
    runId: null,
    wouldProve: {
      recipe: demand.direction === 'write' ? 'long-fill' : 'existing-material',
      readsBack: false,
      bytes: takeBytes,
      seconds: null,
    },
  };
}

/** The verdict of one run on one demand of the same direction. */
export function judgeRun(demand: Demand, evidence: Evidence, policy: Policy): Verdict {
  const { bytesPerSecond } = demand;
  const takeBytes = bytesPerSecond * demand.takeSeconds;
  const buffer = usableBuffer(demand);
  const pieces = evidence.pieces.map((piece) => partFor(demand, piece, takeBytes));
  const guaranteed = Math.min(...pieces.map((piece) => guaranteedRate(piece, buffer)));
  const broken = soonestBreak(pieces, bytesPerSecond, buffer);
  const known = {
    runId: evidence.runId,
    guaranteedBytesPerSecond: guaranteed,
    leastBufferBytes: Math.max(...pieces.map((piece) => leastBuffer(piece, bytesPerSecond))),
    continued: evidence.continuesFreely && takeBytes > evidence.provenBytes,
    breaksAtSeconds: null,
    breaksAtBytes: null,
    wouldProve: null,
  };
  if (broken !== null && evidence.mayProveBreaks) {
    return {
      ...known,
      verdict: 'breaks',
      reason: 'too-slow',
      breaksAtSeconds: broken.seconds,
      breaksAtBytes: broken.bytes,
      provenBytes: broken.bytes,
      provenSeconds: broken.seconds,
    };
  }
  const carriedBytes = broken === null ? Math.min(takeBytes, provenBytesOf(evidence)) : broken.bytes;
  const carried = {
    provenBytes: carriedBytes,
    provenSeconds: broken === null ? carriedBytes / bytesPerSecond : broken.seconds,
  };
  const reason = unprovenReason(demand, evidence, takeBytes, broken);
  if (reason !== null) {
    return {
      ...known,
      ...carried,
      verdict: 'not-proven',
      reason,
      wouldProve: provingRun(demand, evidence, takeBytes, reason),
    };
  }
  const enough = guaranteed >= bytesPerSecond * (1 + policy.headroomShare);
  return { ...known, ...carried, verdict: enough ? 'holds' : 'tight', reason: 'carried' };
}

/** Writing is indexed by bytes, so only the job's own bytes count; reading may begin anywhere. */
function partFor(demand: Demand, piece: Progress, takeBytes: number): Progress {
  return demand.direction === 'write' ? cutAtBytes(piece, takeBytes) : piece;
}

/**
 * Buffer left for the drive's dips once the demand's own peaks have taken their part: a second at
 * the peak brings (peak − average) × 1 s more than its share.
 */
function usableBuffer({ bufferBytes, bytesPerSecond, peakBytesPerSecond }: Demand): number {
  return Math.max(0, bufferBytes - (peakBytesPerSecond - bytesPerSecond));
}

function soonestBreak(pieces: readonly Progress[], bytesPerSecond: number, buffer: number): Break | null {
  return pieces
    .map((piece) => firstBreak(piece, bytesPerSecond, buffer))
    .reduce<Break | null>((soonest, one) => (one && (!soonest || one.seconds < soonest.seconds) ? one : soonest), null);
}

function provenBytesOf({ provenBytes, continuesFreely }: Evidence): number {
  return continuesFreely ? Infinity : provenBytes;
}

function unprovenReason(
  demand: Demand,
  evidence: Evidence,
  takeBytes: number,
  broken: Break | null,
): VerdictReason | null {
  if (broken !== null || !evidence.mayProveHolds) return 'doubtful';
  if (takeBytes > provenBytesOf(evidence)) return 'too-short';
  // Only a run as long as all takes together shows what the drive does after the first.
  const allBytes = demand.direction === 'write' ? takeBytes * demand.takes : takeBytes;
  return allBytes > provenBytesOf(evidence) ? 'later-takes' : null;
}

function provingRun(demand: Demand, evidence: Evidence, takeBytes: number, reason: VerdictReason): ProvingRun {
  const bytes = reason === 'later-takes' ? takeBytes * demand.takes : takeBytes;
  const rereads = evidence.doubts.some(({ code }) => code === 'read-from-write-cache' || code === 'server-memory');
  return {
    recipe: demand.direction === 'read' && rereads ? 'existing-material' : 'long-fill',
    readsBack: demand.direction === 'read' && !rereads,
    bytes,
    seconds: bytes / evidence.figures.medianBytesPerSecond,
  };
}
