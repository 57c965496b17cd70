import { describe, expect, it } from 'vitest';
import { normalFrom, randomFrom } from '#core/1-ground/random.ts';
import { noiseOf, segmentsOf, sortedOf, withoutSpikes, type SampledRates } from '#core/4-runs/trace/segments.ts';

/** Samples of a second each, of levels of known logarithmic rate, with noise of a known deviation on top. */
function sampled(levels: readonly { length: number; rate: number }[], sigma: number, seed: number): SampledRates {
  const normal = normalFrom(randomFrom(seed));
  const logRates = Float64Array.from(
    levels.flatMap(({ length, rate }) => Array.from({ length }, () => Math.log(rate) + sigma * normal())),
  );
  let bytes = 0;
  return {
    logRates,
    seconds: logRates.map((_, index) => index + 1),
    bytes: logRates.map((logRate) => (bytes += Math.exp(logRate))),
  };
}

/** What neighbours share: each value is so much of the one before and fresh noise beside. */
function correlated(length: number, memory: number, sigma: number, seed: number): Float64Array {
  const normal = normalFrom(randomFrom(seed));
  let value = 0;
  return Float64Array.from({ length }, () => {
    value = memory * value + Math.sqrt(1 - memory ** 2) * sigma * normal();
    return value;
  });
}

const segmented = (samples: SampledRates) => segmentsOf(samples, noiseOf(samples.logRates));

describe('the noise of a trace', () => {
  it.each([0.02, 0.05, 0.12])('of deviation %f is found within a tenth, and shares nothing', (sigma) => {
    const { stepSigma, sigma: whole, inflation } = noiseOf(correlated(20_000, 0, sigma, 7));
    expect(Math.abs(stepSigma / sigma - 1)).toBeLessThan(0.1);
    expect(Math.abs(whole / sigma - 1)).toBeLessThan(0.15);
    expect(inflation).toBeLessThan(1.5);
  });

  it('is not taken for small where neighbours share most of it', () => {
    const { stepSigma, sigma, inflation } = noiseOf(correlated(20_000, 0.6, 0.1, 7));
    // From one to the next it only moves by √(2 · (1 − ρ)) of its deviation.
    expect(Math.abs(stepSigma / (0.1 * Math.sqrt(0.4)) - 1)).toBeLessThan(0.1);
    expect(Math.abs(sigma / 0.1 - 1)).toBeLessThan(0.15);
    // (1 + ρ)/(1 − ρ) is 4.
    expect(inflation).toBeGreaterThan(2.8);
    expect(inflation).toBeLessThan(5);
  });

  it('is never quite nothing, nor made of a few large steps', () => {
    expect(noiseOf(new Float64Array(500)).stepSigma).toBe(0.005);
    const teeth = Float64Array.from({ length: 600 }, (_, index) => (Math.floor(index / 60) % 2 === 0 ? 0 : -2));
    expect(noiseOf(teeth).stepSigma).toBe(0.005);
  });
});

describe('spikes', () => {
  it('of one or two samples go, and steps stay where they are', () => {
    const flat = new Float64Array(40).fill(3);
    const spiked = Float64Array.from(flat);
    spiked[10] = 9;
    [spiked[20], spiked[21]] = [-4, -5];
    expect([...withoutSpikes(spiked, 0.02)]).toEqual([...flat]);
    const step = Float64Array.from({ length: 40 }, (_, index) => (index < 17 ? 3 : 1));
    expect([...withoutSpikes(step, 0.02)]).toEqual([...step]);
    const dip = Float64Array.from({ length: 40 }, (_, index) => (index >= 10 && index < 13 ? 1 : 3));
    expect([...withoutSpikes(dip, 0.02)]).toEqual([...dip]);
  });

  it('are told from noise by four times its deviation, and by a tenth at least', () => {
    const at = (height: number, sigma: number) => {
      const values = new Float64Array(20);
      values[10] = height;
      return withoutSpikes(values, sigma)[10];
    };
    expect(at(0.09, 0.005)).toBe(0.09);
    expect(at(0.11, 0.005)).toBe(0);
    expect(at(0.39, 0.1)).toBe(0.39);
    expect(at(0.41, 0.1)).toBe(0);
  });
});

describe('the levels of a trace', () => {
  it('end at the very sample where it falls', () => {
    const samples = sampled(
      [
        { length: 83, rate: 2e9 },
        { length: 140, rate: 4e8 },
      ],
      0.05,
      3,
    );
    expect(segmented(samples)).toEqual([0, 83, 223]);
  });

  it('are all found within two samples, whatever they are, and nearly never more than there are', () => {
    let [traces, exact] = [0, 0];
    for (let seed = 1; seed <= 300; seed += 1) {
      const random = randomFrom(seed);
      const oneOf = (values: readonly number[]) => values[Math.floor(random() * values.length)]!;
      let rate = 1e9;
      const levels = Array.from({ length: 1 + Math.floor(6 * random()) }, () => ({
        length: 20 + Math.floor(100 * random()),
        rate: (rate *= oneOf([0.25, 0.4, 0.6, 1.8, 3])),
      }));
      const found = segmented(sampled(levels, oneOf([0.02, 0.05, 0.08]), seed));
      let end = 0;
      for (const { length } of levels) {
        end += length;
        const off = Math.min(...found.map((boundary) => Math.abs(boundary - end)));
        expect(off, `seed ${seed}: a level that ends at ${end}`).toBeLessThanOrEqual(2);
      }
      traces += 1;
      if (found.length === levels.length + 1) exact += 1;
    }
    expect(exact / traces).toBeGreaterThan(0.97);
  });

  it('are one where it only makes noise, in nearly all of two hundred traces', () => {
    let split = 0;
    for (let seed = 1; seed <= 200; seed += 1) {
      if (segmented(sampled([{ length: 300, rate: 5e8 }], 0.08, seed)).length > 2) split += 1;
    }
    expect(split).toBeLessThanOrEqual(2);
  });

  it('that differ by less than six in a hundred are one', () => {
    const near = (share: number) =>
      segmented(
        sampled(
          [
            { length: 200, rate: 1e9 },
            { length: 200, rate: share * 1e9 },
          ],
          0.006,
          11,
        ),
      );
    expect(near(0.96)).toEqual([0, 400]);
    expect(near(0.92)).toEqual([0, 200, 400]);
  });

  it('are not looked for in a handful of samples', () => {
    const few = sampled(
      [
        { length: 3, rate: 1e9 },
        { length: 4, rate: 1e8 },
      ],
      0.01,
      1,
    );
    expect(segmentsOf(few, noiseOf(few.logRates))).toEqual([0, 7]);
  });
});

describe('sorting a long range', () => {
  it('takes all of few values, and a spread of very many', () => {
    expect([...sortedOf(Float64Array.from([3, 1, 2, 9]), 0, 3)]).toEqual([1, 2, 3]);
    const random = randomFrom(5);
    const many = Float64Array.from({ length: 100_000 }, () => random());
    const sorted = sortedOf(many);
    expect(sorted.length).toBeLessThanOrEqual(4096);
    expect(sorted[Math.floor(sorted.length / 2)]).toBeCloseTo(0.5, 1);
    expect([...sorted]).toEqual([...sorted].sort((a, b) => a - b));
  });
});
