import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitTimes, rateBeyondWhich } from '#core/3-jobs/demand/observed/fit-times.ts';
import { observationLine, parseObservation, type Observation } from '#core/3-jobs/demand/observed/observation.ts';

const seen = (bytesPerSecond: number, ...seconds: number[]): Observation => ({
  label: `${bytesPerSecond}`,
  bytesPerSecond,
  seconds,
  isWarm: false,
});

describe('times seen on several drives', () => {
  it('give back the parts that they were made of', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1e5, noNaN: true }),
        fc.double({ min: 1e6, max: 1e13, noNaN: true }),
        fc.uniqueArray(fc.integer({ min: 50, max: 7000 }), { minLength: 2, maxLength: 6 }),
        (other, bytes, rates) => {
          const fit = fitTimes(rates.map((rate) => seen(rate * 1e6, other + bytes / (rate * 1e6))))!;
          const largest = other + bytes / (Math.min(...rates) * 1e6);
          expect(Math.abs(fit.otherSeconds - other)).toBeLessThan(1e-6 * largest + 1e-9);
          // Times differ by little where rates do: what their last digits are worth in bytes.
          const apart = 1 / (Math.min(...rates) * 1e6) - 1 / (Math.max(...rates) * 1e6);
          const digits = (16 * Number.EPSILON * largest) / apart;
          expect(Math.abs(fit.bytes - bytes)).toBeLessThan(1e-5 * bytes + digits);
        },
      ),
    );
  });

  it('are never taken for negative parts', () => {
    // Faster on the slower drive: the drive has no part in it.
    const upside = fitTimes([seen(100e6, 10), seen(1000e6, 12)])!;
    expect(upside).toMatchObject({ bytes: 0, otherSeconds: 11 });
    // More than proportional: nothing is left for the rest.
    const steep = fitTimes([seen(100e6, 100), seen(200e6, 40)])!;
    expect(steep.otherSeconds).toBe(0);
    // Least squares through the origin: Σxy ÷ Σx².
    expect(steep.bytes).toBeCloseTo((100 / 100e6 + 40 / 200e6) / (1 / 100e6 ** 2 + 1 / 200e6 ** 2), 0);
  });

  it('know how sure they are, from repeats', () => {
    const fit = fitTimes([seen(100e6, 30.2, 29.8), seen(1000e6, 12.1, 11.9)])!;
    expect(fit.otherSeconds).toBeCloseTo(10, 6);
    expect(fit.bytes).toBeCloseTo(2e9, -2);
    // Residuals of 0.2, 0.2, 0.1, 0.1 over two degrees of freedom.
    const variance = (2 * 0.2 ** 2 + 2 * 0.1 ** 2) / 2;
    const [slow, fast] = [1 / 100e6, 1 / 1000e6];
    const mean = (slow + fast) / 2;
    const spread = 2 * (slow - mean) ** 2 + 2 * (fast - mean) ** 2;
    expect(fit.bytesError).toBeCloseTo(Math.sqrt(variance / spread), 0);
    expect(fit.otherError).toBeCloseTo(Math.sqrt(variance * (1 / 4 + mean ** 2 / spread)), 6);
    expect(fitTimes([seen(100e6, 30), seen(1000e6, 12)])).toMatchObject({ otherError: null, bytesError: null });
  });

  it('set apart what is far off and what was warm', () => {
    const fit = fitTimes([
      seen(100e6, 30, 30.1, 29.9),
      seen(500e6, 14, 14.1, 25),
      seen(1000e6, 12, 11.9),
      { ...seen(200e6, 6), isWarm: true },
    ])!;
    expect(fit.times.filter((one) => one.isOutlier).map((one) => one.seconds)).toEqual([25]);
    expect(fit.otherSeconds).toBeCloseTo(10, 0);
    expect(fit.times.find((one) => one.isWarm)).toMatchObject({ isOutlier: false });
    expect(fit.times).toHaveLength(9);
  });

  it('need two drives that are not alike', () => {
    expect(fitTimes([])).toBeNull();
    expect(fitTimes([seen(100e6, 1, 2, 3)])).toBeNull();
    expect(fitTimes([seen(100e6, 1), { ...seen(200e6, 2), isWarm: true }])).toBeNull();
  });

  it('say beyond which rate a drive wins little', () => {
    expect(rateBeyondWhich(3600, 310e9, 0.05)).toBeCloseTo((19 * 310e9) / 3600, 0);
    expect(rateBeyondWhich(0, 310e9, 0.05)).toBeNull();
    expect(rateBeyondWhich(10, 0, 0.05)).toBe(0);
  });
});

describe('a line of times', () => {
  it('is read as it is written', () => {
    const line = 'Anchor 16T, the old one, 190 MB/s: 1h 28min, 5301 s warm';
    expect(parseObservation(line)).toEqual({
      label: 'Anchor 16T, the old one',
      bytesPerSecond: 190e6,
      seconds: [5280, 5301],
      isWarm: true,
    });
    expect(parseObservation(observationLine(parseObservation(line)))).toEqual(parseObservation(line));
  });

  it('says what is wrong with it', () => {
    expect(() => parseObservation('Anchor')).toThrow(/no drive with its times/);
    expect(() => parseObservation('Anchor, 190: 5 s')).toThrow(/rate/);
    expect(() => parseObservation('Anchor, 190 MB/s: soon')).toThrow(/time span/);
    expect(() => parseObservation('Anchor, 190 MB/s: 0 s')).toThrow(/more than nothing/);
  });
});
