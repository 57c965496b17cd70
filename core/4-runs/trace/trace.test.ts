import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bucketOf, bucketUpperSeconds, percentileSeconds, BUCKET_COUNT } from '#core/4-runs/run/histogram.ts';
import { runDocumentSchema } from '#core/4-runs/run/run-document.ts';
import { runOf } from '#core/testing/run-of.ts';
import { decimate } from '#core/4-runs/trace/decimate.ts';
import { figuresOf } from '#core/4-runs/trace/figures.ts';
import { passesOf } from '#core/4-runs/trace/passes.ts';
import { bytesAt, cutAtBytes, worstWindow } from '#core/1-ground/curves/progress.ts';
import { coefficientOfVariation, meanOfKnown, median, medianInterval95 } from '#core/1-ground/numbers/statistics.ts';

const steady = (rate: number, seconds = 3) => Array<number>(seconds).fill(rate);
const write = (rate: number, more = {}) => ({ direction: 'write', rates: steady(rate), ...more }) as const;
const read = (rate: number) => ({ direction: 'read', rates: steady(rate) }) as const;

describe('passes and figures', () => {
  it('are what was put in', () => {
    const run = runOf([
      write(50, { phase: 'sizing' }),
      write(100),
      read(200),
      write(110),
      read(220),
      write(120),
      read(210),
    ]);
    const figures = figuresOf(run);
    expect(figures.write).toMatchObject({
      medianBytesPerSecond: 110,
      lowestPassBytesPerSecond: 100,
      highestPassBytesPerSecond: 120,
      passes: 3,
    });
    expect(figures.read).toMatchObject({
      medianBytesPerSecond: 210,
      worstSecondBytesPerSecond: 200,
      longestPassBytes: 660,
    });
    expect(runDocumentSchema.isValidSync(run)).toBe(true);
  });

  it('count the flush in the time of a pass, than which no second of it can have been better', () => {
    const { write: figures } = figuresOf(runOf([write(100, { flushSeconds: 1 })]));
    expect(figures).toMatchObject({ medianBytesPerSecond: 75, worstSecondBytesPerSecond: 75, flushSeconds: 1 });
  });

  it('set the first pass apart only when it lies outside what the later ones span', () => {
    const apart = (first: number) =>
      figuresOf(runOf([write(first, { phase: 'allocating' }), write(100), write(104), write(98)])).write!.passesApart;
    expect([60, 95, 101, 130].map(apart)).toEqual([1, 0, 0, 1]);
  });

  it('set the wait of a drive that spins up apart from its rate', () => {
    const { write: figures } = figuresOf(runOf([{ direction: 'write', rates: [0, 0, 0, 100, 100] }]));
    expect(figures).toMatchObject({
      spinUpSeconds: 3,
      medianBytesPerSecond: 100,
      worstSecondBytesPerSecond: 100,
      seconds: 2,
    });
  });

  it('leave out a last pass that was cut short before its half', () => {
    const cut = runOf([write(100), write(100), { direction: 'write', rates: [10] }]);
    expect(figuresOf(cut).write).toMatchObject({ passes: 2, lowestPassBytesPerSecond: 100 });
    expect(figuresOf(runOf([])).write).toBeNull();
  });

  it('count the requests that ended between two looks at the clock', () => {
    const run = runOf([write(100)]);
    const { samples } = run;
    const last = samples.atSeconds.length - 1;
    for (const column of Object.values(samples) as unknown[][]) column.push(column[last]);
    samples.cumulativeBytes[last + 1]! += 50;
    const [pass] = passesOf(run);
    expect(pass).toMatchObject({ bytes: 350, transferSeconds: 3 });
    expect(pass!.intervals.at(-1)!.toBytes).toBe(350);
  });

  it('never lose a byte when samples are gathered into intervals', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 1000 }), { minLength: 1, maxLength: 40 }), (rates) => {
        const [pass] = passesOf(runOf([{ direction: 'write', rates }]));
        const total = rates.reduce((sum, rate) => sum + rate, 0);
        if (total === 0) {
          expect(pass).toBeUndefined();
          return;
        }
        expect(pass!.bytes).toBe(total);
        const bytes = pass!.intervals.reduce((sum, interval) => sum + interval.toBytes - interval.fromBytes, 0);
        expect(bytes).toBe(total);
      }),
    );
  });
});

