import { closeSync, constants, ftruncateSync, openSync, readSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { parentPort, workerData } from 'node:worker_threads';

/** The plain loop that a copy is held against: file by file, block by block, read and then written. */
interface Work {
  source: string;
  target: string;
  files: readonly { path: string; bytes: number }[];
  blockBytes: number;
  /** Int32 number of the next file to take. */
  next: SharedArrayBuffer;
}

const { source, target, files, blockBytes, next } = workerData as Work;
const counter = new Int32Array(next);
const PAGE = 4096;
const memory = new Uint8Array(new WebAssembly.Memory({ initial: Math.ceil(blockBytes / 65_536) }).buffer);

parentPort!.once('message', () => {
  for (;;) {
    const file = files[Atomics.add(counter, 0, 1)];
    if (!file) break;
    const from = openSync(join(source, file.path), constants.O_RDONLY | constants.O_DIRECT);
    const flags = constants.O_WRONLY | constants.O_CREAT | constants.O_EXCL | constants.O_DIRECT;
    const to = openSync(join(target, file.path), flags, 0o600);
    if (file.bytes > blockBytes) ftruncateSync(to, file.bytes);
    for (let at = 0; at < file.bytes; at += blockBytes) {
      const length = Math.min(blockBytes, Math.ceil((file.bytes - at) / PAGE) * PAGE);
      readSync(from, memory, 0, length, at);
      writeSync(to, memory, 0, length, at);
    }
    if (file.bytes % PAGE !== 0) ftruncateSync(to, file.bytes);
    closeSync(from);
    closeSync(to);
  }
  parentPort!.postMessage('done');
});
parentPort!.postMessage('ready');
