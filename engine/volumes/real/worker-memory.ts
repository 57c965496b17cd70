import type { DataKind } from '#core/3-jobs/recipes/option-fields.ts';
import { randomData, randomDataBytes, type RandomData } from '#engine/volumes/real/random-data.ts';

/** Page-aligned memory of one I/O worker: a pool to write from and a buffer to read into. */
export interface WorkerMemory {
  data: RandomData;
  readBuffer: Uint8Array;
  readWords: Uint32Array;
}

/**
 * Memory for block sizes as they come. The memory of a WebAssembly.Memory is page-aligned, as
 * direct I/O asks; that of a Buffer is not. It is taken anew only for larger blocks than before.
 */
export function createWorkerMemory(runSeed: number) {
  let memory = new Uint8Array(0);
  let made: { blockBytes: number; kind: DataKind; parts: WorkerMemory } | undefined;
  return (blockBytes: number, kind: DataKind): WorkerMemory => {
    if (made?.blockBytes === blockBytes && made.kind === kind) return made.parts;
    const poolBytes = randomDataBytes(blockBytes);
    if (memory.length < poolBytes + blockBytes) {
      const pages = Math.ceil((poolBytes + blockBytes) / 65_536);
      memory = new Uint8Array(new WebAssembly.Memory({ initial: pages, maximum: pages }).buffer);
    }
    const readBuffer = memory.subarray(poolBytes, poolBytes + blockBytes);
    const parts: WorkerMemory = {
      data: randomData(memory.subarray(0, poolBytes), blockBytes, runSeed, kind),
      readBuffer,
      readWords: new Uint32Array(readBuffer.buffer, readBuffer.byteOffset, blockBytes / 4),
    };
    made = { blockBytes, kind, parts };
    return parts;
  };
}
