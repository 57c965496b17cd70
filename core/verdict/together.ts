import type { Demand } from '#core/demand/demand.ts';
import { DIRECTIONS, type Direction } from '#core/run/direction.ts';
import type { Supply } from '#core/supply/profile.ts';
import { judge, judgePaced } from '#core/verdict/judge.ts';
import { provingRun } from '#core/verdict/proving-run.ts';
import { UNKNOWN, type Policy, type Verdict } from '#core/verdict/verdict.ts';

export const TOGETHER_ID = 'together';
const TOGETHER_NAME = 'All at once';

/** “Three cameras, Proxies and Sound”. */
function namesText(demands: readonly Demand[]): string {
  const names = demands.map((one) => one.name);
  return names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
}

/** Several demands of one direction as one: rates, buffers and peaks add up, the longest take counts. */
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
 * The verdict on demands that go on at the same time. Of one direction they add up. Of both, each
 * alone has to be carried and the shares of what the drive guarantees must not come to more than
 * one; even then only a run that did both at once proves it.
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
  const verdicts = [judge(write, supply, policy, roomBytes), judge(read, supply, policy, null)] as const;
  const larger = write.bytesPerSecond >= read.bytesPerSecond ? write : read;
  const demand = { ...larger, name: TOGETHER_NAME, isSum: true, formatText: namesText(demands) };
  const done = supply.paced.map((paced) => {
    const [one, other] = [judgePaced(write, paced, policy, true), judgePaced(read, paced, policy, true)];
    const broke = [one, other].find((verdict) => verdict?.verdict === 'breaks');
    if (broke) return broke;
    if (!one || !other) return null;
    return one.verdict === 'tight' ? one : other;
  });
  const settled = done.find((one) => one?.verdict === 'breaks') ?? done.find((one) => one !== null);
  if (settled) return { demand, isMixed: true, verdict: settled };
  const broken = verdicts.find((one) => one.verdict === 'breaks');
  if (broken) return { demand, isMixed: true, verdict: broken };
  const share = [write, read].reduce((sum, one, index) => {
    const rate = verdicts[index]!.guaranteedBytesPerSecond;
    const proven = verdicts[index]!.verdict !== 'not-proven';
    return sum + (rate === null || !proven ? 0 : one.bytesPerSecond / rate);
  }, 0);
  const rate = larger.bytesPerSecond / Math.max(share, 1e-12);
  if (share > 1) {
    return {
      demand,
      isMixed: true,
      verdict: {
        ...UNKNOWN,
        verdict: 'breaks',
        reason: 'mixed',
        breaksAtSeconds: 0,
        breaksAtBytes: 0,
        guaranteedBytesPerSecond: rate,
        runId: verdicts[0].runId,
      },
    };
  }
  return {
    demand,
    isMixed: true,
    verdict: {
      ...UNKNOWN,
      verdict: 'not-proven',
      reason: 'mixed',
      guaranteedBytesPerSecond: share > 0 ? rate : null,
      provenBytes: 0,
      provenSeconds: 0,
      runId: verdicts[0].runId ?? verdicts[1].runId,
      wouldProve: provingRun(demand, null, 'mixed'),
    },
  };
}
