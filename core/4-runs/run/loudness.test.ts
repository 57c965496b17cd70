import { describe, expect, it } from 'vitest';
import { MOST_LEVELS, energyMean, heardIn, heardWords, thinned, type Loudness } from '#core/4-runs/run/loudness.ts';

/** Levels of half a second each: so many seconds before the run, then those of the run. */
const heardOf = (before: [number, number], ...stretches: [seconds: number, level: number][]): Loudness => ({
  fromSeconds: -before[0],
  stepSeconds: 0.5,
  levels: [before, ...stretches].flatMap(([seconds, level]) => Array.from({ length: seconds * 2 }, () => level)),
  offsetDecibels: null,
});
const words = (loudness: Loudness, moved: [number, number]): string =>
  heardWords(heardIn(loudness, moved)!, loudness.offsetDecibels).replaceAll('\u202f', ' ');

describe('what was heard of a run', () => {
  const spinning = heardOf([20, -60], [5, -40], [60, -52], [10, -60]);

  it('is told against what was heard before it', () => {
    const heard = heardIn(spinning, [5, 65])!;
    expect(heard).toMatchObject({ before: -60, underLoad: -52, loudest: { level: -40, atSeconds: 0 }, spread: 0 });
    // 10 lg(10^-5.2 − 10^-6) = −52.75.
    expect(heard.added).toBeCloseTo(-52.75, 2);
    expect(words(spinning, [5, 65])).toBe(
      'Under load 8.0 dB louder than before it began. Loudest 12.0 dB above that, 0 s after it began, as when a drive spins up.',
    );
  });

  it('is told in levels where one is known', () => {
    expect(words({ ...spinning, offsetDecibels: 90 }, [5, 65])).toBe(
      'Under load 38.0 dB(A), before it began 30.0 dB(A). Drive, enclosure and machine by themselves: 37.3 dB(A) where the microphone stood. ' +
        'Loudest 50.0 dB(A), 0 s after it began, as when a drive spins up.',
    );
  });

  it('does not tell a drive from the room where they are too near', () => {
    const quiet = heardOf([20, -60], [30, -57.5]);
    expect(heardIn(quiet, [0, 30])!.added).toBeNull();
    expect(words(quiet, [0, 30])).toMatch(
      /^Under load 2\.5 dB louder .* too little to tell the drive from the room: it takes 3\.0 dB\.$/,
    );
    expect(words(heardOf([20, -60], [30, -61]), [0, 30])).toMatch(/^Under load 1\.0 dB quieter/);
  });

  it('claims nothing of the drive where the room was not heard, and says where other sounds may be among it', () => {
    const late = { ...heardOf([2, -60], [10, -50], [10, -30]), offsetDecibels: 80 };
    const text = words(late, [0, 20]);
    expect(text).toMatch(
      /^Under load 40\.0 dB\(A\)\. Nothing was heard before it began: how much of it is the drive’s is not known\./,
    );
    expect(text).toMatch(/parts lie 20\.0 dB apart: other sounds may be among it\.$/);
  });

  it('says nothing where nothing was heard while data was moved', () => {
    expect(heardIn(heardOf([20, -60]), [0, 30])).toBeNull();
    expect(heardIn({ ...spinning, levels: spinning.levels.map(() => null) }, [0, 30])).toBeNull();
  });

  it('of many hours keeps fewer levels with the same energy', () => {
    const levels = Array.from({ length: 28_801 }, (_, at) => (at % 3 === 0 ? null : -60 + (at % 7)));
    const long = { fromSeconds: -60, stepSeconds: 0.5, levels, offsetDecibels: null };
    const short = thinned(long);
    expect(short.levels.length).toBeLessThanOrEqual(MOST_LEVELS);
    expect(short.stepSeconds * short.levels.length).toBeGreaterThanOrEqual(long.stepSeconds * levels.length);
    const known = (all: readonly (number | null)[]) => all.filter((level) => level !== null);
    expect(energyMean(known(short.levels))).toBeCloseTo(energyMean(known(levels)), 1);
    expect(thinned(spinning)).toBe(spinning);
  });
});
