import { bytesText, formatDuration } from '#core/1-ground/units/format.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { takeBytesOf, type Demand } from '#core/3-jobs/demand/demand.ts';
import { ownBytesOf } from '#core/3-jobs/recipes/until-decided.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { evidenceOf, type Evidence } from '#core/4-runs/supply/evidence.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { passesOf } from '#core/4-runs/trace/passes.ts';
import { judgeRun } from '#core/5-answers/verdict/judge.ts';
import type { Policy, Verdict, VerdictWord } from '#core/5-answers/verdict/verdict.ts';

/**
 * When a run may end: sequential testing of jobs against the trace so far. Each job is followed sample by sample by the
 * backlog that it would have had on this path; the word itself comes from the same judge that answers afterwards, so
 * that a run never ends with less than it ended for. The rule and what it decides are in docs/calculations.md.
 */

/** What is known of a job while a run goes on. */
export interface JobState {
  demand: Demand;
  /** Its word; null while it is open. */
  decided: VerdictWord | null;
  /** What decided it: it ran over on this path, its own bytes were moved, or the floor may be continued to them. */
  by: 'ran-over' | 'own-bytes' | 'floor' | null;
  /** How it stands, for people: “holds if the next 31 GB go on like this: 50 s”. */
  text: string;
}

export interface Limits {
  mostBytes: number;
  mostSeconds: number;
}

/** A word that rests on a drive that was watched for less than this may be one that a pause would have changed. */
export const WATCH_SECONDS = 60;
/** Where pauses were seen it is watched for as long as a take, up to this. */
const MOST_WATCH_SECONDS = 600;
/** More of them than this are how the drive works, and no pauses. */
const MOST_PAUSES = 7;

/** A pause: so long under this share of the usual rate, and soon back over the other. */
const PAUSE = { leastSeconds: 0.3, mostSeconds: 10, under: 0.25, over: 0.5 };
/** The usual rate is that of so many seconds before. */
const USUAL_SECONDS = 10;

/** A trace is read anew when it has grown by this share, and not before this many seconds. */
const READ_GROWTH = 1.08;
const LEAST_READ_SECONDS = 10;
/**
 * What breaks goes on for so long, until the moment is known within so much: what the drive has fallen to has to be seen
 * for some seconds to be told from a stop, which might have come at any time.
 */
const MOMENT_SECONDS = 5;
const CLEAR_MOMENT = 1.2;
/** What ran over, or has its own bytes, is looked at so soon. */
const SOON_SECONDS = 1;

/** Seconds before now whose rate is taken to go on. */
const OUTLOOK_SECONDS = 30;
/** Least that a floor has to be seen for it to be continued. */
const LEAST_FLOOR = { bytes: 20e9, seconds: 60 };

interface Followed extends JobState {
  ownBytes: number;
  /** Bytes for which the job asks without a rest. */
  pathBytes: number;
  /** Bytes that wait at the job's rate. */
  waitingBytes: number;
  /** It ran over its buffer within a take, so many seconds after the beginning; null where it did not. */
  ranOverSeconds: number | null;
  /** That, or that its own bytes were moved, was looked at. */
  isLookedAt: boolean;
  /** What the judge said last. */
  verdict: Verdict | null;
}

export interface Decider {
  readonly states: readonly JobState[];
  /** Takes in the next sample of the transfer that goes on. @returns whether that transfer has done what it can */
  add: (seconds: number, bytes: number) => boolean;
  /** Jobs that only a pause could still change. */
  waiting(): Demand[];
  /** Seconds for which the drive is still to be watched for them; 0 where there are none. */
  watchSeconds(): number;
  /** It is being watched, for so long by now. */
  watching(moreSeconds: number): void;
  /** It was watched for so long: what the run says of these jobs now is the answer. */
  watched(moreSeconds: number): void;
  /** Looks at what was moved so far, at an end of a stretch. */
  conclude(): void;
}

/**
 * Follows jobs of one direction through a run.
 * @param run as it is so far; its samples are those that are told by `add`
 */
