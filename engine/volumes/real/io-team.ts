import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';
import { BUCKET_COUNT } from '#core/4-runs/run/histogram.ts';
import { Problem } from '#core/1-ground/problem.ts';
import {
  CONTROL,
  STAT,
  STAT_SLOTS,
  monotonicSeconds,
  sharedBlocks,
  type WorkerFailure,
  type WorkerInit,
  type WorkerMessage,
  type WorkerStep,
} from '#engine/volumes/real/io-protocol.ts';
import type { PageMismatch } from '#engine/volumes/real/random-data.ts';

/** What all workers together have done in the step so far. */
export interface TeamReading {
  atSeconds: number;
  bytes: number;
  operations: number;
  /** Longest request completed since the reading before. */
  latencyMaxSeconds: number;
}

export interface TeamOutcome {
  /** Monotonic seconds at which the clock started and the last request completed. */
  startSeconds: number;
  endSeconds: number;
  /** Monotonic seconds at which the first request completed; the start when none did. */
  firstSeconds: number;
  bytes: number;
  checkedBytes: number;
  latencyMaxSeconds: number;
  mismatches: PageMismatch[];
  failure: WorkerFailure | null;
}

export interface IoTeam {
  /**
   * Runs one step for each of the first workers. `onStart` is told the moment at which the clock
   * starts, once all of them are ready. Only one call at a time.
   */
  run(steps: readonly WorkerStep[], onStart: (startSeconds: number) => void): Promise<TeamOutcome>;
  readonly size: number;
  /** Number of the next block or file that a worker will take. */
  nextBlock(): number;
  /** Reads the shared counters of the step that is going on. */
  read(): TeamReading;
  /** Bytes moved in the step so far. */
  bytes(): number;
  /** Bytes moved by the workers that `counts` takes. */
  bytesOf(counts: (worker: number) => boolean): number;
  /** Sum of a slot of STAT over the workers that `counts` takes. */
  sumOf(slot: number, counts: (worker: number) => boolean): number;
  /** Seconds since the step's first request completed; 0 before. */
  secondsSinceFirst(): number;
  /** Requests per latency bucket in the step so far. */
  histogram(): number[];
  stop(): void;
  close(): Promise<void>;
}

/** The worker is bundled by the build, so that threads start without a loader. */
function workerFile(): string {
  return createRequire(import.meta.url).resolve('#built/io-worker.js');
}

