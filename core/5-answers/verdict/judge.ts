import { takeBytesOf, type Demand } from '#core/3-jobs/demand/demand.ts';
import { reachOf, soundOf, type Evidence } from '#core/4-runs/supply/evidence.ts';
import type { PacedProof } from '#core/4-runs/supply/paced-proof.ts';
import { seeks, type RandomRate, type Supply } from '#core/4-runs/supply/profile.ts';
import { partedOf } from '#core/4-runs/supply/transfers.ts';
import { askedOf } from '#core/5-answers/verdict/asked.ts';
import { carriedOf, carries, type Carried } from '#core/5-answers/verdict/carried.ts';
import { provingRun } from '#core/5-answers/verdict/proving-run.ts';
import { fullAt } from '#core/5-answers/verdict/room.ts';
import { laterTakes, type LaterTakes } from '#core/5-answers/verdict/takes.ts';
import {
  noRunVerdict,
  UNKNOWN,
  type Policy,
  type Verdict,
  type VerdictReason,
  type VerdictWord,
} from '#core/5-answers/verdict/verdict.ts';

/**
 * The verdict on a demand from everything that is known of a drive: a verdict for each run, of
 * which the worst proven one counts. A run that proves nothing never overrides one that does.
 * @param roomBytes free bytes less the reserve; null when not known
 * @param isQuick whether when it breaks may be left open, see core/5-answers/verdict/carried.ts
 */
export function judge(
  demand: Demand,
  supply: Supply,
  policy: Policy,
  roomBytes: number | null,
  isQuick = false,
): Verdict {
  const traces = supply.traces.filter((one) => one.direction === demand.direction);
  const of = (one: Evidence) => severalStreams(demand, judgeRun(demand, one, policy, isQuick), supply, policy);
  const soundRuns = soundOf(traces);
  const sound = soundRuns.map(of);
  // What a run that was held back says counts where sound ones leave it open.
  const isSettled = sound.some(({ verdict }) => verdict !== 'not-proven');
  const verdicts = [
    ...sound,
    ...(isSettled ? [] : traces.filter((one) => !soundRuns.includes(one)).map(of)),
    ...supply.paced.map((one) => judgePaced(demand, one, policy)).filter((one) => one !== null),
  ];
  const worst = worstProven(verdicts) ?? longestUnproven(verdicts) ?? noRun(demand);
  return withRoom(partsOf(demand), worst, roomBytes);
}

/**
 * Whether a demand holds, which is quicker to say than what else it does: where no run carries it nothing has to be
 * looked for any further.
 */
export function holds(demand: Demand, supply: Supply, policy: Policy, roomBytes: number | null): boolean {
  const times = 1 + policy.headroomShare;
  const asked = partsOf(demand).map(askedOf);
  const may = supply.traces.some(
    (one) =>
      one.direction === demand.direction &&
      one.mayProveHolds &&
      takeBytesOf(demand) <= reachOf(one) * (1 + 1e-12) &&
      carries(asked, demand.direction, one, times),
  );
  if (!may && supply.paced.length === 0) return false;
  return judge(demand, supply, policy, roomBytes).verdict === 'holds';
}

/** The job breaks where the volume is full, whatever the rate and whoever proved it, unless it broke before. */
export function withRoom(demands: readonly Demand[], verdict: Verdict, roomBytes: number | null): Verdict {
  const full = roomBytes === null ? null : fullAt(demands, roomBytes);
  if (full === null) return verdict;
  const take = verdict.breaksInTake ?? 1;
  if (verdict.verdict === 'breaks') {
    const latest = verdict.breaksAtLatestSeconds ?? verdict.breaksAtSeconds!;
    if (take < full.take || (take === full.take && latest <= full.seconds)) return verdict;
  }
  // What is not proven until then, or may break before, is reported with it.
  const mayBreakBefore = verdict.verdict === 'breaks' && take === full.take && verdict.breaksAtSeconds! < full.seconds;
  const unknownFromTake =
    verdict.verdict === 'not-proven' ? (verdict.unknownFromTake ?? 1) : mayBreakBefore ? take : null;
  return {
    ...verdict,
    unknownFromTake: unknownFromTake !== null && unknownFromTake <= full.take ? unknownFromTake : null,
    verdict: 'breaks',
    reason: 'full',
    breaksAtSeconds: full.seconds,
    breaksAtLatestSeconds: null,
    breaksAtBytes: full.takeBytes,
    breaksInTake: full.take === 1 ? null : full.take,
    atLeast: false,
    wouldProve: null,
  };
}

