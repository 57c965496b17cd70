import { describe, expect, it } from 'vitest';
import { parseDriveLine } from '#core/2-trade/drives/drive-line.ts';
import { drawnCurve, promisedRun } from '#core/4-runs/supply/promised.ts';
import { parseProfile, profilesOf, supplyOf } from '#core/4-runs/supply/profile.ts';
import { readQuestion } from '#core/5-answers/ask/question.ts';
import { FIRST_QUESTION } from '#core/5-answers/ask/question-texts.ts';
import { answerOf } from '#core/5-answers/verdict/answer.ts';
import { judgedItems } from '#core/5-answers/verdict/judge-workload.ts';
import { verdictName } from '#core/5-answers/verdict/verdict.ts';

const supplyFrom = (line: string) => {
  const typed = { id: 'd-1', createdAt: '2026-01-01T00:00:00.000Z', ...parseDriveLine(line) };
  const [profile] = profilesOf({ id: 'd-1', label: typed.label, medium: typed.medium }, [
    { connection: { hops: typed.details.hops ?? [] }, adds: promisedRun(typed)! },
  ]);
  return supplyOf(parseProfile(JSON.parse(JSON.stringify(profile))));
};
const judged = (line: string, question: Partial<typeof FIRST_QUESTION>, room: number | null = null) =>
  judgedItems(
    readQuestion({ ...FIRST_QUESTION, ...question }).workload!,
    supplyFrom(line),
    { headroomShare: 0.25 },
    room,
  );
const wordOn = (line: string, question: Partial<typeof FIRST_QUESTION>) =>
  verdictName(judged(line, question)[0]!.verdict);

describe('what a box promises', () => {
  const FLASH = '2 TB flash, writes 2000 MB/s, then 500 MB/s after 100 GB, reads 3000 MB/s';

  it('would hold, would just hold and would break, and never holds', () => {
    const of = (what: string) => wordOn(FLASH, { what, length: '10 min' });
    expect(of('400 MB/s')).toBe('Would hold');
    expect(of('480 MB/s')).toBe('Would just hold');
    expect(of('600 MB/s')).toBe('Would break');
    const [one] = judged(FLASH, { what: '400 MB/s', length: '10 min' });
    expect(one!.verdict.isPromise).toBe(true);
    expect(one!.sentence).toMatch(
      /^Would record .*Nothing of this was measured: it is what its box promises, while it is empty\.$/,
    );
    expect(answerOf([one!]).lead).not.toMatch(/^Yes/);
  });

  it('falls where it says: the buffer runs over by arithmetic', () => {
    const [one] = judged(FLASH, { what: '1 GB/s', length: '10 min', buffer: '2 s' });
    // 100 GB at 1 GB/s asked for: the cache lasts 100 s of the take; then 500 MB/s too little fill 2 GB in 4 s.
    expect(one!.verdict.breaksAtSeconds).toBeCloseTo(104, 0);
  });

  it('of spinning media is slower on the inner tracks, half as fast where nobody says', () => {
    // 1 TB from 200 to 100 MB/s: ln 2 * 1 TB / 100 MB/s = 6,931 s for all of it.
    const supply = supplyFrom('1 TB spinning, 200 MB/s');
    const { seconds, bytes } = supply.traces[0]!.curves[0]!;
    const whole = seconds[bytes.findIndex((one) => one >= 1e12 * (1 - 1e-9))]!;
    expect(whole).toBeCloseTo((Math.LN2 * 1e12) / 100e6, -1);
    // 90 GB are on tracks of 191 MB/s and more: 150 with a quarter to spare are 187.5.
    expect(wordOn('1 TB spinning, 200 MB/s', { what: '150 MB/s', length: '10 min' })).toBe('Would hold');
    expect(wordOn('1 TB spinning, 200 MB/s', { what: '150 MB/s', length: '110 min' })).toBe('Would break');
    expect(wordOn('1 TB spinning, 200 MB/s, inner 195 MB/s', { what: '150 MB/s', length: '110 min' })).toBe(
      'Would hold',
    );
  });

  it('is drawn as far as the drive goes', () => {
    const { traces } = supplyFrom('1 TB flash, writes 2000 MB/s, then 500 MB/s after 100 GB');
    const drawn = drawnCurve(traces[0]!, 1e12);
    expect(drawn.bytes).toEqual([0, 100e9, 1e12]);
    expect(drawn.seconds.at(-1)).toBeCloseTo(50 + 900e9 / 500e6, 6);
  });

  it('tells loads from its access time, as a promise too', () => {
    // 4,000 requests of 256 KiB, one at a time: 12 ms and 256 KiB at 100 MB/s each, 58.5 s, where 20 s are allowed.
    const load = { action: 'load' as const, load: '1048 MB in 256 KiB', limit: '20 s' };
    const [slow] = judged('1 TB spinning, 200 MB/s, 12 ms', load);
    expect(verdictName(slow!.verdict)).toBe('Would break');
    const [quick] = judged('1 TB flash, 2000 MB/s, 0.1 ms', load);
    expect(verdictName(quick!.verdict)).toBe('Would hold');
    // In a few words it promises no more than in a sentence.
    expect(quick!.short).toMatch(/^Would hold: /);
    expect(slow!.sentence).toMatch(/its box promises/);
  });

  it('is nothing where no rate is given', () => {
    const typed = parseDriveLine('1 TB flash, 100 MB/s');
    const none = { ...typed.details, ratedWriteBytesPerSecond: null, ratedReadBytesPerSecond: null };
    expect(promisedRun({ id: 'd', createdAt: '2026', ...typed, details: none })).toBeNull();
  });
});
