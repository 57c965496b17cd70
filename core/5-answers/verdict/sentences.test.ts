import { describe, expect, it } from 'vitest';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { MB, demandFrom } from '#core/testing/curves.ts';
import { verdictSentence } from '#core/5-answers/verdict/sentences.ts';
import { UNKNOWN, type Verdict } from '#core/5-answers/verdict/verdict.ts';

const demand = demandFrom({
  bytesPerSecond: 200 * MB,
  streams: 2,
  takeSeconds: 2400,
  takes: 3,
  formatText: '1920×1080 4:2:2 10-bit at 25',
});
const verdict: Verdict = {
  ...UNKNOWN,
  verdict: 'holds',
  reason: 'carried',
  guaranteedBytesPerSecond: 330 * MB,
  leastBufferBytes: 0,
  provenBytes: 480e9,
  provenSeconds: 2400,
  runId: 'run',
};
const say = (changes: Partial<Verdict>, of: Partial<Demand> = {}, doubts: Parameters<typeof verdictSentence>[2] = []) =>
  verdictSentence({ ...demand, ...of }, { ...verdict, ...changes }, doubts).replaceAll('\u202f', ' ');

describe('sentences that can be read aloud', () => {
  it('say what holds, for how long and with how much to spare', () => {
    expect(say({})).toBe(
      'Records two streams of 1920×1080 4:2:2 10-bit at 25 for all three takes of 40 min, all of them staying on the drive, with 65 % to spare.',
    );
    expect(say({}, { direction: 'read', streams: 1 })).toBe(
      'Plays one stream of 1920×1080 4:2:2 10-bit at 25 for the whole 40 min, with 65 % to spare.',
    );
    expect(say({ guaranteedBytesPerSecond: 7200 * MB })).toMatch(/, at 36 times the rate needed\.$/);
    expect(say({ verdict: 'tight', guaranteedBytesPerSecond: 216 * MB })).toMatch(
      /, but only just: with 8 % to spare\.$/,
    );
  });

  it('say what breaks, when, at how many bytes and why', () => {
    const broken = {
      verdict: 'breaks',
      breaksAtSeconds: 223,
      breaksAtBytes: 120e9,
      guaranteedBytesPerSecond: 147 * MB,
    } as const;
    expect(say({ ...broken, reason: 'too-slow' })).toBe(
      'Drops its first frame after 3 min 43 s, at 120 GB: carries 147 of the 200 MB/s needed.',
    );
    expect(say({ ...broken, reason: 'too-slow' }, { direction: 'read' })).toMatch(
      /^Shows its first frame late after 3 min 43 s/,
    );
    expect(say({ ...broken, reason: 'too-slow' }, { framesPerSecond: null })).toMatch(/^Loses its first data after/);
    expect(say({ ...broken, reason: 'full' }, { takes: 1 })).toBe(
      'Is full after 3 min 43 s: the take needs 480 GB and 120 GB can be used.',
    );
    expect(say({ ...broken, reason: 'full', breaksInTake: 2 })).toBe(
      'Is full 3 min 43 s into take 2 of three: each needs 480 GB, all of them staying on the drive.',
    );
    const off = { between: 'take-off', takeOffSeconds: 1800 } as const;
    expect(say({ ...broken, reason: 'full', breaksInTake: 2, unknownFromTake: 2 }, off)).toBe(
      'Is full at the latest 3 min 43 s into take 2 of three: each needs 480 GB, each taken off in 30 min.',
    );
    expect(say({ ...broken, reason: 'too-slow', breaksAtLatestSeconds: 300 })).toMatch(
      /^Drops its first frame after 3 min 43 s at the soonest and 5 min at the latest, at 120 GB/,
    );
  });

  it('say what is not proven, and what is', () => {
    const open = { verdict: 'not-proven', provenSeconds: 3.6 } as const;
    expect(say({ ...open, reason: 'too-short' })).toBe(
      'Carries 200 MB/s for the first 3.6 s; the rest of the 40 min is not proven.',
    );
    expect(say({ ...open, reason: 'later-takes' })).toBe(
      'The first take of 40 min holds at 200 MB/s; the two after it are not proven.',
    );
    expect(say({ ...open, reason: 'no-run' })).toBe('No run of this drive says anything about writing 200 MB/s.');
    const doubt = {
      code: 'buffered',
      effect: 'too-high',
      direction: 'write',
      evidence: 'Half of it was in memory.',
      advice: '',
      atSeconds: null,
    } as const;
    expect(say({ ...open, reason: 'doubtful' }, {}, [doubt])).toBe(
      'Showed 330 MB/s where 200 MB/s are needed, but that run proves neither way: half of it was in memory.',
    );
    expect(say({ ...open, reason: 'several-streams', guaranteedBytesPerSecond: 330 * MB })).toBe(
      'One stream would do, but two at once make this drive seek, and that has not been measured.',
    );
    expect(say({ ...open, reason: 'several-streams', guaranteedBytesPerSecond: 90 * MB })).toMatch(
      /requests in no order came to 90 MB\/s of the 200 MB\/s needed\.$/,
    );
    expect(say({ ...open, reason: 'mixed' })).toMatch(/^Recording and playing at the same time has not been measured/);
  });

  it('say what was done, what is only a bound, and which take is meant', () => {
    expect(say({ reason: 'done', guaranteedBytesPerSecond: 200 * MB, verdict: 'tight' })).toMatch(
      /for all three takes of 40 min, all of them staying on the drive, as it did frame by frame, but only just: with nothing to spare\.$/,
    );
    expect(say({ continuedAlong: 'floor' })).toMatch(/to spare\. The end of it is the floor seen, taken to go on\.$/);
    const broken = { verdict: 'breaks', reason: 'too-slow', breaksAtSeconds: 60, breaksAtBytes: 12e9 } as const;
    expect(say({ ...broken, atLeast: true })).toMatch(/^Drops its first frame after at least 1 min, at 12 GB/);
    expect(say({ ...broken, breaksInTake: 2 })).toMatch(
      /^Take 2 drops its first frame after 1 min: the takes follow each other without a gap/,
    );
    expect(say({ ...broken, reason: 'mixed', guaranteedBytesPerSecond: 160 * MB })).toMatch(
      /^Cannot record and play at the same time: its link goes one way at a time, and carries 160 MB\/s of both/,
    );
  });
});
