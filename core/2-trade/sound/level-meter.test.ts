import { describe, expect, it } from 'vitest';
import { aWeight } from '#core/2-trade/sound/a-weighting.ts';
import { createLevelMeter, levelSeconds } from '#core/2-trade/sound/level-meter.ts';
import { randomFrom } from '#core/1-ground/random.ts';

const decibels = (factor: number): number => 20 * Math.log10(factor);

/** Levels of a sound of so many seconds. */
function levelsOf(sampleRate: number, seconds: number, soundAt: (second: number) => number, piece = 128): number[] {
  const levels: number[] = [];
  const take = createLevelMeter(sampleRate, (level) => levels.push(level));
  const samples = Float32Array.from({ length: seconds * sampleRate }, (_, at) => soundAt(at / sampleRate));
  for (let from = 0; from < samples.length; from += piece) take(samples.subarray(from, from + piece));
  return levels;
}

const tone =
  (hertz: number, amplitude: number) =>
  (second: number): number =>
    amplitude * Math.sin(2 * Math.PI * hertz * second);

describe('the A curve', () => {
  // IEC 61672-1, table 3, rounded there to a tenth; nominal frequencies stand for exact ones.
  it.each([
    [31.62, -39.4],
    [63.1, -26.2],
    [125.89, -16.1],
    [251.19, -8.6],
    [501.19, -3.2],
    [1000, 0],
    [1995.26, 1.2],
    [3981.07, 1],
    [7943.28, -1.1],
    [15848.93, -6.6],
  ])('weighs %d Hz with %d dB', (hertz, weight) => {
    expect(decibels(aWeight(hertz))).toBeCloseTo(weight, 0.9);
    expect(Math.abs(decibels(aWeight(hertz)) - weight)).toBeLessThan(0.06);
  });
});

describe('a level meter', () => {
  it.each([
    [1000, 48_000],
    [1000, 44_100],
    [100, 48_000],
    [120.7, 44_100],
    [4000, 48_000],
    [12_000, 48_000],
  ])('hears a tone of %d Hz at %d samples a second as loud as its mean square and the curve say', (hertz, rate) => {
    const expected = decibels(0.1 / Math.SQRT2) + decibels(aWeight(hertz));
    const levels = levelsOf(rate, 3, tone(hertz, 0.1));
    expect(levels).toHaveLength(Math.floor((3 * rate - 4096) / (6 * 4096)));
    for (const level of levels) expect(Math.abs(level - expected)).toBeLessThan(0.05);
  });

  it('adds tones by their energy', () => {
    const [hum, whine] = [tone(100, 0.3), tone(3000, 0.01)];
    const [first] = levelsOf(48_000, 1, (second) => hum(second) + whine(second));
    const power = (hertz: number, amplitude: number) => (amplitude ** 2 / 2) * aWeight(hertz) ** 2;
    expect(first).toBeCloseTo(10 * Math.log10(power(100, 0.3) + power(3000, 0.01)), 1);
  });

  it('is the same in whichever pieces the sound comes', () => {
    const random = randomFrom(7);
    const noise = Array.from({ length: 48_000 }, () => random() - 0.5);
    const sound = (second: number) => noise[Math.round(second * 48_000) % noise.length]!;
    expect(levelsOf(48_000, 2, sound, 97)).toEqual(levelsOf(48_000, 2, sound, 5000));
  });

  it('says something of silence too, and how long each level is', () => {
    expect(levelsOf(48_000, 1, () => 0)[0]).toBe(-200);
    expect(levelSeconds(48_000)).toBe(0.512);
  });
});
