import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { UNKNOWN_DEVICE } from '#engine/system/system.ts';
import { connectionNow } from '#engine/volumes/real/real-volume-info.ts';
import { fileSizesIn, findExisting } from '#engine/volumes/real/existing.ts';
import { transferFailure } from '#engine/volumes/real/failures.ts';
import { paceOf } from '#engine/volumes/real/worker-transfer.ts';
import { permutation } from '#engine/volumes/real/permutation.ts';

let home: string;
beforeEach(() => {
  home = mkdtempSync(join(tmpdir(), 'parts-test-'));
});
afterEach(() => rmSync(home, { recursive: true, force: true }));

describe('random order', () => {
  it('takes every block exactly once, and no two runs of neighbours', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3000 }), fc.integer(), (count, seed) => {
        const place = permutation(count, seed);
        const taken = Array.from({ length: count }, (_, index) => place(index));
        expect(new Set(taken).size).toBe(count);
        expect(Math.max(...taken)).toBe(count - 1);
      }),
      { numRuns: 60 },
    );
    const place = permutation(100_000, 7);
    const steps = Array.from({ length: 1000 }, (_, index) => place(index + 1) - place(index));
    expect(steps.filter((step) => step === 1).length).toBeLessThan(3);
  });
});

describe('blocks at a rate', () => {
  it('come when their bytes would have come, part blocks at the ends of files and repeated ones too', () => {
    const sizes = fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(sizes, fc.integer({ min: 1, max: 9 }), (pages, blockPages) => {
        const blockBytes = blockPages * 4096;
        let firstBlock = 0;
        const extents = pages.map((count, descriptor) => {
          const extent = { descriptor, firstBlock, bytes: count * 4096 };
          firstBlock += Math.ceil(count / blockPages);
          return extent;
        });
        const lengths = pages.flatMap((count) =>
          Array.from({ length: Math.ceil(count / blockPages) }, (_, at) =>
            Math.min(blockBytes, (count - at * blockPages) * 4096),
          ),
        );
        const due = paceOf({ extents, fromBlock: 0, blocks: lengths.length, blockBytes, pacedBytesPerSecond: 1000 })!;
        let bytes = 0;
        for (const [taken, length] of [...lengths, ...lengths].entries()) {
          bytes += length;
          expect(due(taken)).toBeCloseTo(bytes / 1000, 6);
        }
      }),
    );
    expect(paceOf({ extents: [], fromBlock: 0, blocks: 1, blockBytes: 4096, pacedBytesPerSecond: null })).toBeNull();
  });
});

describe('existing files', () => {
  it('are found largest first, in whole pages, up to the amount; links and empty ones are not', async () => {
    mkdirSync(join(home, 'deep', 'er'), { recursive: true });
    writeFileSync(join(home, 'small'), Buffer.alloc(10_000, 1));
    writeFileSync(join(home, 'deep', 'er', 'large'), Buffer.alloc(50_000, 1));
    writeFileSync(join(home, 'tiny'), 'x');
    symlinkSync('/etc/passwd', join(home, 'link'));
    const found = await findExisting(home, null);
    expect(found.files.map((file) => file.bytes)).toEqual([49_152, 8192]);
    expect(found.skippedFiles).toBe(0);
    expect((await findExisting(home, 20_000)).files).toMatchObject([{ bytes: 20_480 }]);
    expect(await fileSizesIn(home)).toEqual([1, 10_000, 50_000]);
  });
});

it('failures say what, where and what to do', () => {
  expect(transferFailure({ code: 'ENOSPC', fileOffset: 4096 }, 'write', '/mnt/a').detail).toBe(
    'The volume is full while writing at byte 4096 on /mnt/a. What was measured before is kept; free some space, or measure less.',
  );
  expect(transferFailure({ code: 'EWEIRD', fileOffset: 0 }, 'read', '/mnt/a').detail).toMatch(
    /A request failed \(EWEIRD\)/,
  );
});

it('a connection that is as it was is not another', () => {
  expect(connectionNow({ device: UNKNOWN_DEVICE, connection: { hops: [] } })).toBeNull();
});
