import { readSync, writeSync } from 'node:fs';
import { CONTROL, STAT, type Extent, type TransferMessage } from '#engine/volumes/real/io-protocol.ts';
import { permutation } from '#engine/volumes/real/permutation.ts';
import { PAGE_BYTES } from '#core/1-ground/units/page.ts';
import { type PageMismatch } from '#engine/volumes/real/random-data.ts';
import { failureOf, waitUntil, type StepEnd, type WorkerTools } from '#engine/volumes/real/worker-tools.ts';
import { countPassing } from '#core/1-ground/numbers/search.ts';

/** More are counted as the same finding: the first few tell what is wrong. */
const MOST_MISMATCHES = 16;
/**
 * A drive that takes this long for a page (200 MB/s a request) has every page checked; on faster
 * ones, where the check would be felt in the rate, one page of so many, in turn.
 */
const FULL_CHECK_SECONDS = 20e-6;
const PAGES_PER_CHECK = 16;

/** Moves bytes whole, continuing after short reads and writes. @throws the system's error, EOF or ESHORT */
export function moveWhole(
  direction: 'write' | 'read',
  descriptor: number,
  buffer: Uint8Array,
  length: number,
  filePosition: number,
): void {
  let moved = 0;
  while (moved < length) {
    const count =
      direction === 'write'
        ? writeSync(descriptor, buffer, moved, length - moved, filePosition + moved)
        : readSync(descriptor, buffer, moved, length - moved, filePosition + moved);
    if (count === 0) throw Object.assign(new Error('the file ended early'), { code: 'EOF' });
    moved += count;
    if (moved % PAGE_BYTES !== 0) throw Object.assign(new Error('a request was cut off'), { code: 'ESHORT' });
  }
}

/** Number of the extent that holds a block; extents are in order. */
const extentAt = (extents: readonly Extent[], block: number): number =>
  Math.max(0, countPassing(extents.length, (index) => extents[index]!.firstBlock <= block) - 1);

/**
 * When blocks are due that come at a rate, each as soon as its last byte would have come; null where they come as fast
 * as it goes.
 * @returns seconds after the start for the number of a block, which counts on where a step is repeated
 */
export function paceOf({
  extents,
  fromBlock,
  blocks,
  blockBytes,
  pacedBytesPerSecond,
}: Pick<TransferMessage, 'extents' | 'fromBlock' | 'blocks' | 'blockBytes' | 'pacedBytesPerSecond'>):
  ((taken: number) => number) | null {
  if (pacedBytesPerSecond === null) return null;
  let bytes = 0;
  const before = extents.map((extent) => (bytes += extent.bytes) - extent.bytes);
  const bytesThrough = (block: number): number => {
    if (block < 0) return 0;
    const at = extentAt(extents, block);
    const extent = extents[at]!;
    return before[at]! + Math.min(extent.bytes, (block - extent.firstBlock + 1) * blockBytes);
  };
  const first = bytesThrough(fromBlock - 1);
  const round = bytesThrough(fromBlock + blocks - 1) - first;
  return (taken) =>
    (Math.floor(taken / blocks) * round + bytesThrough(fromBlock + (taken % blocks)) - first) / pacedBytesPerSecond;
}

/** Takes block after block from the shared counter and moves it, until all are taken or it is stopped. */
export function runTransfer(step: TransferMessage, tools: WorkerTools, runSeed: number): StepEnd {
  const { control, stats } = tools;
  const { extents, direction, blockBytes, blocks } = step;
  const { data, readBuffer, readWords } = tools.memoryFor(blockBytes, step.data);
  const place = step.order === 'random' ? permutation(blocks, runSeed ^ step.pass) : (index: number) => index;
  const mismatches: PageMismatch[] = [];
  const single = extents.length === 1 ? extents[0]! : null;
  const dueSeconds = paceOf(step);
  tools.waitForGo();
  const start = stats[STAT.startSeconds]!;
  while (Atomics.load(control, CONTROL.stop) === 0) {
    const taken = Atomics.add(control, CONTROL.nextBlock, 1);
    if (taken >= blocks && !step.repeat) break;
    const number = taken % blocks;
    if (dueSeconds && !waitUntil(start + dueSeconds(taken), tools)) break;
    const block = step.fromBlock + place(number);
    const extent = single ?? extents[extentAt(extents, block)]!;
    const filePosition = (block - extent.firstBlock) * blockBytes;
    const length = Math.min(blockBytes, extent.bytes - filePosition);
    const position = block * blockBytes;
    const buffer = direction === 'write' ? data.blockFor(position, step.pass) : readBuffer;
    const begin = performance.now();
    try {
      moveWhole(direction, extent.descriptor, buffer, length, filePosition);
    } catch (error) {
      return { failure: failureOf(error, position), mismatches };
    }
    const seconds = tools.noteRequest(begin, length);
    if (direction === 'read' && step.expectedPass !== null) {
      const slow = seconds / (blockBytes / PAGE_BYTES) > FULL_CHECK_SECONDS;
      const { checkedPages, faults } = data.check(readWords, position, step.expectedPass, slow ? 1 : PAGES_PER_CHECK);
      stats[STAT.checkedBytes]! += checkedPages * PAGE_BYTES;
      mismatches.push(...faults.slice(0, MOST_MISMATCHES - mismatches.length));
    }
  }
  return { failure: null, mismatches };
}