/** The soonest break, else the least of what was proven; what was done frame by frame settles what a trace cannot. */
function worstProven(verdicts: readonly Verdict[]): Verdict | undefined {
  const of = (word: VerdictWord) => verdicts.filter((one) => one.verdict === word);
  // A break that gave no credit for a cache that empties itself is only a bound: a run that did the job outweighs it.
  const did = verdicts.some((one) => one.reason === 'done' && (one.verdict === 'holds' || one.verdict === 'tight'));
  const soonest = of('breaks')
    .filter((one) => !(did && one.atLeast))
    .sort((a, b) => a.breaksAtSeconds! - b.breaksAtSeconds!)[0];
  const least = [...of('tight'), ...of('holds')].sort(
    (a, b) => a.guaranteedBytesPerSecond! - b.guaranteedBytesPerSecond!,
  );
  // A run that played the job shows its own rate only: that is no lower bound beside a trace that shows more.
  return soonest ?? least.find((one) => one.reason !== 'done') ?? least.at(-1);
}

function longestUnproven(verdicts: readonly Verdict[]): Verdict | undefined {
  return [...verdicts].sort((a, b) => (b.provenBytes ?? 0) - (a.provenBytes ?? 0))[0];
}

const noRun = (demand: Demand): Verdict => noRunVerdict(provingRun(demand, null, 'no-run'));

/** What a run says of a demand before any policy, kept: dragging the headroom only looks it up. */
interface Measured {
  first: Carried;
  later: LaterTakes | null;
}
const kept = new WeakMap<Evidence, Map<string, Measured>>();
const MOST_KEPT = 400;

/** Curves are told apart by the list of their moments, which an item keeps. */
const curveNumbers = new WeakMap<readonly number[], number>();
let curvesSeen = 0;
function curveNumber(seconds: readonly number[]): number {
  const known = curveNumbers.get(seconds) ?? (curvesSeen += 1);
  curveNumbers.set(seconds, known);
  return known;
}

/** The items that a demand consists of: itself, or those of which it is the sum. */
const partsOf = (demand: Demand): readonly Demand[] => (demand.parts.length > 0 ? demand.parts : [demand]);

function keyOf({ bytesPerSecond, peakBytesPerSecond, burstBytes, bufferBytes, takeSeconds, curve }: Demand): string {
  const shape = curve === null ? '' : curveNumber(curve.seconds);
  return [bytesPerSecond, peakBytesPerSecond, burstBytes, bufferBytes, takeSeconds, shape].join(' ');
}

function measured(demand: Demand, evidence: Evidence, isQuick: boolean): Measured {
  const known = kept.get(evidence) ?? new Map<string, Measured>();
  kept.set(evidence, known);
  const parts = partsOf(demand);
  const key = [...parts.map(keyOf), demand.takes, demand.gapSeconds, isQuick].join(', ');
  const found = known.get(key);
  if (found) return found;
  const asked = parts.map(askedOf);
  const first = carriedOf(asked, demand.direction, evidence, { isQuick });
  const severalTakes = demand.direction === 'write' && demand.takes > 1;
  const later = severalTakes && first.timesCarried >= 1 ? laterTakes(asked, demand.direction, evidence, demand) : null;
  if (known.size >= MOST_KEPT) known.clear();
  known.set(key, { first, later });
  return { first, later };
}

/**
 * A rate as it may be told of a drive: no more than the run was seen to move in any second. What a buffer adds to it is
 * no rate of the drive.
 */
const toldRate = (rate: number, evidence: Evidence): number => Math.min(rate, fastestSeen(evidence));

