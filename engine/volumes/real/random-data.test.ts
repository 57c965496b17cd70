import { gzipSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PAGE_BYTES } from '#core/1-ground/units/page.ts';
import { randomData, randomDataBytes } from '#engine/volumes/real/random-data.ts';

const BLOCK = 64 * 1024;
const SEED = 0x1234_5678;
const STRETCH_BYTES = 16 * 1024 * 1024;
const memory = new Uint8Array(randomDataBytes(BLOCK));
const data = randomData(memory, BLOCK, SEED);
const read = (fileOffset: number, pass: number) => {
  const copy = data.blockFor(fileOffset, pass).slice();
  return { bytes: copy, words: new Uint32Array(copy.buffer) };
};
const anyOffset = fc.integer({ min: 0, max: 2 ** 26 }).map((block) => block * BLOCK);

describe('the data written', () => {
  it('does not compress', () => {
    const { bytes } = read(3 * BLOCK, 1);
    expect(gzipSync(bytes).length).toBeGreaterThan(0.99 * bytes.length);
  });

  it('has no two equal pages, in one pass or across passes', () => {
    const pages = new Set<string>();
    for (const pass of [1, 2]) {
      for (let offset = 0; offset < STRETCH_BYTES; offset += BLOCK) {
        const { bytes } = read(offset, pass);
        for (let at = 0; at < BLOCK; at += PAGE_BYTES) pages.add(Buffer.from(bytes.buffer, at, 64).toString('latin1'));
      }
    }
    expect(pages.size).toBe((2 * STRETCH_BYTES) / PAGE_BYTES);
  });

  it('is recognised at its own place and pass, whatever was stamped since', () => {
    fc.assert(
      fc.property(anyOffset, anyOffset, fc.integer({ min: 0, max: 500 }), (offset, other, pass) => {
        const { words } = read(offset, pass);
        data.blockFor(other, pass + 1);
        expect(data.check(words, offset, pass, 1)).toEqual({ checkedPages: BLOCK / PAGE_BYTES, faults: [] });
        expect(data.check(words, offset, pass + 1, 16).faults).toHaveLength(BLOCK / PAGE_BYTES);
      }),
    );
  });

  it('tells where misplaced data comes from, as on a drive of falsified capacity', () => {
    const { words } = read(8 * BLOCK, 3);
    expect(data.check(words, 40 * BLOCK, 3, 16).faults[0]).toEqual({ fileOffset: 40 * BLOCK, foundOffset: 8 * BLOCK });
  });

  it('is checked page by page in turn when there is no time for all', () => {
    const seen = new Set<number>();
    for (let pass = 0; pass < 16; pass += 1) {
      for (let page = 0; page < 16; page += 1) {
        const { words } = read(0, pass);
        words.fill(0, page * 1024, (page + 1) * 1024);
        const { checkedPages, faults } = data.check(words, 0, pass, 16);
        if (faults.length > 0) seen.add(page);
        else expect(checkedPages).toBe(1);
      }
    }
    expect(seen.size).toBe(16);
  });

  it('is missed when a page is zeroed or belongs to another run', () => {
    const { words } = read(0, 1);
    words.fill(0, 1024, 2048);
    expect(data.check(words, 0, 1, 1).faults).toEqual([{ fileOffset: PAGE_BYTES, foundOffset: null }]);
    const foreign = randomData(new Uint8Array(randomDataBytes(BLOCK)), BLOCK, SEED + 1);
    expect(data.check(new Uint32Array(foreign.blockFor(0, 1).slice().buffer), 0, 1, 16).faults).toHaveLength(
      BLOCK / PAGE_BYTES,
    );
  });
});
