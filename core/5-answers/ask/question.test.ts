import { describe, expect, it } from 'vitest';
import { FIRST_QUESTION, type QuestionTexts } from '#core/5-answers/ask/question-texts.ts';
import { costOfDeciding, fitsText, openDemands, questionText, readQuestion } from '#core/5-answers/ask/question.ts';
import { demandsOf } from '#core/3-jobs/demand/items.ts';
import { supplyFrom, samplesOf, evidenceOfTrace } from '#core/testing/curves.ts';
import { judgedItems } from '#core/5-answers/verdict/judge-workload.ts';

const plainSpaces = (text: string): string => text.replaceAll(/[\u202f\u00a0]/g, ' ');
const ask = (more: Partial<QuestionTexts>) => readQuestion({ ...FIRST_QUESTION, ...more });

describe('a question', () => {
  it('asks for what its words say', () => {
    const { workload, errors, assumed } = ask({ what: '3 × UHD ProRes 422 HQ 50p', length: '1h20', takes: '4' });
    expect(errors).toEqual({});
    expect(assumed).toEqual([]);
    const [demand] = demandsOf(workload!.items[0]!);
    // RDD 36 high: 220 Mb/s at 1920×1080 and 29.97; four times the pixels, 50 frames, three streams.
    expect(demand!.bytesPerSecond / 1e6).toBeCloseTo((3 * 4 * 220 * (50 / (30000 / 1001))) / 8, 3);
    expect(demand).toMatchObject({ takeSeconds: 4800, takes: 4, gapSeconds: 0, between: 'stay', direction: 'write' });
    expect(questionText('Shuttle', workload!)).toBe(
      'Can Shuttle record three streams of 3840×2160 RDD 36 high at 50 for 1 h 20 min, four takes, all of them staying on the drive?',
    );
  });

  it('says of a format that can be meant in two ways what either comes to, and takes what asks for more', () => {
    const { either, assumed, workload } = ask({ what: 'UHD 4:2:2 10 bit 50p x2' });
    expect(plainSpaces(either!.plainText)).toBe('uncompressed, 2,210 MB/s');
    expect(plainSpaces(either!.codedText)).toBe('coded, at 200 Mb/s 50 MB/s');
    expect(plainSpaces(assumed[0]!)).toMatch(/^It is taken as uncompressed, 2,210 MB\/s:/);
    // Of a row of 3,840 pixels 80 groups of 128 bytes.
    expect(demandsOf(workload!.items[0]!)[0]!.bytesPerSecond).toBe(2 * 80 * 128 * 2160 * 50);
    const coded = ask({ what: either!.coded });
    expect(coded.either).toBeNull();
    expect(demandsOf(coded.workload!.items[0]!)[0]!.bytesPerSecond).toBe(50e6);
    expect(ask({ what: either!.plain })).toMatchObject({ either: null, assumed: [] });
    expect(ask({ what: 'UHD 4:2:2 10 bit 50p 5:1' }).either).toBeNull();
  });

  it('takes a rate alone, of several streams too', () => {
    const rateOf = (what: string) => demandsOf(ask({ what }).workload!.items[0]!)[0]!;
    expect(rateOf('147 MB/s').bytesPerSecond).toBe(147e6);
    expect(rateOf('1,2 Gb/s ×2')).toMatchObject({ bytesPerSecond: 300e6, streams: 2 });
    expect(rateOf('3 x 100 MB/s')).toMatchObject({ bytesPerSecond: 300e6, streams: 3 });
    expect(ask({ what: 'UHD 50p 200 Mb/s' }).workload!.items[0]).toMatchObject({ essence: { kind: 'picture' } });
  });

  it('says how much of it fits', () => {
    const { workload } = ask({ what: '100 MB/s' });
    const judged = judgedItems(workload!, supplyFrom([]), { headroomShare: 0.25 }, 60e9);
    expect(plainSpaces(fitsText(judged, 60e9)!)).toBe('Of this 10 min fit in the 60 GB that can be used.');
    expect(fitsText(judged, 50e6)).toMatch(/^None of it fits/);
    expect(fitsText(judged, null)).toBeNull();
    const played = judgedItems(
      ask({ what: '100 MB/s', action: 'play' }).workload!,
      supplyFrom([]),
      { headroomShare: 0 },
      60e9,
    );
    expect(fitsText(played, 60e9)).toBeNull();
  });

  it('says before it starts what a run may take', () => {
    const demands = (more: Partial<QuestionTexts>) => demandsOf(ask({ what: '100 MB/s', ...more }).workload!.items[0]!);
    const limits = { mostSeconds: 600, mostBytes: null };
    expect(plainSpaces(costOfDeciding(demands({}), 1e12, limits))).toBe('writes 240 GB at most, for 10 min at most');
    expect(plainSpaces(costOfDeciding(demands({}), 300e9, limits))).toBe('writes 150 GB at most, for 10 min at most');
    // Of a card all of it.
    expect(plainSpaces(costOfDeciding(demands({}), 60e9, limits))).toBe('writes 60 GB at most, for 10 min at most');
    expect(costOfDeciding(demands({ action: 'play' }), 1e12, limits)).toMatch(/^reads material that lies there/);
  });

  it('tells every fault at the field that it is in', () => {
    const { workload, errors } = ask({ what: 'UHD wobble 25p', length: 'long', takes: '0' });
    expect(workload).toBeNull();
    expect(Object.keys(errors).sort()).toEqual(['length', 'takes', 'what']);
    expect(errors.what).toMatch(/“wobble” names no layout/);
  });

  it('leaves open what more writing would settle, and not what no run can', () => {
    const { workload } = ask({ length: '10 min' });
    const on = (seconds: number, rate: number, room: number) =>
      openDemands(
        judgedItems(
          workload!,
          supplyFrom([evidenceOfTrace(samplesOf([seconds, rate]))]),
          { headroomShare: 0.25 },
          room,
        ),
      );
    // 553 MB/s for ten minutes are 332 GB.
    expect(on(30, 1000, 1e12).map(({ direction }) => direction)).toEqual(['write']);
    expect(on(400, 1000, 1e12)).toEqual([]);
    expect(on(30, 1000, 100e9)).toEqual([]);
    expect(on(30, 400, 1e12)).toEqual([]);
  });
});
