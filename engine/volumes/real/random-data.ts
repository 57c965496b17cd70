/**
 * Data that no drive can shorten: random bytes, of which no two blocks are alike, and which can
 * be checked when they are read back. The file is thought of as stretches of 16 MiB; each stretch
 * repeats one random pool of 4,096 pages, turned by an amount that depends on the stretch and on
 * the pass, and each 4 KiB page carries a 16-byte stamp of run, pass and its own offset. Making a
 * block is thus stamping only; checking it compares every stamp and one random word of each page.
 */
export const PAGE_BYTES = 4096;
export const POOL_PAGES = 4096;
export const STRETCH_BYTES = PAGE_BYTES * POOL_PAGES;
export const SMALLEST_BLOCK = PAGE_BYTES;
export const LARGEST_BLOCK = STRETCH_BYTES;

const PAGE_WORDS = PAGE_BYTES / 4;
const MAGIC = 0x7a5f_0c31;

/** xorshift32 (Marsaglia 2003): fast, and random enough that nothing compresses it. */
function* wordsFrom(seed: number): Generator<number> {
  let state = seed | 0 || MAGIC;
  for (;;) {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    yield state;
  }
}

/** Mixes two 32-bit numbers (the finaliser of MurmurHash3 on their combination). */
function mix(a: number, b: number): number {
  let h = Math.imul(a, 0x9e3779b1) ^ Math.imul(b + 0x7f4a7c15, 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

/** Which page of the pool a page of the file takes in a pass. */
function poolPage(filePage: number, pass: number): number {
  const stretch = Math.floor(filePage / POOL_PAGES);
  return (filePage + mix(stretch, pass)) % POOL_PAGES;
}

export interface PageMismatch {
  fileOffset: number;
  foundOffset: number | null;
}

/**
 * The pool of one worker. `memory` must hold one stretch and one largest block of the session
 * behind it, so that a block that runs past the pool's end finds its start repeated there.
 */
export interface RandomData {
  /** Stamps the block for a file offset and pass, and returns where in `memory` it lies. */
  blockFor(fileOffset: number, pass: number): Uint8Array;
  /** Pages of a block that was read that are not what `pass` wrote there. */
  check(block: Uint32Array, fileOffset: number, pass: number): PageMismatch[];
}

/** Bytes of memory that {@link randomData} needs for blocks up to `blockBytes`. */
export function randomDataBytes(blockBytes: number): number {
  return STRETCH_BYTES + blockBytes;
}

/**
 * @param memory page-aligned; shared or not
 * @param blockBytes multiple of 4,096, at most 16 MiB, dividing it
 * @param runSeed 32-bit number of the run: other runs' data is not taken for ours
 */
export function randomData(memory: Uint8Array, blockBytes: number, runSeed: number): RandomData {
  const words = new Uint32Array(memory.buffer, memory.byteOffset, memory.byteLength / 4);
  const source = wordsFrom(runSeed);
  const poolWords = STRETCH_BYTES / 4;
  for (let word = 0; word < poolWords; word += 1) words[word] = source.next().value as number;
  words.copyWithin(poolWords, 0, blockBytes / 4);

  const stampPage = (word: number, filePage: number, pass: number): void => {
    words[word] = MAGIC ^ runSeed;
    words[word + 1] = filePage;
    words[word + 2] = Math.floor(filePage / 2 ** 32) ^ (pass << 8);
    words[word + 3] = mix(filePage, pass ^ runSeed);
  };

  return {
    blockFor(fileOffset, pass) {
      const firstPage = fileOffset / PAGE_BYTES;
      const start = poolPage(firstPage, pass) * PAGE_BYTES;
      for (let page = 0; page < blockBytes / PAGE_BYTES; page += 1) {
        stampPage(start / 4 + page * PAGE_WORDS, firstPage + page, pass);
      }
      return memory.subarray(start, start + blockBytes);
    },
    check(block, fileOffset, pass) {
      const faults: PageMismatch[] = [];
      const firstPage = fileOffset / PAGE_BYTES;
      for (let page = 0; page < block.length / PAGE_WORDS; page += 1) {
        const filePage = firstPage + page;
        const at = page * PAGE_WORDS;
        const sampled = 4 + (mix(filePage, pass + 1) % (PAGE_WORDS - 4));
        const stamped = block[at] === (MAGIC ^ runSeed) >>> 0 && block[at + 1] === filePage >>> 0 && block[at + 3] === mix(filePage, pass ^ runSeed);
        if (stamped && block[at + sampled] === words[poolPage(filePage, pass) * PAGE_WORDS + sampled]) continue;
        const ours = block[at] === (MAGIC ^ runSeed) >>> 0;
        faults.push({
          fileOffset: filePage * PAGE_BYTES,
          foundOffset: ours && !stamped ? block[at + 1]! * PAGE_BYTES : null,
        });
      }
      return faults;
    },
  };
}