export function followJobs(
  demands: readonly Demand[],
  direction: Direction,
  run: RunDocument,
  policy: Policy,
  limits: Limits,
): Decider {
  const jobs = demands
    .filter((demand) => demand.direction === direction)
    .map((demand): Followed => ({
      demand,
      decided: null,
      by: null,
      text: '',
      ownBytes: ownBytesOf(demand),
      pathBytes: takeBytesOf(demand) * (demand.gapSeconds === 0 && demand.between === 'stay' ? demand.takes : 1),
      waitingBytes: 0,
      ranOverSeconds: null,
      isLookedAt: false,
      verdict: null,
    }));
  const trail: { seconds: number; bytes: number }[] = [{ seconds: 0, bytes: 0 }];
  const pauses = countPauses();
  let [asleepSeconds, seconds, bytes, lookedSeconds, describedSeconds, watchedSeconds] = [0, 0, 0, 0, 0, 0];
  let evidence: Evidence | null = null;

  const openJobs = () => jobs.filter(({ decided }) => decided === null);
  const hasOwnBytes = (job: Followed) => bytes >= job.ownBytes * (1 - 1e-9);

  /** The backlog of each job on this path (Lindley's recursion). */
  function follow(tookSeconds: number, movedBytes: number): void {
    for (const job of openJobs()) {
      const { bytesPerSecond, bufferBytes } = job.demand;
      job.waitingBytes = Math.max(0, job.waitingBytes + bytesPerSecond * tookSeconds - movedBytes);
      // What waits at the end of a take has not run over.
      if (bytes <= job.pathBytes - bufferBytes && job.waitingBytes > bufferBytes) job.ranOverSeconds ??= seconds;
    }
  }

  function look(atLimit: boolean): void {
    lookedSeconds = seconds;
    const snapshot: RunDocument = { ...run, state: 'finished' };
    const all = summaryOf(snapshot);
    // Whether it was long enough is asked by the watch.
    const summary = { ...all, doubts: all.doubts.filter(({ code }) => code !== 'short-run') };
    evidence = evidenceOf(snapshot, direction, summary, passesOf(snapshot), []);
    if (evidence === null) return;
    for (const job of openJobs()) {
      const verdict = judgeRun(job.demand, evidence, policy);
      job.verdict = verdict;
      const word = verdict.verdict;
      if (word === 'breaks' && job.ranOverSeconds !== null) {
        if (atLimit || isMomentKnown(job.ranOverSeconds, verdict)) decide(job, word, 'ran-over');
      } else if (word !== 'holds' && word !== 'tight') continue;
      else if (hasOwnBytes(job)) {
        if (seconds >= watchFor(job)) decide(job, word, 'own-bytes');
      } else if (mayContinue(job, evidence, atLimit)) decide(job, word, 'floor');
    }
  }

  function isMomentKnown(ranOverSeconds: number, { breaksAtSeconds, breaksAtLatestSeconds }: Verdict): boolean {
    if (seconds >= ranOverSeconds + MOMENT_SECONDS) return true;
    return breaksAtLatestSeconds === null || breaksAtLatestSeconds <= CLEAR_MOMENT * (breaksAtSeconds ?? 0);
  }

  function decide(job: Followed, word: VerdictWord, by: JobState['by']): void {
    job.decided = word;
    job.by = by;
  }

  /** While a run may go on, a floor is continued no further than it was seen to last. */
  function mayContinue(job: Followed, { kneeBytes, continuedBytes }: Evidence, atLimit: boolean): boolean {
    if (continuedBytes === null) return seconds >= WATCH_SECONDS;
    return atLimit || job.ownBytes - bytes <= bytes - (kneeBytes ?? bytes);
  }

  function watchFor({ demand }: Followed): number {
    const seen = pauses.seen();
    const longer = seen >= 1 && seen <= MOST_PAUSES;
    return longer ? Math.min(Math.max(WATCH_SECONDS, demand.takeSeconds), MOST_WATCH_SECONDS) : WATCH_SECONDS;
  }

  /** Mean rate of the last while. */
  function recentRate(): number {
    const from = trail.find((one) => one.seconds >= seconds - OUTLOOK_SECONDS) ?? trail[0]!;
    return seconds > from.seconds ? (bytes - from.bytes) / (seconds - from.seconds) : 0;
  }

  function describe(): void {
    describedSeconds = seconds;
    const rate = recentRate();
    for (const job of jobs) job.text = textOf(job, rate);
  }

  function textOf(job: Followed, rate: number): string {
    const { decided, by, demand, waitingBytes } = job;
    if (decided !== null) return by === 'ran-over' ? 'breaks' : decided === 'holds' ? 'holds' : 'holds, but only just';
    if (job.ranOverSeconds !== null && job.verdict?.verdict === 'breaks') return 'breaks; when is being looked at';
    if (watchedSeconds > 0 && isReady(job)) {
      const left = Math.max(0, watchFor(job) - seconds - watchedSeconds);
      return `holds if no pause comes: ${formatDuration(Math.ceil(left))}`;
    }
    if (seconds < SOON_SECONDS || rate <= 0) return 'not seen yet';
    const lacking = demand.bytesPerSecond - rate;
    if (lacking > 0 && job.pathBytes > bytes) {
      const left = (demand.bufferBytes - waitingBytes) / lacking;
      return left > 0
        ? `breaks if it goes on like this: ${formatDuration(Math.ceil(left))}`
        : 'breaks, if it is no pause';
    }
    const watch = Math.max(0, watchFor(job) - seconds);
    const bytesLeft = Math.max(0, job.ownBytes - bytes);
    const floor = evidence?.kneeBytes ?? null;
    const untilFloor =
      floor === null
        ? Infinity
        : (Math.max(LEAST_FLOOR.bytes, LEAST_FLOOR.seconds * rate, (job.ownBytes - floor) / 2) - (bytes - floor)) /
          rate;
    const whole = Math.max(bytesLeft / rate, watch);
    // A floor that was seen for long enough and decides nothing may still be heating up: only its own bytes do then.
    const wait = untilFloor > 0 ? Math.min(whole, untilFloor) : whole;
    if (bytesLeft <= 0) return `holds if no pause comes: ${formatDuration(Math.ceil(wait))}`;
    // What it is watched for is written over what is there.
    if (bytes + Math.min(bytesLeft, wait * rate) > limits.mostBytes || seconds + wait > limits.mostSeconds) {
      return 'as far as seen it holds; its end lies beyond what may be written';
    }
    return `holds if the next ${bytesText(Math.min(bytesLeft, wait * rate))} go on like this: ${formatDuration(Math.ceil(wait))}`;
  }

  function conclude(): void {
    look(true);
    describe();
  }

  return {
    states: jobs,
    conclude,
    add(atSeconds, atBytes) {
      // A drive that has to wake up first is waited for: that is set apart in every run.
      if (atBytes === 0) asleepSeconds = atSeconds;
      const moved = atBytes - bytes;
      // The clock of an end may lie a little before that of the last look.
      const took = Math.max(moved > 0 ? 1e-6 : 0, atSeconds - asleepSeconds - seconds);
      if (took <= 0 || atBytes === 0) return false;
      [seconds, bytes] = [seconds + took, atBytes];
      trail.push({ seconds, bytes });
      while (trail.length > 2 && trail[1]!.seconds < seconds - OUTLOOK_SECONDS) trail.shift();
      pauses.add(took, moved);
      follow(took, moved);
      // What is new is looked at at once, and what it may still decide again and again.
      const ripe = openJobs().filter((job) => job.ranOverSeconds !== null || hasOwnBytes(job));
      const isNew = ripe.some((job) => !job.isLookedAt);
      const isSoon = ripe.length > 0 && seconds - lookedSeconds >= SOON_SECONDS * (1 + seconds / 60);
      for (const job of ripe) job.isLookedAt = true;
      if (isNew || isSoon || seconds >= Math.max(LEAST_READ_SECONDS, lookedSeconds * READ_GROWTH)) {
        look(false);
        describe();
      } else if (seconds >= describedSeconds + SOON_SECONDS) describe();
      return openJobs().every(isReady);
    },
    waiting: () =>
      openJobs()
        .filter(isReady)
        .map(({ demand }) => demand),
    watchSeconds() {
      const waiting = openJobs().filter(isReady);
      return waiting.reduce((longest, job) => Math.max(longest, watchFor(job) - seconds), 0);
    },
    watching(moreSeconds) {
      watchedSeconds = moreSeconds;
      describe();
    },
    watched(moreSeconds) {
      watchedSeconds = 0;
      seconds += moreSeconds;
      conclude();
    },
  };

  /** It has its own bytes and would hold: only a pause could change that. */
  function isReady(job: Followed): boolean {
    const word = job.verdict?.verdict;
    return hasOwnBytes(job) && (word === 'holds' || word === 'tight');
  }
}

/** Counts pauses of a drive: it stands for a moment and goes on as before. */
function countPauses() {
  const recent: { took: number; moved: number }[] = [];
  let [recentSeconds, recentBytes, stoodSeconds, seen] = [0, 0, 0, 0];
  return {
    add(took: number, moved: number): void {
      const usual = recentSeconds > 1 ? recentBytes / recentSeconds : 0;
      const rate = moved / took;
      if (usual > 0 && rate < PAUSE.under * usual) stoodSeconds += took;
      else {
        if (stoodSeconds >= PAUSE.leastSeconds && stoodSeconds <= PAUSE.mostSeconds && rate > PAUSE.over * usual)
          seen += 1;
        stoodSeconds = 0;
      }
      // What stands is no part of what is usual, unless it goes on.
      if (stoodSeconds > 0 && stoodSeconds <= PAUSE.mostSeconds) return;
      recent.push({ took, moved });
      recentSeconds += took;
      recentBytes += moved;
      while (recentSeconds > USUAL_SECONDS && recent.length > 1) {
        const first = recent.shift()!;
        recentSeconds -= first.took;
        recentBytes -= first.moved;
      }
    },
    seen: () => seen,
  };
}