/** The verdict of one run on one demand of the same direction. */
export function judgeRun(demand: Demand, evidence: Evidence, policy: Policy, isQuick = false): Verdict {
  const takeBytes = takeBytesOf(demand);
  const { first, later } = measured(demand, evidence, isQuick);
  const { bytesPerSecond } = demand;
  const reach = reachOf(evidence);
  const least = Math.min(first.timesCarried, later?.carried?.timesCarried ?? Infinity);
  const known = {
    ...UNKNOWN,
    runId: evidence.runId,
    isPromise: evidence.isPromise ?? false,
    guaranteedBytesPerSecond: toldRate(least * bytesPerSecond, evidence),
    rateSeenBytesPerSecond: fastestSeen(evidence),
    leastBufferBytes: Math.max(first.leastBufferBytes, later?.carried?.leastBufferBytes ?? 0),
  };
  const breaks = (broken: NonNullable<Carried['broken']>, take: number | null): Verdict => ({
    ...known,
    verdict: 'breaks',
    reason: 'too-slow',
    breaksAtSeconds: broken.seconds,
    breaksAtLatestSeconds: broken.latestSeconds > broken.seconds * CERTAIN ? broken.latestSeconds : null,
    breaksAtBytes: broken.bytes,
    breaksInTake: take,
    provenBytes: broken.bytes,
    provenSeconds: broken.seconds,
    ...continuation(broken.bytes > evidence.provenBytes, evidence),
    // A cache may empty itself while less than its full rate is asked for; unless that was measured it gets no credit.
    atLeast:
      demand.direction === 'write' &&
      evidence.kneeBytes !== null &&
      broken.bytes >= 0.9 * evidence.kneeBytes &&
      evidence.recovery.length === 0,
  });
  if (first.broken !== null && evidence.mayProveBreaks) return breaks(first.broken, null);
  const carriedBytes = first.broken === null ? Math.min(takeBytes, reach) : first.broken.bytes;
  const carried = {
    provenBytes: carriedBytes,
    provenSeconds: first.broken === null ? carriedBytes / bytesPerSecond : first.broken.seconds,
    ...continuation(carriedBytes > evidence.provenBytes, evidence),
  };
  const unproven = (reason: VerdictReason): Verdict => ({
    ...known,
    ...carried,
    verdict: 'not-proven',
    reason,
    wouldProve: provingRun(demand, evidence, reason),
  });
  if (first.broken !== null || !evidence.mayProveHolds) return unproven('doubtful');
  // What comes by the clock might fall so that it breaks, and need not: the trace decides neither.
  if (first.timesCarried < 1) return { ...unproven('worst-moment'), provenBytes: 0, provenSeconds: 0 };
  if (takeBytes > reach * (1 + 1e-12)) return unproven('too-short');
  if (later !== null && later.unknownFrom !== null) {
    if (later.breaksInTake !== null && evidence.mayProveBreaks) {
      return breaks(later.carried!.broken!, later.breaksInTake);
    }
    return { ...unproven('later-takes'), unknownFromTake: later.unknownFrom };
  }
  return {
    ...known,
    ...carried,
    ...continuation(carried.continued || (later?.continued ?? false), evidence),
    verdict: least >= (1 + policy.headroomShare) * (1 - 1e-7) ? 'holds' : 'tight',
    reason: 'carried',
  };
}

/** Moments that lie no further apart than this are one. */
const CERTAIN = 1.03;

const fastestSeen = (evidence: Evidence): number =>
  Math.max(...partedOf(evidence).map(({ fastestBytesPerSecond }) => fastestBytesPerSecond));

function continuation(continued: boolean, { medium }: Evidence): Pick<Verdict, 'continued' | 'continuedAlong'> {
  const along = medium === 'memory' ? 'memory' : medium === 'spinning' ? 'tracks' : 'floor';
  return { continued, continuedAlong: continued ? along : null };
}

/**
 * What a run of Paced frames says of a demand: it carried one that asked for no more, in no more
 * streams and time and with no larger buffer; it broke one that asks for no less. Null otherwise.
 * @param isMixed whether the demand goes on while the drive goes the other way too
 */
