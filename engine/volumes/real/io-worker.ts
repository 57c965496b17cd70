import { readSync, writeSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import { BUCKET_COUNT, bucketOf } from '#core/run/histogram.ts';
import {
  CONTROL,
  STAT,
  STAT_SLOTS,
  monotonicSeconds,
  type WorkerFailure,
  type WorkerInit,
  type WorkerMessage,
  type WorkerStep,
} from '#engine/volumes/real/io-protocol.ts';
import { PAGE_BYTES, randomData, randomDataBytes, type PageMismatch } from '#engine/volumes/real/random-data.ts';

/** More are counted as the same finding: the first few tell what is wrong. */
const MOST_MISMATCHES = 16;
/**
 * A drive that takes this long for a page (200 MB/s a request) has every page checked; on faster
 * ones, where the check would be felt in the rate, one page of so many, in turn.
 */
const FULL_CHECK_SECONDS = 20e-6;
const PAGES_PER_CHECK = 16;

const init = workerData as WorkerInit;
const control = new Int32Array(init.control);
const stats = new Float64Array(init.stats, init.worker * STAT_SLOTS * 8, STAT_SLOTS);
const histogram = new Uint32Array(init.histograms, init.worker * BUCKET_COUNT * 4, BUCKET_COUNT);

// The memory of a WebAssembly.Memory is page-aligned, as direct I/O asks; that of a Buffer is not.
const poolBytes = randomDataBytes(init.blockBytes);
const pages = Math.ceil((poolBytes + init.blockBytes) / 65536);
const memory = new Uint8Array(new WebAssembly.Memory({ initial: pages, maximum: pages }).buffer);
const data = randomData(memory.subarray(0, poolBytes), init.blockBytes, init.runSeed);
const readBuffer = memory.subarray(poolBytes, poolBytes + init.blockBytes);
const readWords = new Uint32Array(readBuffer.buffer, readBuffer.byteOffset, init.blockBytes / 4);

function send(message: WorkerMessage): void {
  parentPort!.postMessage(message);
}

/** Moves one whole block, continuing after short reads and writes. */
function transferBlock(step: WorkerStep, position: number, block: Uint8Array): void {
  const descriptor = step.descriptors[Math.floor(position / step.fileBytes)]!;
  const filePosition = position % step.fileBytes;
  let moved = 0;
  while (moved < block.length) {
    const count =
      step.direction === 'write'
        ? writeSync(descriptor, block, moved, block.length - moved, filePosition + moved)
        : readSync(descriptor, block, moved, block.length - moved, filePosition + moved);
    if (count === 0) throw Object.assign(new Error('the file ended early'), { code: 'EOF' });
    moved += count;
    if (moved % PAGE_BYTES !== 0) throw Object.assign(new Error('a request was cut off'), { code: 'ESHORT' });
  }
}

function noteLatency(seconds: number): void {
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
}

function runStep(step: WorkerStep): { failure: WorkerFailure | null; mismatches: PageMismatch[] } {
  const mismatches: PageMismatch[] = [];
  Atomics.wait(control, CONTROL.go, 0);
  while (Atomics.load(control, CONTROL.stop) === 0) {
    const number = Atomics.add(control, CONTROL.nextBlock, 1);
    if (number >= step.blocks) break;
    const position = step.fromByte + number * step.blockBytes;
    const block = step.direction === 'write' ? data.blockFor(position, step.pass) : readBuffer;
    const begin = performance.now();
    try {
      transferBlock(step, position, block);
    } catch (error) {
      Atomics.store(control, CONTROL.stop, 1);
      const { code = 'UNKNOWN', message } = error as NodeJS.ErrnoException;
      return { failure: { code, message, fileOffset: position }, mismatches };
    }
    const latencySeconds = (performance.now() - begin) / 1000;
    noteLatency(latencySeconds);
    stats[STAT.lastDoneSeconds] = monotonicSeconds();
    if (stats[STAT.firstDoneSeconds] === 0) stats[STAT.firstDoneSeconds] = stats[STAT.lastDoneSeconds]!;
    stats[STAT.operations]! += 1;
    stats[STAT.bytes]! += step.blockBytes;
    if (step.direction === 'read' && step.expectedPass !== null) {
      const slow = latencySeconds / (step.blockBytes / PAGE_BYTES) > FULL_CHECK_SECONDS;
      const { checkedPages, faults } = data.check(readWords, position, step.expectedPass, slow ? 1 : PAGES_PER_CHECK);
      stats[STAT.checkedBytes]! += checkedPages * PAGE_BYTES;
      mismatches.push(...faults.slice(0, MOST_MISMATCHES - mismatches.length));
    }
  }
  return { failure: null, mismatches };
}

parentPort!.on('message', (step: WorkerStep) => {
  send({ type: 'ready' });
  send({ type: 'done', ...runStep(step) });
});
send({ type: 'ready' });
