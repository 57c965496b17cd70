import { PAGE_BYTES } from '#core/1-ground/units/page.ts';
import type { DataKind } from '#core/3-jobs/recipes/option-fields.ts';

/** Nothing that compresses in use today looks back further than this within a record. */
const SMALLEST_POOL = 1024 * 1024;

const PAGE_WORDS = PAGE_BYTES / 4;
const STAMP_WORDS = 4;
const MAGIC = 0x7a5f_0c31;

/** xorshift32 (Marsaglia 2003): fast, and random enough that nothing compresses it. */
function fillRandom(words: Uint32Array, seed: number, kind: DataKind): void {
  if (kind === 'zeros') {
    words.fill(0);
    return;
  }
  let state = seed | 0 || MAGIC;
  for (let word = 0; word < words.length; word += 1) {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    words[word] = state;
  }
  if (kind === 'incompressible') return;
  for (let page = 0; page < words.length; page += PAGE_WORDS) words.fill(0, page + PAGE_WORDS / 2, page + PAGE_WORDS);
}

export interface PageMismatch {
  fileOffset: number;
  /** Offset whose data was found there instead; null when it is of no place of this run. */
  foundOffset: number | null;
}

export interface BlockCheck {
  checkedPages: number;
  faults: PageMismatch[];
}

export interface RandomData {
  /**
   * Stamps the block for a place and pass, and returns where in memory it lies. The place is a
   * multiple of the block's size, or `anywhere` in whole pages for blocks that are not checked.
   */
  blockFor(fileOffset: number, pass: number, bytes?: number): Uint8Array;
  /**
   * Checks of a block that was read whether it is what `pass` wrote there: one page in `every`, in
   * turn from pass to pass, and all of them when one is wrong.
   */
  check(block: Uint32Array, fileOffset: number, pass: number, every: number): BlockCheck;
}

/** Bytes of memory that {@link randomData} needs for a block size. */
export function randomDataBytes(blockBytes: number): number {
  return Math.max(SMALLEST_POOL, blockBytes);
}

/**
 * @param memory page-aligned, of randomDataBytes(blockBytes); shared or not
 * @param blockBytes a power of two from 4 KiB to 16 MiB
 * @param runSeed 32-bit number of the run: other runs' data is not taken for ours
 * @param kind zeros carry no stamps and cannot be checked
 */
export function randomData(
  memory: Uint8Array,
  blockBytes: number,
  runSeed: number,
  kind: DataKind = 'incompressible',
): RandomData {
  const words = new Uint32Array(memory.buffer, memory.byteOffset, memory.byteLength / 4);
  fillRandom(words, runSeed, kind);
  const poolPages = memory.byteLength / PAGE_BYTES;
  const magic = (MAGIC ^ runSeed) >>> 0;
  // One word of each page behind its stamp is checked too; its value is kept apart, so that
  // checking does not drag the whole pool through the processor's cache.
  const probeAt = (poolPage: number): number =>
    STAMP_WORDS + ((poolPage * 397 + (runSeed & 0xffff)) % (PAGE_WORDS - STAMP_WORDS));
  const probes = Uint32Array.from({ length: poolPages }, (_, page) => words[page * PAGE_WORDS + probeAt(page)]!);

  /** Word 2 of a stamp: the offset beyond 16 TB, and the pass. */
  const passWord = (firstPage: number, pass: number): number => (Math.floor(firstPage / 2 ** 32) ^ (pass << 8)) >>> 0;

  const checkPages = (block: Uint32Array, firstPage: number, pass: number, from: number, every: number): BlockCheck => {
    const third = passWord(firstPage, pass);
    const faults: PageMismatch[] = [];
    let checkedPages = 0;
    for (let page = from; page < block.length / PAGE_WORDS; page += every) {
      const at = page * PAGE_WORDS;
      const low = (firstPage + page) >>> 0;
      const poolPage = (firstPage + page) % poolPages;
      checkedPages += 1;
      const ours = block[at] === magic;
      const stamped =
        ours && block[at + 1] === low && block[at + 2] === third && block[at + 3] === (magic + low + third) >>> 0;
      if (stamped && block[at + probeAt(poolPage)] === probes[poolPage]) continue;
      faults.push({
        fileOffset: (firstPage + page) * PAGE_BYTES,
        foundOffset: ours && !stamped ? block[at + 1]! * PAGE_BYTES : null,
      });
    }
    return { checkedPages, faults };
  };

  return {
    blockFor(fileOffset, pass, bytes = blockBytes) {
      const firstPage = fileOffset / PAGE_BYTES;
      const pages = bytes / PAGE_BYTES;
      // A block that would run over the end of the pool begins at its start: it is not one that is checked.
      const wanted = firstPage % poolPages;
      const start = wanted + pages <= poolPages ? wanted : 0;
      if (kind !== 'zeros') {
        const third = passWord(firstPage, pass);
        const low = firstPage >>> 0;
        for (let page = 0, at = start * PAGE_WORDS; page < pages; page += 1, at += PAGE_WORDS) {
          words[at] = magic;
          words[at + 1] = low + page;
          words[at + 2] = third;
          words[at + 3] = magic + low + page + third;
        }
      }
      return memory.subarray(start * PAGE_BYTES, start * PAGE_BYTES + bytes);
    },
    check(block, fileOffset, pass, every) {
      const firstPage = fileOffset / PAGE_BYTES;
      const pages = block.length / PAGE_WORDS;
      const found = checkPages(block, firstPage, pass, (pass * 5) % Math.min(every, pages), every);
      return found.faults.length === 0 ? found : checkPages(block, firstPage, pass, 0, 1);
    },
  };
}
