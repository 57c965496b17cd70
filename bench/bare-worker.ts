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
}

const { control, descriptor, blockBytes, blocks, direction } = workerData as BareInit;
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
    if (direction === 'write') writeSync(descriptor, block, 0, blockBytes, number * blockBytes);
    else readSync(descriptor, block, 0, blockBytes, number * blockBytes);
  }
  parentPort!.postMessage('done');
});
parentPort!.postMessage('started');
