import type { Demand } from '#core/demand/demand.ts';
import { reachOf, type Evidence } from '#core/supply/evidence.ts';
import type { PacedProof } from '#core/supply/paced-proof.ts';
import { seeks, type RandomRate, type Supply } from '#core/supply/profile.ts';
import { carriedOfTake, takeBytesOf, type Carried } from '#core/verdict/carried.ts';
import { provingRun } from '#core/verdict/proving-run.ts';
import { laterTakes, type LaterTakes } from '#core/verdict/takes.ts';
import {
  noRunVerdict,
  UNKNOWN,
  type Policy,
  type Verdict,
  type VerdictReason,
  type VerdictWord,
} from '#core/verdict/verdict.ts';

/**
 * The verdict on a demand from everything that is known of a drive: a verdict for each run, of
 * which the worst proven one counts. A run that proves nothing never overrides one that does.
 * @param roomBytes free bytes less the reserve; null when not known
 */
export function judge(demand: Demand, supply: Supply, policy: Policy, roomBytes: number | null): Verdict {
  const traces = supply.traces.filter((one) => one.direction === demand.direction);
  const verdicts = [
    ...traces.map((one) => severalStreams(demand, judgeRun(demand, one, policy), supply, policy)),
    ...supply.paced.map((one) => judgePaced(demand, one, policy)).filter((one) => one !== null),
  ];
  const worst = worstProven(verdicts) ?? longestUnproven(verdicts) ?? noRun(demand);
  return withRoom(demand, worst, roomBytes);
}

/** A take that does not fit breaks when the volume is full, whatever the rate. */
function withRoom(demand: Demand, verdict: Verdict, roomBytes: number | null): Verdict {
  const takeBytes = takeBytesOf(demand);
  if (demand.direction !== 'write' || roomBytes === null || takeBytes <= roomBytes) return verdict;
  const seconds = roomBytes / demand.bytesPerSecond;
  if (verdict.breaksAtSeconds !== null && verdict.breaksAtSeconds <= seconds) return verdict;
  return {
    ...verdict,
    verdict: 'breaks',
    reason: 'full',
    breaksAtSeconds: seconds,
    breaksAtBytes: roomBytes,
    breaksInTake: null,
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

function measured(demand: Demand, evidence: Evidence): Measured {
  const known = kept.get(evidence) ?? new Map<string, Measured>();
  kept.set(evidence, known);
  const { bytesPerSecond, burstBytes, bufferBytes, takeSeconds, takes, gapSeconds, curve } = demand;
  const shape = curve === null ? '' : curveNumber(curve.seconds);
  const key = [bytesPerSecond, burstBytes, bufferBytes, takeSeconds, takes, gapSeconds, shape].join(' ');
  const found = known.get(key);
  if (found) return found;
  const first = carriedOfTake(demand, evidence);
  const severalTakes = demand.direction === 'write' && demand.takes > 1;
  const later = severalTakes && first.broken === null ? laterTakes(demand, evidence) : null;
  if (known.size >= MOST_KEPT) known.clear();
  known.set(key, { first, later });
  return { first, later };
}

/** The verdict of one run on one demand of the same direction. */
export function judgeRun(demand: Demand, evidence: Evidence, policy: Policy): Verdict {
  const takeBytes = takeBytesOf(demand);
  const { first, later } = measured(demand, evidence);
  const { bytesPerSecond } = demand;
  const reach = reachOf(evidence);
  const known = {
    ...UNKNOWN,
    runId: evidence.runId,
    guaranteedBytesPerSecond: first.guaranteedBytesPerSecond,
    leastBufferBytes: first.leastBufferBytes,
  };
  const { broken } = first;
  if (broken !== null && evidence.mayProveBreaks) {
    const { kneeBytes, recovery } = evidence;
    return {
      ...known,
      verdict: 'breaks',
      reason: 'too-slow',
      breaksAtSeconds: broken.seconds,
      breaksAtBytes: broken.bytes,
      provenBytes: broken.bytes,
      provenSeconds: broken.seconds,
      ...continuation(broken.bytes > evidence.provenBytes, evidence),
      // A cache may empty itself while less than its full rate is asked for; unless that was measured it gets no credit.
      atLeast:
        demand.direction === 'write' && kneeBytes !== null && broken.bytes >= 0.9 * kneeBytes && recovery.length === 0,
    };
  }
  const carriedBytes = broken === null ? Math.min(takeBytes, reach) : broken.bytes;
  const carried = {
    provenBytes: carriedBytes,
    provenSeconds: broken === null ? carriedBytes / bytesPerSecond : broken.seconds,
    ...continuation(carriedBytes > evidence.provenBytes, evidence),
  };
  const unproven = (reason: VerdictReason): Verdict => ({
    ...known,
    ...carried,
    verdict: 'not-proven',
    reason,
    wouldProve: provingRun(demand, evidence, reason),
  });
  if (broken !== null || !evidence.mayProveHolds) return unproven('doubtful');
  if (takeBytes > reach) return unproven('too-short');
  if (later === null) return { ...known, ...carried, ...wordFor(first, demand, policy), reason: 'carried' };
  if (!later.known) return unproven('later-takes');
  const { carried: rest } = later;
  if (rest.broken !== null) {
    if (!evidence.mayProveBreaks) return unproven('later-takes');
    return {
      ...known,
      ...carried,
      verdict: 'breaks',
      reason: 'too-slow',
      breaksAtSeconds: rest.broken.seconds,
      breaksAtBytes: rest.broken.bytes,
      breaksInTake: later.take,
      guaranteedBytesPerSecond: Math.min(first.guaranteedBytesPerSecond, rest.guaranteedBytesPerSecond),
      leastBufferBytes: Math.max(first.leastBufferBytes, rest.leastBufferBytes),
    };
  }
  const least = rest.guaranteedBytesPerSecond < first.guaranteedBytesPerSecond ? rest : first;
  return {
    ...known,
    ...carried,
    guaranteedBytesPerSecond: least.guaranteedBytesPerSecond,
    leastBufferBytes: Math.max(first.leastBufferBytes, rest.leastBufferBytes),
    ...continuation(carried.continued || later.continued, evidence),
    ...wordFor(least, demand, policy),
    reason: 'carried',
  };
}

function continuation(continued: boolean, { medium }: Evidence): Pick<Verdict, 'continued' | 'continuedAlong'> {
  const along = medium === 'memory' ? 'memory' : medium === 'spinning' ? 'tracks' : 'floor';
  return { continued, continuedAlong: continued ? along : null };
}

function wordFor(
  { guaranteedBytesPerSecond }: Carried,
  { bytesPerSecond }: Demand,
  { headroomShare }: Policy,
): { verdict: VerdictWord } {
  return { verdict: guaranteedBytesPerSecond >= bytesPerSecond * (1 + headroomShare) ? 'holds' : 'tight' };
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
