import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomFrom } from '#core/random.ts';
import { MB, anyBuffer, anyProgress, curveFrom, progressOf } from '#core/testing/curves.ts';
import { bytesAt, progressBytes, progressDuration, type Progress } from '#core/trace/progress.ts';
import { CORNER, curveBytes, exactCurve, reducedCurve, type SupplyCurve } from '#core/trace/supply-curve.ts';
import {
  breakByClock,
  firstOverflow,
  guaranteedRate,
  leastBuffer,
  readingBreak as readingBreakAt,
  writingBreak as writingBreakAt,
  type Break,
} from '#core/verdict/backlog.ts';

function writingBreak(curve: SupplyCurve, demand: number, buffer: number): Break | null {
  const found = firstOverflow(curve, demand, buffer);
  return found && writingBreakAt(found, demand, buffer);
}

function readingBreak(curve: SupplyCurve, demand: number, buffer: number): Break | null {
  const found = firstOverflow(curve, demand, buffer);
  return found && readingBreakAt(found);
}

/** All windows, one by one. */
function slowGuaranteedRate({ seconds, bytes }: Progress, buffer: number): number {
  let least = Infinity;
  for (let from = 0; from < seconds.length; from += 1) {
    for (let to = from + 1; to < seconds.length; to += 1) {
      least = Math.min(least, (bytes[to]! - bytes[from]! + buffer) / (seconds[to]! - seconds[from]!));
    }
  }
  return least;
}

/** Writing in steps of a thousandth: what comes in waits, the drive takes what its curve gives it. */
function brutePeakBacklog(progress: Progress, demand: number, step: number): number {
  let [clock, waiting, most] = [0, 0, 0];
  const end = progressDuration(progress);
  while (clock < end) {
    waiting += demand * step;
    const could = bytesAt(progress, clock + step) - bytesAt(progress, clock);
    // Nothing waits: the drive stands still and its curve with it. Time only passes while something does.
    waiting = Math.max(0, waiting - could);
    clock += step;
    most = Math.max(most, waiting);
  }
  return most;
}

/** The part of a progress between two places, as a progress of its own. */
function partOf({ seconds, bytes }: Progress, fromBytes: number, toBytes: number): Progress {
  const secondsAt = (wanted: number): number => {
    const after = bytes.findIndex((value) => value >= wanted);
    const share = (wanted - bytes[after - 1]!) / (bytes[after]! - bytes[after - 1]!);
    return seconds[after - 1]! + share * (seconds[after]! - seconds[after - 1]!);
  };
  const inner = bytes.flatMap((value, index) => (value > fromBytes && value < toBytes ? [index] : []));
  const origin = secondsAt(fromBytes);
  return {
    seconds: [0, ...inner.map((index) => seconds[index]! - origin), secondsAt(toBytes) - origin],
    bytes: [0, ...inner.map((index) => bytes[index]! - fromBytes), toBytes - fromBytes],
  };
}

describe('closed forms', () => {
  const cache = curveFrom([25, 2000 * MB], [2000, 90 * MB]);

  it('a cache of 50 GB under 530 MB/s breaks 1.2045 s after the knee, at 95.54 s and 50.11 GB', () => {
    const found = writingBreak(cache, 530 * MB, 530 * MB)!;
    expect(50e9 / (530 * MB)).toBeCloseTo(94.34, 2);
    expect(found.seconds).toBeCloseTo(94.3396 + 1.20455, 3);
    expect(found.bytes / 1e9).toBeCloseTo(50.108, 3);
  });

  it('a stall of 2 s under 400 MB/s needs a buffer of 800 MB', () => {
    const stalled = curveFrom([10, 1000 * MB], [2, 0], [10, 1000 * MB]);
    expect(leastBuffer(stalled, 400 * MB)).toBeCloseTo(800 * MB, 0);
    expect(writingBreak(stalled, 400 * MB, 799 * MB)).not.toBeNull();
    expect(writingBreak(stalled, 400 * MB, 801 * MB)).toBeNull();
    // Recording reaches the stall's byte after 25 s and fills 700 MB within 1.75 s more.
    expect(writingBreak(stalled, 400 * MB, 700 * MB)!.seconds).toBeCloseTo(26.75, 6);
    // Playing may begin just before it.
    expect(readingBreak(stalled, 400 * MB, 700 * MB)!.seconds).toBeCloseTo(1.75, 6);
  });

  it('by the clock, what is not in the buffer has reached the drive', () => {
    expect(breakByClock(10, 400 * MB, 1e9)).toEqual({ seconds: 10, bytes: 3e9 });
    expect(breakByClock(1, 400 * MB, 1e9)).toEqual({ seconds: 1, bytes: 0 });
  });

  it('a steady curve guarantees its rate, and the buffer spread over its length', () => {
    expect(guaranteedRate(curveFrom([10, 100]), 0)).toBeCloseTo(100, 9);
    expect(guaranteedRate(curveFrom([10, 100]), 50)).toBeCloseTo(105, 9);
  });

  it('only the bytes of the job count, and those of a later take from where it begins', () => {
    expect(guaranteedRate(cache, 0, { toBytes: 50e9 })).toBeCloseTo(2000 * MB, 0);
    expect(guaranteedRate(cache, 0, { fromBytes: 50e9 })).toBeCloseTo(90 * MB, 0);
    // 1 GB past the knee at 90 MB/s: 25 s + 11.1 s for 51 GB.
    expect(guaranteedRate(cache, 1e9, { toBytes: 51e9 })).toBeCloseTo(2e9 / (1e9 / (90 * MB)), 0);
  });

  it('a curve that goes on repeats its stretch, slower where told', () => {
    const going = { ...cache, continuation: { fromCorner: 1, toCorner: 2, slower: [1, 2] } };
    const floor = 2000 * 90 * MB;
    expect(guaranteedRate(going, 0, { fromBytes: 50e9 + floor, toBytes: 50e9 + 2 * floor })).toBeCloseTo(90 * MB, 0);
    expect(guaranteedRate(going, 0, { fromBytes: 50e9 + 2 * floor })).toBeCloseTo(45 * MB, 0);
    expect(writingBreak(going, 80 * MB, 1e9)!.bytes).toBeGreaterThan(50e9 + 2 * floor);
  });
});

