import { readSync, writeSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';

/**
 * The bare loop that the engine is held against: one worker for each outstanding request, synchronous calls
 * on page-aligned memory, no stamping, no checking, no latencies, no sampling.
 */
export interface BareInit {
  control: SharedArrayBuffer;
  descriptor: number;
  blockBytes: number;
  blocks: number;
  direction: 'write' | 'read';
  order: 'sequential' | 'random';
}

const { control, descriptor, blockBytes, blocks, direction, order } = workerData as BareInit;
/** A prime: with a number of blocks that is a power of two, every block comes once. */
const STRIDE = 7_368_787;

const words = new Int32Array(control);
const pages = Math.ceil(blockBytes / 65536);
const block = new Uint8Array(new WebAssembly.Memory({ initial: pages, maximum: pages }).buffer, 0, blockBytes);
for (let index = 0; index < block.length; index += 1) block[index] = (index * 2654435761) >>> 13;

parentPort!.on('message', () => {
  parentPort!.postMessage('ready');
  Atomics.wait(words, 0, 0);
  for (;;) {
    const number = Atomics.add(words, 1, 1);
    if (number >= blocks) break;
    // A large stride is random enough for a device, and costs the loop nothing.
    const place = order === 'random' ? (number * STRIDE) % blocks : number;
    if (direction === 'write') writeSync(descriptor, block, 0, blockBytes, place * blockBytes);
    else readSync(descriptor, block, 0, blockBytes, place * blockBytes);
  }
  parentPort!.postMessage('done');
});
parentPort!.postMessage('started');
