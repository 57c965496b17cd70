import { parentPort, workerData } from 'node:worker_threads';
import { BUCKET_COUNT, bucketOf } from '#core/4-runs/run/histogram.ts';
import { makeHashers, runCopy } from '#engine/volumes/real/copy/worker-copy.ts';
import {
  CONTROL,
  STAT,
  STAT_SLOTS,
  monotonicSeconds,
  type WorkerInit,
  type WorkerMessage,
  type WorkerStep,
} from '#engine/volumes/real/io-protocol.ts';
import type { StepEnd, WorkerTools } from '#engine/volumes/real/worker-tools.ts';
import { runFrames } from '#engine/volumes/real/worker-frames.ts';
import { createWorkerMemory } from '#engine/volumes/real/worker-memory.ts';
import { runScatter } from '#engine/volumes/real/worker-scatter.ts';
import { runTransfer } from '#engine/volumes/real/worker-transfer.ts';

const init = workerData as WorkerInit;
const control = new Int32Array(init.control);
const stats = new Float64Array(init.stats, init.worker * STAT_SLOTS * 8, STAT_SLOTS);
const histogram = new Uint32Array(init.histograms, init.worker * BUCKET_COUNT * 4, BUCKET_COUNT);

/** From this thread's clock to the process's: asking for one clock a request costs less than for two. */
const CLOCK_OFFSET = clockOffset();

/** The difference of both clocks, from the pair that was read closest together: a thread may lose its processor between two. */
function clockOffset(): number {
  let [closest, offset] = [Infinity, 0];
  for (let tries = 0; tries < 16; tries += 1) {
    const before = monotonicSeconds();
    const own = performance.now() / 1000;
    const after = monotonicSeconds();
    if (after - before < closest) [closest, offset] = [after - before, (before + after) / 2 - own];
  }
  return offset;
}

function send(message: WorkerMessage): void {
  parentPort!.postMessage(message);
}

const tools: WorkerTools = {
  control,
  stats,
  memoryFor: createWorkerMemory(init.runSeed),
  noteRequest(begin, bytes) {
    const end = performance.now();
    const seconds = (end - begin) / 1000;
    histogram[bucketOf(seconds)]! += 1;
    const epoch = Atomics.load(control, CONTROL.epoch);
    const odd = epoch & 1;
    const [slot, epochSlot] = odd ? [STAT.latencyMaxOdd, STAT.epochOdd] : [STAT.latencyMaxEven, STAT.epochEven];
    if (stats[epochSlot] !== epoch) {
      stats[slot] = 0;
      stats[epochSlot] = epoch;
    }
    if (seconds > stats[slot]!) stats[slot] = seconds;
    if (seconds > stats[STAT.latencyMaxStep]!) stats[STAT.latencyMaxStep] = seconds;
    stats[STAT.lastDoneSeconds] = end / 1000 + CLOCK_OFFSET;
    if (stats[STAT.firstDoneSeconds] === 0) stats[STAT.firstDoneSeconds] = stats[STAT.lastDoneSeconds]!;
    stats[STAT.operations]! += 1;
    stats[STAT.bytes]! += bytes;
    return seconds;
  },
  waitForGo() {
    send({ type: 'ready' });
    Atomics.wait(control, CONTROL.go, 0);
  },
  stopped: () => Atomics.load(control, CONTROL.stop) !== 0,
};

async function runStep(step: WorkerStep): Promise<StepEnd> {
  switch (step.type) {
    case 'copy':
      return runCopy(step, tools, await makeHashers(step));
    case 'transfer':
      return runTransfer(step, tools, init.runSeed);
    case 'frames':
      return runFrames(step, tools);
    case 'scatter':
      return runScatter(step, tools);
  }
}

parentPort!.on('message', (step: WorkerStep) => {
  void runStep(step).then((end) => {
    if (end.failure) {
      Atomics.store(control, CONTROL.stop, 1);
      Atomics.notify(control, CONTROL.stop);
    }
    send({ type: 'done', ...end });
  });
});
send({ type: 'ready' });