describe('properties', () => {
  it('agrees with all windows one by one', () => {
    fc.assert(
      fc.property(anyProgress(), anyBuffer, (progress, buffer) => {
        const slow = slowGuaranteedRate(progress, buffer);
        expect(Math.abs(guaranteedRate(exactCurve(progress), buffer) - slow)).toBeLessThanOrEqual(1e-9 * slow);
      }),
    );
  });

  it('asks of a part of a curve what it asks of a curve that is that part', () => {
    const anyShare = fc.double({ min: 0.001, max: 0.999, noNaN: true });
    fc.assert(
      fc.property(
        anyProgress(),
        anyBuffer,
        fc.double({ min: 1, max: 1000, noNaN: true }),
        fc.tuple(anyShare, anyShare),
        (progress, buffer, demand, shares) => {
          const all = progressBytes(progress);
          const [fromBytes, toBytes] = shares.map((share) => share * all).sort((a, b) => a - b) as [number, number];
          fc.pre(all > 1 && toBytes - fromBytes > 1e-3 * all);
          const whole = exactCurve(progress);
          const part = exactCurve(partOf(progress, fromBytes, toBytes));
          const range = { fromBytes, toBytes };
          const rate = guaranteedRate(part, buffer);
          expect(Math.abs(guaranteedRate(whole, buffer, range) / rate - 1)).toBeLessThan(1e-6);
          const least = leastBuffer(part, demand);
          expect(Math.abs(leastBuffer(whole, demand, range) - least)).toBeLessThan(1e-6 * (least + all));
          const [found, expected] = [firstOverflow(whole, demand, buffer, range), firstOverflow(part, demand, buffer)];
          // Where the backlog just fills the buffer at the very end, rounding decides.
          if (Math.abs(least - buffer) < 1e-6 * all) return;
          expect(found === null).toBe(expected === null);
          if (!found || !expected) return;
          for (const key of ['seconds', 'bytes', 'sinceSeconds', 'sinceBytes'] as const) {
            const scale = key.toLowerCase().includes('bytes') ? all : progressDuration(progress);
            expect(Math.abs(found[key] - expected[key]), key).toBeLessThan(1e-6 * scale);
          }
        },
      ),
      { numRuns: 300 },
    );
  });

  it('agrees with a simulation in small steps', () => {
    fc.assert(
      fc.property(anyProgress(8), fc.double({ min: 1, max: 900, noNaN: true }), (progress, demand) => {
        const step = progressDuration(progress) / 20_000;
        const brute = brutePeakBacklog(progress, demand, step);
        expect(Math.abs(leastBuffer(exactCurve(progress), demand) - brute)).toBeLessThanOrEqual(
          4 * step * (demand + 900),
        );
      }),
      { numRuns: 40 },
    );
  });

  it('breaks exactly above the guaranteed rate and with less than the least buffer', () => {
    fc.assert(
      fc.property(
        anyProgress(),
        anyBuffer,
        fc.double({ min: 1, max: 1000, noNaN: true }),
        (progress, buffer, demand) => {
          const curve = exactCurve(progress);
          const rate = guaranteedRate(curve, buffer);
          fc.pre(Math.abs(demand - rate) > 1e-6 * rate);
          expect(writingBreak(curve, demand, buffer) !== null).toBe(demand > rate);
          const needed = leastBuffer(curve, demand);
          if (needed > 1e-6) expect(writingBreak(curve, demand, needed * 0.999)).not.toBeNull();
          expect(writingBreak(curve, demand, needed * 1.001 + 1e-6)).toBeNull();
        },
      ),
    );
  });

  it('more buffer, a faster drive and a shorter job never hurt', () => {
    const share = fc.double({ min: 0.1, max: 0.99, noNaN: true });
    fc.assert(
      fc.property(anyProgress(), anyBuffer, anyBuffer, share, (progress, buffer, more, part) => {
        const curve = exactCurve(progress);
        const rate = guaranteedRate(curve, buffer);
        const faster = exactCurve({ ...progress, seconds: progress.seconds.map((second) => second * part) });
        const atLeast = rate * (1 - 1e-9);
        expect(guaranteedRate(curve, buffer + more)).toBeGreaterThanOrEqual(atLeast);
        expect(guaranteedRate(faster, buffer)).toBeGreaterThanOrEqual(atLeast);
        expect(guaranteedRate(curve, buffer, { toBytes: progressBytes(progress) * part })).toBeGreaterThanOrEqual(
          atLeast,
        );
      }),
    );
  });

  it('does not depend on the unit of bytes', () => {
    fc.assert(
      fc.property(anyProgress(), anyBuffer, (progress, buffer) => {
        const inKilo = exactCurve({ ...progress, bytes: progress.bytes.map((bytes) => bytes / 1000) });
        expect(guaranteedRate(inKilo, buffer / 1000) * 1000).toBeCloseTo(
          guaranteedRate(exactCurve(progress), buffer),
          6,
        );
      }),
    );
  });
});