export function judgePaced(demand: Demand, paced: PacedProof, policy: Policy, isMixed = false): Verdict | null {
  const { bytesPerSecond, streams, droppedAtSeconds } = paced[demand.direction];
  const other = paced[demand.direction === 'write' ? 'read' : 'write'];
  if (streams === 0 || demand.curve !== null) return null;
  const bufferSeconds = demand.bufferBytes / demand.bytesPerSecond;
  const known = {
    ...UNKNOWN,
    runId: paced.runId,
    guaranteedBytesPerSecond: bytesPerSecond,
    provenBytes: bytesPerSecond * paced.seconds,
    provenSeconds: paced.seconds,
  };
  if (droppedAtSeconds !== null) {
    const asksForLess = demand.bytesPerSecond < bytesPerSecond * 0.999 || demand.streams < streams;
    // Frames that were lost while the drive went both ways say nothing of one way alone.
    if (other.streams > 0 && !isMixed) return null;
    if (asksForLess || paced.bufferSeconds < bufferSeconds * 0.999 || droppedAtSeconds > demand.takeSeconds)
      return null;
    if (!paced.mayProveBreaks) return null;
    const bytes = droppedAtSeconds * bytesPerSecond;
    return {
      ...known,
      verdict: 'breaks',
      reason: 'done',
      // What it asked for was too much; how much less would do, it does not say.
      guaranteedBytesPerSecond: null,
      breaksAtSeconds: droppedAtSeconds,
      breaksAtBytes: bytes,
      provenBytes: bytes,
      provenSeconds: droppedAtSeconds,
    };
  }
  const covers =
    bytesPerSecond >= demand.bytesPerSecond * 0.999 &&
    streams >= demand.streams &&
    paced.seconds >= demand.takeSeconds - 1 &&
    paced.bufferSeconds <= bufferSeconds * 1.001;
  if (!covers || !paced.mayProveHolds || (demand.direction === 'write' && demand.takes > 1)) return null;
  const enough = bytesPerSecond >= demand.bytesPerSecond * (1 + policy.headroomShare);
  return { ...known, verdict: enough ? 'holds' : 'tight', reason: 'done', guaranteedBytesPerSecond: bytesPerSecond };
}

/**
 * Several streams add up on media without seeks. Elsewhere a trace of one stream says nothing of
 * them: the ladder's requests in no order, at the size in which a program moves its frames, do.
 */
function severalStreams(demand: Demand, verdict: Verdict, supply: Supply, policy: Policy): Verdict {
  if (demand.streams < 2 || !seeks(supply) || verdict.verdict === 'breaks' || verdict.verdict === 'not-proven') {
    return verdict;
  }
  const rate = rateInNoOrder(supply.random, demand);
  const enough = rate !== null && rate >= demand.bytesPerSecond;
  if (!enough) {
    return {
      ...verdict,
      verdict: 'not-proven',
      reason: 'several-streams',
      ...(rate === null ? {} : { guaranteedBytesPerSecond: Math.min(rate, verdict.guaranteedBytesPerSecond!) }),
      wouldProve: provingRun(demand, null, 'several-streams'),
    };
  }
  const least = Math.min(rate, verdict.guaranteedBytesPerSecond!);
  const word = least >= demand.bytesPerSecond * (1 + policy.headroomShare) ? 'holds' : 'tight';
  return { ...verdict, guaranteedBytesPerSecond: least, verdict: word };
}

/** Largest request that programs make. */
const LARGEST_REQUEST_BYTES = 8 * 1024 * 1024;
const USUAL_DEPTH = 4;

/** Rate of the ladder at the largest size up to the program's own and the depth nearest to the usual; null without. */
function rateInNoOrder(random: readonly RandomRate[], { direction, bytesPerFrame }: Demand): number | null {
  const request = Math.min(LARGEST_REQUEST_BYTES, bytesPerFrame);
  const fitting = random.filter((one) => one.direction === direction && one.blockBytes <= request);
  if (fitting.length === 0) return null;
  const largest = Math.max(...fitting.map((one) => one.blockBytes));
  const rungs = fitting.filter((one) => one.blockBytes === largest);
  const distance = (depth: number) => Math.abs(Math.log2(depth / USUAL_DEPTH));
  return rungs.reduce((best, one) => (distance(one.depth) < distance(best.depth) ? one : best)).bytesPerSecond;
}