/** Starts workers and waits until each answers. */
export async function startIoTeam(size: number, runSeed: number): Promise<IoTeam> {
  const shared = sharedBlocks(size);
  const control = new Int32Array(shared.control);
  const stats = new Float64Array(shared.stats);
  const histograms = new Uint32Array(shared.histograms);
  const members = Array.from({ length: size }, (_, worker) => {
    const init: WorkerInit = { worker, ...shared, runSeed };
    // A file of a copy is opened by one worker and closed by another: their descriptors are the process's.
    return new Worker(workerFile(), { workerData: init, trackUnmanagedFds: false });
  });
  const stat = (worker: number, slot: number): number => stats[worker * STAT_SLOTS + slot]!;
  const sumOver = (slot: number, counts: (worker: number) => boolean): number =>
    members.reduce((total, _, worker) => (counts(worker) ? total + stat(worker, slot) : total), 0);
  const sum = (slot: number): number => sumOver(slot, () => true);

  /** Resolves with each member's next message. */
  const nextMessages = (count = size): Promise<WorkerMessage[]> =>
    Promise.all(
      members.slice(0, count).map(
        (member) =>
          new Promise<WorkerMessage>((resolve, reject) => {
            const settle = (act: () => void) => {
              member.off('message', onMessage).off('error', onError).off('exit', onExit);
              act();
            };
            const onMessage = (message: WorkerMessage) => settle(() => resolve(message));
            const onError = (error: Error) => settle(() => reject(error));
            const onExit = () => settle(() => reject(new Error('An I/O worker ended unexpectedly.')));
            member.on('message', onMessage).on('error', onError).on('exit', onExit);
          }),
      ),
    );

  try {
    await nextMessages();
  } catch (error) {
    await Promise.all(members.map((member) => member.terminate()));
    throw new Problem('engine-failed', 'The I/O workers could not be started. Close other programs and try again.', {
      status: 500,
      cause: error,
    });
  }

  const firstDone = (): number | null => {
    const firsts = members.map((_, worker) => stat(worker, STAT.firstDoneSeconds)).filter((second) => second > 0);
    return firsts.length === 0 ? null : Math.min(...firsts);
  };
  const latencyMax = (epoch: number): number => {
    const [slot, epochSlot] = epoch & 1 ? [STAT.latencyMaxOdd, STAT.epochOdd] : [STAT.latencyMaxEven, STAT.epochEven];
    return members.reduce(
      (longest, _, worker) => (stat(worker, epochSlot) === epoch ? Math.max(longest, stat(worker, slot)) : longest),
      0,
    );
  };

  /** A worker that failed before the clock started: the others are let go and end at once. */
  async function endEarly(early: Extract<WorkerMessage, { type: 'done' }>[], count: number): Promise<TeamOutcome> {
    const now = monotonicSeconds();
    const rest = early.length < count ? restDone(count - early.length) : Promise.resolve();
    Atomics.store(control, CONTROL.stop, 1);
    Atomics.store(control, CONTROL.go, 1);
    Atomics.notify(control, CONTROL.go);
    await rest;
    return {
      startSeconds: now,
      endSeconds: now,
      firstSeconds: now,
      bytes: sum(STAT.bytes),
      checkedBytes: 0,
      latencyMaxSeconds: 0,
      mismatches: [],
      failure: early[0]!.failure,
    };
  }

  /** Resolves when so many more members are done. */
  function restDone(count: number): Promise<void> {
    return new Promise((resolve) => {
      let left = count;
      const onMessage = (message: WorkerMessage) => {
        if (message.type !== 'done' || (left -= 1) > 0) return;
        members.forEach((member) => member.off('message', onMessage));
        resolve();
      };
      members.forEach((member) => member.on('message', onMessage));
    });
  }

  return {
    size,
    nextBlock: () => Atomics.load(control, CONTROL.nextBlock),
    async run(steps, onStart) {
      stats.fill(0);
      histograms.fill(0);
      control.fill(0);
      Atomics.store(control, CONTROL.epoch, 1);
      const ready = nextMessages(steps.length);
      steps.forEach((step, worker) => members[worker]!.postMessage(step));
      const early = (await ready).flatMap((message) => (message.type === 'done' ? [message] : []));
      if (early.length > 0) return await endEarly(early, steps.length);
      const done = nextMessages(steps.length);
      const startSeconds = monotonicSeconds();
      for (let worker = 0; worker < size; worker += 1) stats[worker * STAT_SLOTS + STAT.startSeconds] = startSeconds;
      Atomics.store(control, CONTROL.go, 1);
      Atomics.notify(control, CONTROL.go);
      onStart(startSeconds);
      const outcomes = (await done).filter((message) => message.type === 'done');
      const endSeconds = members.reduce((end, _, worker) => Math.max(end, stat(worker, STAT.lastDoneSeconds)), 0);
      return {
        startSeconds,
        endSeconds: Math.max(startSeconds, endSeconds),
        firstSeconds: firstDone() ?? startSeconds,
        bytes: sum(STAT.bytes),
        checkedBytes: sum(STAT.checkedBytes),
        latencyMaxSeconds: Math.max(...members.map((_, worker) => stat(worker, STAT.latencyMaxStep))),
        mismatches: outcomes.flatMap((outcome) => outcome.mismatches),
        failure: outcomes.find((outcome) => outcome.failure !== null)?.failure ?? null,
      };
    },
    read() {
      const epoch = Atomics.add(control, CONTROL.epoch, 1);
      return {
        bytes: sum(STAT.bytes),
        operations: sum(STAT.operations),
        atSeconds: monotonicSeconds(),
        latencyMaxSeconds: latencyMax(epoch),
      };
    },
    bytes() {
      return sum(STAT.bytes);
    },
    bytesOf: (counts) => sumOver(STAT.bytes, counts),
    sumOf: (slot, counts) => sumOver(slot, counts),
    secondsSinceFirst() {
      const first = firstDone();
      return first === null ? 0 : monotonicSeconds() - first;
    },
    histogram() {
      const counts = new Array<number>(BUCKET_COUNT).fill(0);
      histograms.forEach((count, index) => (counts[index % BUCKET_COUNT]! += count));
      return counts;
    },
    stop() {
      Atomics.store(control, CONTROL.stop, 1);
      Atomics.notify(control, CONTROL.stop);
    },
    async close() {
      await Promise.all(members.map((member) => member.terminate()));
    },
  };
}
