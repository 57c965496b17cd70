import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FROM_MEMORY, longestRequest, requestRate, shareSlowerThan } from '#core/4-runs/supply/request-rate.ts';
import { LADDER_BLOCKS, LADDER_DEPTHS, ladderSupply, trueRate } from '#core/testing/requests.ts';

const DRIVE = { requestSeconds: 0.0001, bytesPerSecond: 2e9, parallel: 8 };
const MANY = { ...DRIVE, parallel: 1000 };

describe('the rate of requests of a size', () => {
  it('is that of the ladder on its rungs', () => {
    const supply = ladderSupply(DRIVE);
    for (const block of LADDER_BLOCKS)
      for (const depth of LADDER_DEPTHS)
        expect(requestRate(supply, block, depth)!.bytesPerSecond).toBeCloseTo(trueRate(DRIVE, block, depth), 0);
  });

  it('is right between rungs of one depth, where a request is a time of its own plus its bytes', () => {
    const supply = ladderSupply(MANY);
    fc.assert(
      fc.property(fc.integer({ min: 4096, max: 4_194_304 }), (block) => {
        const { bytesPerSecond } = requestRate(supply, block, 1)!;
        expect(bytesPerSecond / trueRate(MANY, block, 1)).toBeCloseTo(1, 6);
      }),
    );
  });

  it('is never told too high between depths and sizes, nor by half too low', () => {
    const supply = ladderSupply(DRIVE);
    fc.assert(
      fc.property(fc.integer({ min: 12, max: 22 }), fc.integer({ min: 1, max: 16 }), (power, depth) => {
        const ratio = requestRate(supply, 2 ** power, depth)!.bytesPerSecond / trueRate(DRIVE, 2 ** power, depth);
        expect(ratio).toBeLessThan(1.001);
        expect(ratio).toBeGreaterThan(0.5);
      }),
    );
  });

  it('goes no higher for more at a time than was measured, nor quicker below the smallest rung', () => {
    const supply = ladderSupply(DRIVE);
    expect(requestRate(supply, 65_536, 64)!.bytesPerSecond).toBe(requestRate(supply, 65_536, 16)!.bytesPerSecond);
    expect(requestRate(supply, 2048, 1)!.requestSeconds).toBeCloseTo(DRIVE.requestSeconds + 4096 / 2e9, 9);
    const one = { ...supply, rungs: supply.rungs.filter(({ depth }) => depth === 16) };
    expect(requestRate(one, 65_536, 4)!.bytesPerSecond).toBeCloseTo(
      requestRate(one, 65_536, 16)!.bytesPerSecond / 4,
      6,
    );
    const single = { ...supply, rungs: supply.rungs.slice(0, 1) };
    // One rung says how long 4 KiB take and no more: larger requests are taken to be as slow.
    expect(requestRate(single, 65_536, 1)!.bytesPerSecond).toBeCloseTo(trueRate(DRIVE, 4096, 1), 0);
  });

  it('promises nothing beyond the largest rung that was not seen, and does not call it measured', () => {
    const supply = ladderSupply(MANY);
    const beyond = requestRate(supply, 16_777_216, 1)!;
    const seen = Math.max(...supply.rungs.filter(({ depth }) => depth === 1).map((rung) => rung.bytesPerSecond));
    expect(beyond.bytesPerSecond).toBeLessThanOrEqual(seen * (1 + 1e-9));
    expect(beyond.bytesPerSecond / seen).toBeCloseTo(1, 1);
    expect(beyond.isMeasured).toBe(false);
    expect(requestRate(ladderSupply(MANY, { ceilingBytesPerSecond: 1e8 }), 16_777_216, 1)!.bytesPerSecond).toBe(1e8);
  });

  it('of two ladders is that of the slower, size by size', () => {
    const rung = (blockBytes: number, bytesPerSecond: number) => ({
      ...ladderSupply(MANY).rungs[0]!,
      blockBytes,
      depth: 1,
      bytesPerSecond,
    });
    const twice = {
      ...ladderSupply(MANY),
      rungs: [1, 2].flatMap((run) => [rung(4 << 20, run * 110e6), rung(16 << 20, run * 100e6)]),
    };
    const rate = requestRate(twice, 16 << 20, 1)!;
    expect(rate.bytesPerSecond).toBeCloseTo(100e6, 0);
    expect(rate.isMeasured).toBe(true);
    expect(requestRate(twice, 64 << 20, 1)!.bytesPerSecond).toBeLessThanOrEqual(110e6);
  });

  it('is at most the rate in one go where there is no ladder, and says so', () => {
    const plain = ladderSupply(DRIVE, { rungs: [], ceilingBytesPerSecond: 5e8 });
    expect(requestRate(plain, 65_536, 4)).toEqual({
      bytesPerSecond: 5e8,
      requestSeconds: (4 * 65_536) / 5e8,
      isMeasured: false,
      mayBeMore: false,
    });
    expect(requestRate({ ...plain, sequentialBytesPerSecond: null }, 65_536, 4)).toBeNull();
    expect(requestRate(FROM_MEMORY, 65_536, 4)!.bytesPerSecond).toBe(Infinity);
  });
});

describe('single slow requests', () => {
  const supply = ladderSupply(DRIVE);
  const middle = DRIVE.requestSeconds + 65_536 / DRIVE.bytesPerSecond;

  it('are as many as the middle and the 99th percentile say', () => {
    expect(shareSlowerThan(supply, 65_536, 1, middle)).toBeCloseTo(0.5, 3);
    expect(shareSlowerThan(supply, 65_536, 1, 3 * middle)).toBeCloseTo(0.01, 3);
    expect(shareSlowerThan(supply, 65_536, 1, 0)).toBe(1);
  });

  it('are never slower than the slowest that was seen', () => {
    expect(longestRequest(supply, 65_536, 1)).toBeCloseTo(30 * middle, 9);
    expect(shareSlowerThan(supply, 65_536, 1, 30 * middle)).toBe(0);
    expect(shareSlowerThan(supply, 65_536, 1, 29 * middle)).toBeGreaterThan(0);
  });

  it('grow rarer the longer they are', () => {
    const times = fc.double({ min: 1e-6, max: 0.01, noNaN: true });
    fc.assert(
      fc.property(times, times, (one, other) => {
        const [short, long] = [Math.min(one, other), Math.max(one, other)];
        expect(shareSlowerThan(supply, 65_536, 4, long)!).toBeLessThanOrEqual(
          shareSlowerThan(supply, 65_536, 4, short)! + 1e-9,
        );
      }),
    );
  });

  it('are not known without a ladder', () => {
    expect(shareSlowerThan(FROM_MEMORY, 65_536, 1, 1)).toBeNull();
    expect(longestRequest(FROM_MEMORY, 65_536, 1)).toBeNull();
  });
});
