import { describe, expect, it } from 'vitest';
import type { Connection } from '#core/2-trade/links/connection.ts';
import {
  missingParts,
  parseProfile,
  profileOn,
  profileRunOf,
  profilesOf,
  supplyOf,
} from '#core/4-runs/supply/profile.ts';
import { runOf } from '#core/testing/run-of.ts';
import { MB } from '#core/testing/curves.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';

const steady = (rate: number, seconds: number) => Array<number>(seconds).fill(rate);
const drive = { id: 'd', label: 'Made up', medium: 'flash' } as const;
const hop = (ceilingBytesPerSecond: number): Connection => ({
  hops: [{ linkId: 'given', label: 'given', lanes: 1, ceilingBytesPerSecond, capableBytesPerSecond: null }],
});

/** 40 s fast, then so many at a floor, with the temperature at the end of it. */
function filled(floorSeconds: number, celsius: (second: number) => number = () => 50): RunDocument {
  const run = runOf([
    { direction: 'write', phase: 'allocating', rates: [...steady(2000 * MB, 40), ...steady(400 * MB, floorSeconds)] },
  ]);
  run.recipe = 'long-fill';
  const { series } = run.conditions;
  for (let second = 1; second <= 40 + floorSeconds; second += 1) {
    series.atSeconds.push(second);
    series.temperatureCelsius.push(celsius(second));
    series.foreignBytesPerSecond.push(0);
    series.processorShare.push(0.1);
  }
  return run;
}
const write = (run: RunDocument) => profileRunOf(run).traces[0]!;

describe('how far a run is taken to go on', () => {
  it('is four times its floor when the floor lasted and the temperature had settled', () => {
    const { provenBytes, continuedBytes, kneeBytes } = write(filled(90));
    expect(kneeBytes! / 1e9).toBeCloseTo(80, 0);
    expect(provenBytes).toBe(116e9);
    expect(continuedBytes! / 1e9).toBeCloseTo(116 + 4 * 36, 0);
  });

  it('is its own bytes when the floor was short, small, or still warming up', () => {
    expect(write(filled(45)).continuedBytes).toBe(98e9);
    expect(write(filled(90, (second) => 40 + second / 20)).continuedBytes).toBe(116e9);
    const small = runOf([{ direction: 'write', rates: [...steady(200 * MB, 40), ...steady(40 * MB, 90)] }]);
    expect(write(small).continuedBytes).toBe(8e9 + 3.6e9);
  });

  it('follows the tracks of a spinning drive and never its last level', () => {
    const rates = Array.from({ length: 400 }, (_, second) => Math.sqrt(250 ** 2 - 60 * second) * MB);
    const run = runOf([{ direction: 'write', rates }], 'spinning');
    const { curves, continuedBytes, provenBytes } = write(run);
    const { slower } = curves[0]!.continuation!;
    expect(continuedBytes).toBeGreaterThan(provenBytes);
    // Each repetition is slower than the one before, all of them slower than what was seen.
    expect(slower[0]).toBeGreaterThan(1);
    expect([...slower].sort((a, b) => a - b)).toEqual(slower);
  });
});

describe('the profile of a drive', () => {
  it('is one for each connection, the latest first, and comes through its own schema', () => {
    const adds = profileRunOf(filled(90));
    const profiles = profilesOf(drive, [
      { connection: hop(1e9), adds },
      { connection: hop(2e9), adds },
      { connection: hop(1e9), adds },
    ]);
    expect(profiles.map((one) => [one.connection.hops[0]!.ceilingBytesPerSecond, one.runs.length])).toEqual([
      [1e9, 2],
      [2e9, 1],
    ]);
    const again = parseProfile(JSON.parse(JSON.stringify(profiles[0])));
    expect(supplyOf(again)).toEqual(supplyOf(profiles[0]!));
    expect(adds).toMatchObject({ fillShare: 0.4, startCelsius: 50 });
  });

  it('of a connection is that of the link it hangs on, whatever a person typed of it, and none of another', () => {
    const adds = profileRunOf(filled(90));
    const [fast, slow] = profilesOf(drive, [
      { connection: hop(2e9), adds },
      { connection: hop(1e9), adds },
    ]);
    const typed = { ...fast!, connection: hop(3e9), detected: fast!.connection };
    expect(profileOn([fast!, slow!], hop(1e9))).toBe(slow);
    expect(profileOn([typed, slow!], hop(2e9))).toBe(typed);
    expect(profileOn([typed, slow!], hop(3e9))).toBeNull();
    expect(profileOn([fast!, slow!], { hops: [] })).toBeNull();
  });

  it('says where a document is at fault', () => {
    const [profile] = profilesOf(drive, [{ connection: hop(1e9), adds: profileRunOf(filled(90)) }]);
    const broken = (change: (document: { runs: { traces: { curves: { seconds: unknown[] }[] }[] }[] }) => void) => {
      const document = JSON.parse(JSON.stringify(profile)) as Parameters<typeof change>[0];
      change(document);
      return () => parseProfile(document);
    };
    expect(broken((one) => one.runs[0]!.traces[0]!.curves[0]!.seconds.pop())).toThrow(/as many seconds as bytes/);
    expect(broken((one) => (one.runs[0]!.traces[0]!.curves[0]!.seconds[1] = 'x'))).toThrow(
      /run 1, trace 1, curve 1, second 2/,
    );
    expect(() => parseProfile({ ...profile, tavrox: 'profile/9' })).toThrow(/tavrox/);
  });

  it('lends what a rest gives back to the runs that made none, the least of what was seen', () => {
    const resting = profileRunOf(filled(90));
    const point = (restSeconds: number, regainedBytes: number) => ({ restSeconds, regainedBytes, atLeast: false });
    resting.traces[0]!.recovery = [point(60, 5e9), point(300.2, 30e9), point(300, 20e9)];
    const supply = supplyOf({ drive, runs: [profileRunOf(filled(90)), resting] });
    expect(supply.traces[0]!.recovery.map((one) => [Math.round(one.restSeconds), one.regainedBytes])).toEqual([
      [60, 5e9],
      [300, 20e9],
    ]);
  });

  it('names what is missing', () => {
    const nothing = missingParts(supplyOf({ drive, runs: [] }));
    expect(nothing).toHaveLength(2);
    const known = missingParts(supplyOf({ drive, runs: [profileRunOf(filled(90))] }));
    expect(known.join(' ')).toMatch(/Reading has not been measured.*What a rest gives back/);
    const seeking = { ...drive, medium: 'spinning' } as const;
    expect(missingParts(supplyOf({ drive: seeking, runs: [] })).join(' ')).toMatch(/Several streams at once/);
  });
});
