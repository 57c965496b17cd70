import type { Demand } from '#core/3-jobs/demand/demand.ts';
import type { LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import { readRequests, type Supply } from '#core/4-runs/supply/profile.ts';
import { bytesText, formatDuration, formatNumber, formatShare } from '#core/1-ground/units/format.ts';
import { ladderFor } from '#core/5-answers/verdict/loads/ladder-for.ts';
import {
  brokenPhase,
  loadTimes,
  staysWithin,
  type LoadTimes,
  type PhaseTimes,
} from '#core/5-answers/verdict/loads/phase-times.ts';
import { noRunVerdict, UNKNOWN, verdictName, type ItemVerdict, type Policy } from '#core/5-answers/verdict/verdict.ts';

/** The verdict on a load: every phase within its limit, with the headroom laid on everything that the drive does. */
export function judgeLoad(
  item: LoadItem,
  demand: Demand,
  supply: Supply,
  { headroomShare }: Policy,
  roomBytes: number | null,
): ItemVerdict {
  const requests = readRequests(supply);
  const times = loadTimes(item, requests);
  if (item.installBytes !== null && roomBytes !== null && item.installBytes > roomBytes) {
    return {
      verdict: { ...UNKNOWN, verdict: 'breaks', reason: 'full', breaksAtSeconds: 0, breaksAtBytes: roomBytes },
      sentence: `Does not fit: it takes ${bytesText(item.installBytes)} and ${bytesText(roomBytes)} can be used.`,
      short: 'Does not fit',
    };
  }
  if (times === null) {
    return {
      verdict: noRunVerdict(ladderFor(item, requests)),
      sentence: `No run of this drive says anything about reading ${bytesText(demand.bytesPerFrame)} at a time.`,
      short: 'Not proven: no run',
    };
  }
  const common = {
    ...UNKNOWN,
    runId: requests.rungs[0]?.runId ?? null,
    guaranteedBytesPerSecond: rateOf(item, times),
    provenSeconds: times.totalSeconds,
    provenBytes: item.phases.reduce((sum, { bytes }) => sum + bytes, 0),
  };
  const writtenBytes = item.phases.reduce((sum, phase) => sum + (phase.writtenBytes ?? 0), 0);
  const broken = brokenPhase(times);
  // What was measured one after the other is the most that requests in no order can be: too slow then is too slow.
  if (broken && !broken.mayBeQuicker) {
    return {
      verdict: {
        ...common,
        verdict: 'breaks',
        reason: 'over-limit',
        breaksAtSeconds: secondsUntil(times, broken),
        breaksAtBytes: null,
      },
      sentence: brokenSentence(broken),
      short: broken.stream
        ? `${formatNumber(broken.stream.stuttersPerMinute)} stutters a minute`
        : `${broken.name}: ${formatDuration(broken.totalSeconds)}`,
    };
  }
  const isWritingOpen = (requests.writeBytesPerSecond ?? null) === null && writtenBytes > 0;
  if (isWritingOpen) {
    return {
      verdict: {
        ...common,
        verdict: 'not-proven',
        reason: 'no-run',
        wouldProve: { recipe: 'long-fill', readsBack: false, bytes: writtenBytes, seconds: null, restSeconds: null },
      },
      sentence: `It writes ${bytesText(writtenBytes)}, and how fast this drive writes was not measured: a Long fill shows it.`,
      short: 'Not proven: writing',
    };
  }
  if (broken || !times.isMeasured || times.phases.some(({ stream }) => stream && !stream.isMeasured)) {
    const time = wouldTakeText(times);
    return {
      verdict: {
        ...common,
        verdict: 'not-proven',
        reason: 'requests-unknown',
        wouldProve: ladderFor(item, requests),
      },
      sentence: broken
        ? `By larger requests, or more at a time, than it makes ${time}; its own were not measured: a Block ladder shows them.`
        : `At its rate in one go ${time}, but requests of this size were not measured: a Block ladder shows them.`,
      short: 'Not proven: requests',
    };
  }
  if (item.phases.every((phase) => phase.limitSeconds === null && phase.stream === null)) {
    return {
      verdict: { ...common, verdict: 'not-proven', reason: 'no-limit' },
      sentence: `${heldSentence(times, true)} No limit is given to hold that against.`,
      short: `${formatDuration(times.totalSeconds)}, no limit given`,
    };
  }
  const slower = loadTimes(item, requests, 1 + headroomShare)!;
  const holds = slower.phases.every(staysWithin);
  const verdict = holds ? 'holds' : 'tight';
  return {
    verdict: { ...common, verdict, reason: 'carried' },
    sentence: heldSentence(times, holds),
    short: `${verdictName({ verdict, isPromise: supply.isPromise })}: ${times.totalSeconds === 0 ? 'streams in time' : formatDuration(times.totalSeconds)}`,
  };
}

/** “it would take 12 s”; of what only streams, “a chunk would take 63 ms, and one is wanted every 500 ms”. */
function wouldTakeText({ totalSeconds, phases }: LoadTimes): string {
  const stream = phases.find((one) => one.stream !== null)?.stream;
  return totalSeconds === 0 && stream
    ? `a chunk would take ${formatDuration(stream.usualSeconds)}, and one is wanted every ${formatDuration(stream.everySeconds)}`
    : `it would take ${formatDuration(totalSeconds)}`;
}

/** Rate at which its bytes come while it waits, bytes per second. */
function rateOf({ phases }: LoadItem, times: LoadTimes): number | null {
  const bytes = phases.reduce((sum, phase) => sum + (phase.stream ? 0 : phase.bytes), 0);
  return times.waitingSeconds > 0 ? bytes / times.waitingSeconds : null;
}

/** Seconds after the start at which a phase is over its limit. */
function secondsUntil({ phases }: LoadTimes, broken: PhaseTimes): number {
  const before = phases.slice(0, phases.indexOf(broken)).filter((one) => one.stream === null);
  const limit = broken.stream ? 60 / Math.max(1e-9, broken.stream.stuttersPerMinute) : (broken.limitSeconds ?? 0);
  return before.reduce((sum, one) => sum + one.totalSeconds, limit);
}

function brokenSentence(broken: PhaseTimes): string {
  const { name, stream } = broken;
  if (stream) {
    if (stream.pilesUp) {
      return `${name} cannot keep up: a chunk takes ${formatDuration(stream.usualSeconds)}, and one is wanted every ${formatDuration(stream.everySeconds)}.`;
    }
    return stream.usualSeconds > stream.deadlineSeconds
      ? `${name} cannot keep up: a chunk takes ${formatDuration(stream.usualSeconds)} and is wanted within ${formatDuration(stream.deadlineSeconds)}.`
      : `${name} stutters ${formatNumber(stream.stuttersPerMinute)} times a minute, at worst by ${formatDuration(Math.max(0, stream.worstSeconds - stream.deadlineSeconds))}.`;
  }
  const over = broken.totalSeconds - (broken.limitSeconds ?? 0);
  return `${name} takes ${formatDuration(broken.totalSeconds)}, ${formatDuration(over)} too long: ${formatDuration(broken.waitingSeconds)} of it wait for the drive.${onlyProcessor(broken)}`;
}

/** Where the processor alone is over the limit no drive helps. */
function onlyProcessor({ processorSeconds, limitSeconds }: PhaseTimes): string {
  return limitSeconds !== null && processorSeconds > limitSeconds
    ? ' No drive helps: the processor alone takes longer.'
    : '';
}

function heldSentence({ totalSeconds, waitingSeconds, phases }: LoadTimes, holds: boolean): string {
  const streams = phases.filter((one) => one.stream);
  const only = holds ? '' : ', but only just';
  if (totalSeconds === 0) return `Streams without a stutter that would be noticed${only}.`;
  const waits = `Loads in ${formatDuration(totalSeconds)}, of which ${formatDuration(waitingSeconds)} (${formatShare(waitingSeconds / totalSeconds)}) wait for the drive${only}.`;
  return streams.length > 0 ? `${waits} What streams in comes in time.` : waits;
}