describe('a reduced curve', () => {
  /** A trace of many samples with noise, a knee, stalls and other dips, the same for a seed. */
  function trace(seed: number, samples: number): Progress {
    const random = randomFrom(seed);
    const knee = random() < 0.5 ? Infinity : samples * random();
    const high = 200 + 2000 * random();
    const low = high * (0.1 + 0.5 * random());
    const noise = 0.3 * random();
    return progressOf(
      ...Array.from({ length: samples }, (_, index): [number, number] => {
        const level = (index > knee ? low : high) * (1 + noise * (2 * random() - 1));
        return [0.1, random() < 0.002 ? 0 : level];
      }),
    );
  }

  it('keeps at most 2,000 corners and guarantees what the trace does, to a thousandth and never more', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 2500, max: 12_000 }), (seed, samples) => {
        const progress = trace(seed, samples);
        const [exact, reduced] = [exactCurve(progress), reducedCurve(progress)];
        expect(reduced.kinds.length).toBeLessThanOrEqual(2000);
        expect(curveBytes(reduced)).toBe(progressBytes(progress));
        for (const buffer of [0, 20, 300, 2000, 50_000]) {
          const truth = guaranteedRate(exact, buffer);
          const rate = guaranteedRate(reduced, buffer);
          expect(rate).toBeLessThanOrEqual(truth * (1 + 1e-9));
          expect(rate).toBeGreaterThanOrEqual(truth * 0.999);
        }
      }),
      { numRuns: 25 },
    );
  });

  it('is never above the trace wherever the job ends, and never breaks later', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1e6 }),
        fc.double({ min: 0.05, max: 1, noNaN: true }),
        fc.double({ min: 0.3, max: 1.5, noNaN: true }),
        fc.double({ min: 0.15, max: 30, noNaN: true }),
        (seed, share, factor, bufferSeconds) => {
          const progress = trace(seed, 8000);
          const [exact, reduced] = [exactCurve(progress), reducedCurve(progress)];
          const demand = (factor * progressBytes(progress)) / progressDuration(progress);
          const range = { toBytes: share * progressBytes(progress) };
          const buffer = bufferSeconds * demand;
          expect(guaranteedRate(reduced, buffer, range)).toBeLessThanOrEqual(
            guaranteedRate(exact, buffer, range) * (1 + 1e-9),
          );
          // A stall that exactly fills the buffer may be told either way.
          const truth = firstOverflow(exact, demand, buffer * (1 + 1e-6), range);
          const found = firstOverflow(reduced, demand, buffer, range);
          if (truth === null) return;
          expect(found).not.toBeNull();
          // Within one sample nothing is known of where: a tenth of a second.
          const sample = Math.max(...progress.bytes.slice(1).map((bytes, row) => bytes - progress.bytes[row]!));
          expect(found!.bytes).toBeLessThanOrEqual(truth.bytes + sample);
          // How early is a matter of the buffer: where backlog only just reaches it, it may be an earlier swing.
          const scant = firstOverflow(exact, demand, buffer * 0.9, range);
          expect(found!.bytes).toBeGreaterThan(scant!.bytes - 0.05 * progressBytes(progress));
        },
      ),
      { numRuns: 25 },
    );
  });

  it('keeps the places it is told to, and short traces whole', () => {
    const progress = trace(3, 6000);
    const keep = progressBytes(progress) / 3;
    const reduced = reducedCurve(progress, [keep], 500);
    const corner = reduced.bytes.findIndex((bytes, index) => reduced.kinds[index] === CORNER.point && bytes >= keep);
    expect(reduced.bytes[corner]).toBe(progress.bytes.find((bytes) => bytes >= keep));
    expect(reducedCurve(trace(3, 100)).kinds).toHaveLength(101);
  });
});
