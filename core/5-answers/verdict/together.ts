import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { judge, judgePaced, withRoom } from '#core/5-answers/verdict/judge.ts';
import { provingRun } from '#core/5-answers/verdict/proving-run.ts';
import { UNKNOWN, type Policy, type Verdict } from '#core/5-answers/verdict/verdict.ts';

export const TOGETHER_ID = 'together';
const TOGETHER_NAME = 'All at once';

/** “Three cameras, Proxies and Sound”. */
function namesText(demands: readonly Demand[]): string {
  const names = demands.map((one) => one.name);
  return names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
}

/** The longest that taking off one of several takes; null where all are off before the next take. */
function longestTakeOff(demands: readonly Demand[]): number | null {
  const told = demands.map((one) => one.takeOffSeconds).filter((one) => one !== null);
  return told.length > 0 ? Math.max(...told) : null;
}

/**
 * Several demands of one direction as one, with each of them as a part: a verdict looks at the parts, every one with its
 * own buffer and length. Sums are for what is said of all.
 */
export function summedDemand(demands: readonly Demand[], direction: Direction): Demand | null {
  const own = demands.filter((one) => one.direction === direction);
  const [first] = own;
  if (!first) return null;
  const sum = (of: (one: Demand) => number) => own.reduce((total, one) => total + of(one), 0);
  return {
    ...first,
    itemId: TOGETHER_ID,
    name: own.length === 1 ? first.name : TOGETHER_NAME,
    isSum: own.length > 1,
    parts: own.length > 1 ? own : [],
    bytesPerSecond: sum((one) => one.bytesPerSecond),
    peakBytesPerSecond: sum((one) => one.peakBytesPerSecond),
    burstBytes: sum((one) => one.burstBytes),
    // Curves of several demands need not peak at the same moment: their bursts are added all the same.
    curve: own.length === 1 ? first.curve : null,
    framesPerSecond: own.find((one) => one.framesPerSecond !== null)?.framesPerSecond ?? null,
    bytesPerFrame: Math.min(...own.map((one) => one.bytesPerFrame)),
    streams: sum((one) => one.streams),
    takeSeconds: Math.max(...own.map((one) => one.takeSeconds)),
    takes: Math.max(...own.map((one) => one.takes)),
    gapSeconds: Math.min(...own.map((one) => one.gapSeconds)),
    between: own.every((one) => one.between === 'take-off') ? 'take-off' : 'stay',
    takeOffSeconds: longestTakeOff(own),
    bufferBytes: sum((one) => one.bufferBytes),
    formatText: own.length === 1 ? first.formatText : namesText(own),
  };
}

/** All of a job that goes on at the same time: the sum in each direction, and the verdict on both. */
export interface Together {
  /** For the sentence: the direction that asks for more, with everything added up. */
  demand: Demand;
  isMixed: boolean;
  verdict: Verdict;
}

/**
 * The verdict on demands that go on at the same time. Those of one direction are judged item by item as one. Of both
 * directions what each guarantees alone is a lower bound and proves nothing of both: it breaks where one way alone
 * does, where a link that goes one way at a time is too narrow for both, and where a run that did both lost frames;
 * only a run that did both at once proves that it holds. What it writes has to fit, whoever proved the rate.
 */
export function judgeTogether(
  demands: readonly Demand[],
  supply: Supply,
  policy: Policy,
  roomBytes: number | null,
): Together | null {
  const [write, read] = DIRECTIONS.map((direction) => summedDemand(demands, direction));
  if (!write || !read) {
    const one = write ?? read ?? null;
    return one && { demand: one, isMixed: false, verdict: judge(one, supply, policy, roomBytes) };
  }
  const larger = write.bytesPerSecond >= read.bytesPerSecond ? write : read;
  const demand = { ...larger, name: TOGETHER_NAME, isSum: true, formatText: namesText(demands) };
  const rate = mixedVerdict(write, read, supply, policy, demand);
  return { demand, isMixed: true, verdict: withRoom(demands, rate, roomBytes) };
}

function mixedVerdict(write: Demand, read: Demand, supply: Supply, policy: Policy, demand: Demand): Verdict {
  const alone = [judge(write, supply, policy, null), judge(read, supply, policy, null)] as const;
  const done = supply.paced.map((paced) => {
    const [one, other] = [judgePaced(write, paced, policy, true), judgePaced(read, paced, policy, true)];
    const broke = [one, other].find((verdict) => verdict?.verdict === 'breaks');
    if (broke) return broke;
    if (!one || !other) return null;
    return one.verdict === 'tight' ? one : other;
  });
  const settled = done.find((one) => one?.verdict === 'breaks') ?? done.find((one) => one !== null);
  if (settled) return settled;
  const broken = alone
    .filter((one) => one.verdict === 'breaks')
    .sort((a, b) => a.breaksAtSeconds! - b.breaksAtSeconds!)[0];
  if (broken) return broken;
  const { bothWaysBytesPerSecond } = supply;
  if (bothWaysBytesPerSecond !== null && write.bytesPerSecond + read.bytesPerSecond > bothWaysBytesPerSecond) {
    const over = write.bytesPerSecond + read.bytesPerSecond - bothWaysBytesPerSecond;
    const seconds = (write.bufferBytes + read.bufferBytes) / over;
    if (seconds < Math.min(write.takeSeconds, read.takeSeconds)) {
      return {
        ...UNKNOWN,
        verdict: 'breaks',
        reason: 'mixed',
        // Buffers empty and fill as long as the link cannot follow; it may be sooner, never later.
        breaksAtSeconds: seconds,
        breaksAtBytes: seconds * demand.bytesPerSecond,
        guaranteedBytesPerSecond: bothWaysBytesPerSecond,
        runId: alone[0].runId,
      };
    }
  }
  return {
    ...UNKNOWN,
    verdict: 'not-proven',
    reason: 'mixed',
    provenBytes: 0,
    provenSeconds: 0,
    runId: alone[0].runId ?? alone[1].runId,
    wouldProve: provingRun(demand, null, 'mixed'),
  };
}