describe('windows', () => {
  const dip = { seconds: [0, 4, 4.5, 10], bytes: [0, 400, 400, 950] };

  it('find the worst second wherever it begins', () => {
    expect(worstWindow(dip, 1)).toBeCloseTo(50, 9);
    expect(worstWindow(dip, 10)).toBeCloseTo(95, 9);
    expect(worstWindow(dip, 11)).toBeNull();
  });

  it('cut a curve at a byte, and read it between its points', () => {
    expect(cutAtBytes(dip, 200)).toEqual({ seconds: [0, 2], bytes: [0, 200] });
    expect(bytesAt(dip, 4.25)).toBe(400);
    expect(bytesAt(dip, 99)).toBe(950);
  });

  it('agree with a fine search', () => {
    const curve = fc.array(fc.tuple(fc.integer({ min: 1, max: 20 }), fc.integer({ min: 0, max: 50 })), {
      minLength: 2,
      maxLength: 12,
    });
    fc.assert(
      fc.property(curve, (pieces) => {
        const progress = { seconds: [0], bytes: [0] };
        for (const [tenths, bytes] of pieces) {
          progress.seconds.push(progress.seconds.at(-1)! + tenths / 10);
          progress.bytes.push(progress.bytes.at(-1)! + bytes);
        }
        const duration = progress.seconds.at(-1)!;
        fc.pre(duration >= 1);
        let least = Infinity;
        for (let start = 0; start <= duration - 1 + 1e-9; start += 0.05)
          least = Math.min(least, bytesAt(progress, start + 1) - bytesAt(progress, start));
        expect(worstWindow(progress, 1)!).toBeCloseTo(least, 6);
      }),
    );
  });
});

describe('spread', () => {
  it('gives the median an interval from six values on', () => {
    expect(medianInterval95([1, 2, 3, 4, 5])).toBeNull();
    expect(medianInterval95([6, 1, 5, 2, 4, 3])).toEqual([1, 6]);
    // n = 20: the 6th and 15th ordered values cover 95.9 % (standard table).
    expect(medianInterval95(Array.from({ length: 20 }, (_, index) => index + 1))).toEqual([6, 15]);
  });

  it('has its usual meaning', () => {
    expect(median([3, 1, 2])).toBe(2);
    expect(median([4, 1, 2, 3])).toBe(2.5);
    expect(coefficientOfVariation([90, 110])).toBeCloseTo(Math.SQRT2 / 10, 12);
  });

  it('of known values leaves out what is not known', () => {
    expect(meanOfKnown([1, null, 3])).toBe(2);
    expect(meanOfKnown([null])).toBeNull();
    expect(median([])).toBeNaN();
    expect(coefficientOfVariation([0, 0])).toBe(0);
    expect(coefficientOfVariation([1, 3])).toBeCloseTo(Math.SQRT2 / 2, 12);
  });

  it('covers the median with no less than 95 % by its ordered values', () => {
    // P(between the k-th and the (n+1−k)-th) = 1 − 2·Σ_{i<k} C(n,i)/2^n.
    const intervalOf = (n: number) => medianInterval95(Array.from({ length: n }, (_, index) => index + 1));
    expect(intervalOf(5)).toBeNull();
    expect(intervalOf(6)).toEqual([1, 6]);
    expect(intervalOf(8)).toEqual([1, 8]);
    expect(intervalOf(9)).toEqual([2, 8]);
    expect(intervalOf(20)).toEqual([6, 15]);
    expect(intervalOf(40)).toEqual([14, 27]);
  });
});

describe('latency histogram', () => {
  it('knows a percentile to the width of a bucket, on the safe side', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 1e-6, max: 10, noNaN: true }), { minLength: 1, maxLength: 200 }),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        (values, share) => {
          const counts = Array<number>(BUCKET_COUNT).fill(0);
          for (const value of values) counts[bucketOf(value)]! += 1;
          const exact = [...values].sort((a, b) => a - b)[Math.max(1, Math.ceil(share * values.length)) - 1]!;
          const found = percentileSeconds(counts, share)!;
          expect(found).toBeGreaterThanOrEqual(exact * (1 - 1e-9));
          expect(found).toBeLessThanOrEqual(Math.max(exact, 1e-6) * 2 ** (1 / 8) * (1 + 1e-9));
        },
      ),
    );
  });

  it('keeps what is beyond its ends', () => {
    expect(bucketOf(0)).toBe(0);
    expect(bucketOf(1e6)).toBe(BUCKET_COUNT - 1);
    expect(bucketUpperSeconds(BUCKET_COUNT - 1)).toBeGreaterThan(100);
    expect(percentileSeconds([], 0.5)).toBeNull();
  });
});

describe('decimation', () => {
  it('keeps every dip and peak, and draws no more columns than asked for', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 1000 }), { minLength: 1, maxLength: 300 }),
        fc.integer({ min: 1, max: 50 }),
        (rates, columns) => {
          const [pass] = passesOf(runOf([{ direction: 'write', rates }]));
          for (const axis of ['bytes', 'seconds'] as const) {
            const end = axis === 'bytes' ? pass!.intervals.at(-1)!.toBytes : pass!.intervals.at(-1)!.toSeconds;
            const drawn = decimate(pass!.intervals, axis, 0, end, columns);
            expect(drawn.length).toBeLessThanOrEqual(columns);
            expect(Math.min(...drawn.map((column) => column.low))).toBe(Math.min(...rates));
            expect(Math.max(...drawn.map((column) => column.high))).toBe(Math.max(...rates));
            for (const { low, mean, high } of drawn) {
              expect(mean).toBeGreaterThanOrEqual(low - 1e-9);
              expect(mean).toBeLessThanOrEqual(high + 1e-9);
            }
          }
        },
      ),
    );
  });
});
