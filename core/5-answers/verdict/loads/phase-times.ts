import type { LoadItem, Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import { longestRequest, requestRate, shareSlowerThan, type RequestSupply } from '#core/4-runs/supply/request-rate.ts';

/** What one phase takes on a drive, seconds. */
export interface PhaseTimes {
  name: string;
  processorSeconds: number;
  /** Waiting for the drive that no computing hides. */
  waitingSeconds: number;
  totalSeconds: number;
  limitSeconds: number | null;
  stream: StreamTimes | null;
  /** Whether the rate of its requests was measured. */
  isMeasured: boolean;
  /** Whether it may be done sooner: only larger requests, or more at a time, were measured. */
  mayBeQuicker: boolean;
}

/** What streams in while a program is in use. */
export interface StreamTimes {
  forSeconds: number;
  everySeconds: number;
  /** A chunk that comes as usual, seconds. */
  usualSeconds: number;
  /** The worst that the longest request seen makes of it. */
  worstSeconds: number;
  deadlineSeconds: number;
  /** A chunk takes longer than it is apart from the next. */
  pilesUp: boolean;
  /** Chunks that come too late. */
  stuttersPerMinute: number;
  /** Whether the spread of single requests is known. */
  isMeasured: boolean;
}

export interface LoadTimes {
  phases: PhaseTimes[];
  /** Of what is waited for; what streams is not part of it. */
  totalSeconds: number;
  processorSeconds: number;
  waitingSeconds: number;
  /** Whether every rate that it needs was measured in requests of that kind. */
  isMeasured: boolean;
}

/** Of what reads nothing at all. */
const NOTHING_READ = { bytesPerSecond: Infinity, requestSeconds: 0, isMeasured: true, mayBeMore: false };

/** Operations whose time is not known count as much as a request of the smallest size. */
function operationSeconds(supply: RequestSupply): number {
  if (supply.operationSeconds !== null) return supply.operationSeconds;
  return requestRate(supply, 4096, 1)?.requestSeconds ?? 0;
}

/**
 * Time of a phase: processor + max(bytes ÷ rate(request size, requests at a time), bytes ÷ ceiling) +
 * operations × their time ÷ requests at a time + what is written ÷ the rate of long writing, less what goes on side by side. Null when nothing is
 * known of reading on this drive.
 * @param slower by how much everything of the drive is taken to be slower, 1 for as it is
 */
function phaseTimes(phase: Phase, supply: RequestSupply, slower: number): PhaseTimes | null {
  const { bytes, requestBytes, parallel, operations, processorSeconds, overlapShare, stream, limitSeconds, name } =
    phase;
  const { writtenBytes = 0 } = phase;
  const reads = bytes > 0 || operations > 0 || stream !== null;
  const rate = requestRate(supply, requestBytes, parallel) ?? (reads ? null : NOTHING_READ);
  if (rate === null) return null;
  const writes = supply.writeBytesPerSecond ?? null;
  const opening = operations > 0 ? (operations * operationSeconds(supply)) / parallel : 0;
  const data =
    slower * ((bytes > 0 ? bytes / rate.bytesPerSecond : 0) + opening + (writes === null ? 0 : writtenBytes / writes));
  const beside = overlapShare * Math.min(processorSeconds, data);
  const common = {
    name,
    processorSeconds,
    limitSeconds,
    isMeasured: (rate.isMeasured || bytes === 0) && (writtenBytes === 0 || writes !== null),
    mayBeQuicker: rate.mayBeMore && bytes > 0,
  };
  if (stream === null) {
    return {
      ...common,
      waitingSeconds: data - beside,
      totalSeconds: processorSeconds + data - beside,
      stream: null,
    };
  }
  const usual = processorSeconds + data - beside;
  const deadline = limitSeconds ?? stream.everySeconds;
  const requests = Math.max(1, Math.ceil(bytes / requestBytes));
  const longest = longestRequest(supply, requestBytes, parallel);
  // Of a chunk smaller than a request only its own time is spared.
  const spare = deadline - usual + Math.min(rate.requestSeconds / parallel, data);
  const late = shareSlowerThan(supply, requestBytes, parallel, spare / slower);
  // One slow request is enough to make its chunk late.
  // Chunks that take longer than they are apart pile up: sooner or later each is late, however patient it is.
  const pilesUp = Math.max(data, processorSeconds) > stream.everySeconds;
  const lateShare = usual > deadline || pilesUp ? 1 : 1 - (1 - (late ?? 0)) ** requests;
  return {
    ...common,
    waitingSeconds: data - beside,
    totalSeconds: usual,
    stream: {
      forSeconds: stream.forSeconds,
      everySeconds: stream.everySeconds,
      usualSeconds: usual,
      worstSeconds: usual + slower * (longest ?? 0),
      deadlineSeconds: deadline,
      pilesUp,
      stuttersPerMinute: (60 / stream.everySeconds) * lateShare,
      isMeasured: late !== null,
    },
  };
}

/** What a load takes on a drive; null when nothing is known of reading on it. */
export function loadTimes({ phases }: Pick<LoadItem, 'phases'>, supply: RequestSupply, slower = 1): LoadTimes | null {
  const all = phases.map((phase) => phaseTimes(phase, supply, slower));
  const known = all.filter((one) => one !== null);
  if (known.length < all.length) return null;
  const waits = known.filter((one) => one.stream === null);
  const sum = (of: (one: PhaseTimes) => number) => waits.reduce((total, one) => total + of(one), 0);
  return {
    phases: known,
    totalSeconds: sum((one) => one.totalSeconds),
    processorSeconds: sum((one) => one.processorSeconds),
    waitingSeconds: sum((one) => one.waitingSeconds),
    isMeasured: known.every((one) => one.isMeasured),
  };
}

/** Stutters that nobody would call smooth: more than one in five minutes. */
const MOST_STUTTERS_PER_MINUTE = 0.2;

/** A phase that does not stay within its limit, one that is certain not to if there is any; null where all do. */
export function brokenPhase({ phases }: LoadTimes): PhaseTimes | null {
  const broken = phases.filter((phase) => !staysWithin(phase));
  return broken.find(({ mayBeQuicker }) => !mayBeQuicker) ?? broken[0] ?? null;
}

export function staysWithin({ totalSeconds, limitSeconds, stream }: PhaseTimes): boolean {
  if (stream) return stream.stuttersPerMinute <= MOST_STUTTERS_PER_MINUTE;
  return limitSeconds === null || totalSeconds <= limitSeconds;
}
