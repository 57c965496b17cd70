import { describe, expect, it } from 'vitest';
import type { Demand } from '#core/demand/footage-demand.ts';
import type { Verdict } from '#core/verdict/judge.ts';
import { verdictSentence } from '#core/verdict/sentences.ts';

const MB = 1e6;
const demand: Demand = {
  itemId: 'item',
  name: 'Two cameras',
  direction: 'write',
  bytesPerSecond: 200 * MB,
  peakBytesPerSecond: 200 * MB,
  framesPerSecond: 25,
  streams: 2,
  takeSeconds: 2400,
  takes: 3,
  gapSeconds: 0,
  bufferBytes: 200 * MB,
  formatText: '1920×1080 4:2:2 10-bit at 25',
};
const verdict: Verdict = {
  verdict: 'holds',
  reason: 'carried',
  breaksAtSeconds: null,
  breaksAtBytes: null,
  guaranteedBytesPerSecond: 330 * MB,
  leastBufferBytes: 0,
  provenBytes: 480e9,
  provenSeconds: 2400,
  continued: false,
  runId: 'run',
  wouldProve: null,
};
const say = (changes: Partial<Verdict>, of: Partial<Demand> = {}, doubts: Parameters<typeof verdictSentence>[2] = []) =>
  verdictSentence({ ...demand, ...of }, { ...verdict, ...changes }, doubts).replaceAll('\u202f', ' ');

describe('sentences that can be read aloud', () => {
  it('say what holds, for how long and with how much to spare', () => {
    expect(say({})).toBe(
      'Records two streams of 1920×1080 4:2:2 10-bit at 25 for all three takes of 40 min, with 65 % to spare.',
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
    expect(say({ ...broken, reason: 'too-slow' }, { framesPerSecond: null })).toMatch(/^Loses its first samples after/);
    expect(say({ ...broken, reason: 'full' })).toBe(
      'Is full after 3 min 43 s: the take needs 480 GB and 120 GB can be used.',
    );
  });

  it('say what is not proven, and what is', () => {
    const open = { verdict: 'not-proven', provenSeconds: 3.6 } as const;
    expect(say({ ...open, reason: 'too-short' })).toBe(
      'Carries 200 MB/s for the 3.6 s measured; the rest of the 40 min is not proven.',
    );
    expect(say({ ...open, reason: 'later-takes' })).toBe(
      'The first take of 40 min holds at 200 MB/s; the two after it are not proven.',
    );
    expect(say({ ...open, reason: 'no-run' })).toBe(
      'Not proven: no run of this drive says anything about writing 200 MB/s.',
    );
    const doubt = {
      code: 'buffered',
      effect: 'too-high',
      direction: 'write',
      evidence: 'Half of it was in memory.',
      advice: '',
      atSeconds: null,
    } as const;
    expect(say({ ...open, reason: 'doubtful' }, {}, [doubt])).toBe(
      'Carried 200 MB/s for the 3.6 s measured, which proves nothing yet. Half of it was in memory.',
    );
  });
});
