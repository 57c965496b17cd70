import { describe, expect, it } from 'vitest';
import { FIRST_QUESTION, type QuestionTexts } from '#core/5-answers/ask/question-texts.ts';
import { costOfDeciding, fitsText, openDemands, questionText, readQuestion } from '#core/5-answers/ask/question.ts';
import { demandsOf } from '#core/3-jobs/demand/items.ts';
import { frameSizes } from '#core/3-jobs/demand/series/frame-bytes.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { supplyFrom, samplesOf, evidenceOfTrace } from '#core/testing/curves.ts';
import { judgedItems } from '#core/5-answers/verdict/judge-workload.ts';

const plainSpaces = (text: string): string => text.replaceAll(/[\u202f\u00a0]/g, ' ');
const ask = (more: Partial<QuestionTexts>) => readQuestion({ ...FIRST_QUESTION, ...more });

/** A space in which so many bytes can be used: two per cent of what is free, or 2 GB, stay free. */
const roomOf = (bytes: number) => ({ freeBytes: Math.max(bytes + 2e9, bytes / 0.98) });

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
    expect(rateOf('530 MB/sec').bytesPerSecond).toBe(530e6);
    expect(rateOf('200 Mbit/s').bytesPerSecond).toBe(25e6);
    expect(rateOf('2 streams of 240 MB/s')).toMatchObject({ bytesPerSecond: 480e6, streams: 2 });
    expect(ask({ what: 'UHD 50p 200 Mb/s' }).workload!.items[0]).toMatchObject({ essence: { kind: 'picture' } });
  });

  it('takes what is coded by its rate where it does not know the codec, and says so', () => {
    const { workload, assumed } = ask({ what: 'two cameras AVCHD 24 Mb/s' });
    expect(demandsOf(workload!.items[0]!)[0]).toMatchObject({
      bytesPerSecond: 6e6,
      streams: 2,
      formatText: 'AVCHD 24 Mb/s',
    });
    expect(assumed).toEqual(['“avchd” is not known here: it counts by the rate that was typed.']);
    const named = ask({ what: 'UHD XAVC 100M 25p' });
    expect(demandsOf(named.workload!.items[0]!)[0]).toMatchObject({ bytesPerSecond: 12.5e6, framesPerSecond: 25 });
    expect(named.assumed).toEqual(['100M is taken as 100 Mb/s.']);
    // Bytes are not bits, beside a format too.
    const of = (what: string) => demandsOf(ask({ what }).workload!.items[0]!)[0]!.bytesPerSecond;
    expect([of('UHD 50p 100 MB/s'), of('UHD 50p 100 Mb/s')]).toEqual([100e6, 12.5e6]);
    expect(ask({ what: 'UHD 50p 100 mb/s' }).assumed).toEqual(['“100 mb/s” is taken as megabits, not megabytes.']);
    expect(ask({ what: 'UHD ProRez HQ 25p' }).errors.what).toMatch(/“prorez” names no layout or codec/);
  });

  it('asks whether a bare length is minutes or seconds', () => {
    expect(ask({ length: '40' }).errors.length).toMatch(/“40” can mean 40 min or 40 s/);
    expect(demandsOf(ask({ length: '18:32' }).workload!.items[0]!)[0]!.takeSeconds).toBe(1112);
  });

  it('about a simulation is its frames, their size and their computing', () => {
    const { workload, errors, assumed } = ask({ action: 'simulate', frame: '1.03 GB', frames: '240', compute: '11 s' });
    expect(errors).toEqual({});
    const demands = demandsOf(workload!.items[0]!);
    expect(demands.map(({ act, direction }) => [act, direction])).toEqual([['simulate', 'write']]);
    // A writer that waits spends b/R of each c + b/R: a tenth of the whole at R = 9 b/c, 1.03 GB * 9 / 11 s.
    expect(demands[0]!.bytesPerSecond / 1e6).toBeCloseTo((1030 * 9) / 11, 6);
    expect(plainSpaces(questionText('Shuttle', workload!))).toBe(
      'Can Shuttle simulate 240 frames of 1.03 GB, each computed in 11 s?',
    );
    expect(assumed[0]).toMatch(
      /the program waits until each frame is written, that the drive may cost 10.% of the whole/,
    );
    // 247.2 GB a version: four of them in a terabyte.
    const judged = judgedItems(workload!, supplyFrom([]), { headroomShare: 0.25 }, 1e12);
    expect(plainSpaces(fitsText(workload!, judged, roomOf(1e12))!)).toBe(
      'It comes to 247 GB: 4 versions fit in the 1 TB that can be used.',
    );
    expect(fitsText(workload!, judged, roomOf(240e9))).toMatch(/not one version fits/);
    const wrong = ask({ action: 'simulate', frame: 'large', frames: 'many', compute: '-1 s' }).errors;
    expect(Object.keys(wrong).sort()).toEqual(['compute', 'frame', 'frames']);
  });

  it('about a simulation takes a frame by its grid, and says what it takes of it', () => {
    const of = (frame: string) => ask({ action: 'simulate', frame, frames: '240', compute: '11 s' });
    const bytesOf = (frame: string) => {
      const { workload, errors } = of(frame);
      expect(errors).toEqual({});
      return frameSizes(workload!.items[0] as SeriesItem)[0]!;
    };
    const voxels = 480 * 360 * 280;
    // Density and velocity are four components of four bytes.
    expect(bytesOf('480*360*280')).toBe(16 * voxels);
    expect(bytesOf('480 x 360 × 280 voxels')).toBe(16 * voxels);
    expect(bytesOf('480*360*280, density, 16 bit')).toBe(2 * voxels);
    expect(bytesOf('480*360*280 with density and velocity, half float, 25 %')).toBe((8 * voxels) / 4);
    expect(bytesOf('480*360*280 density velocity 16 bit 25 % 2:1')).toBe((8 * voxels) / 8);
    expect(bytesOf('480*360*280 density and velocity half float')).toBe(8 * voxels);
    expect(bytesOf('480*360*280 velocity 3 x 32 bit')).toBe(12 * voxels);
    expect(bytesOf('480*360*280, density 1 x 32, heat 2 x 8, 2,5:1')).toBe(Math.ceil((6 * voxels) / 2.5));
    expect(plainSpaces(questionText('Shuttle', of('480*360*280').workload!))).toBe(
      'Can Shuttle simulate 240 frames of 774 MB, each computed in 11 s?',
    );
    expect(plainSpaces(of('480*360*280').assumed[0]!)).toBe(
      'It is taken that all of 480 × 360 × 280 voxels are kept, with density (1 × 32 bit) and velocity (3 × 32 bit): 774 MB a frame. Type what it keeps, such as 480*360*280, density, 16 bit, 20 %.',
    );
    expect(plainSpaces(of('1024*1024*512, density, 20 % occupied').assumed[0]!)).toBe(
      '20 % of 1,024 × 1,024 × 512 voxels are kept, with density (1 × 32 bit): 429 MB a frame.',
    );
    for (const wrong of ['480*360*280, something', '480*360*280, 0 %', '480*360*280, 1:3', '0*360*280'])
      expect(Object.keys(of(wrong).errors), wrong).toEqual(['frame']);
  });

  it('about sound takes it by its samples', () => {
    const { workload, errors } = ask({ what: '48 kHz 24 bit, 32 tracks', length: '10 h' });
    expect(errors).toEqual({});
    expect(demandsOf(workload!.items[0]!)[0]!.bytesPerSecond).toBe(32 * 48_000 * 3);
    const rate = (what: string) => demandsOf(ask({ what }).workload!.items[0]!)[0]!.bytesPerSecond;
    expect(rate('44.1 kHz 16 bit stereo')).toBe(2 * 44_100 * 2);
    expect(rate('WAV 96 kHz 24-bit x8')).toBe(8 * 96_000 * 3);
    expect(rate('48 kHz 24 bit')).toBe(48_000 * 3);
    expect(Object.keys(ask({ what: '48 kHz 24 bit loud' }).errors)).toEqual(['what']);
  });

  it('about a load is what is read within what it may take', () => {
    const { workload, assumed } = ask({ action: 'load', load: '3 GB in 256 KiB x8, 5 s processor', limit: '20 s' });
    const [demand] = demandsOf(workload!.items[0]!);
    // 3 GB in the 15 s that computing leaves of 20.
    expect(demand).toMatchObject({ act: 'load', direction: 'read', bytesPerSecond: 200e6 });
    expect(assumed).toEqual([]);
    expect(plainSpaces(questionText('Shuttle', workload!))).toBe(
      'Can Shuttle load 3 GB in requests of 256 KiB, 8 at a time, within 20 s?',
    );
    // What was not typed of it stands in the question.
    const least = ask({ action: 'load', load: '3 GB, 900 files', limit: '' }).workload!;
    expect(plainSpaces(questionText('Shuttle', least))).toBe(
      'Can Shuttle load 3 GB of 900 files in requests of 1 MiB, one after the other?',
    );
    const blocks = ask({ action: 'load', load: '3 GB in 64k', limit: '20 s' }).workload!;
    expect(questionText('Shuttle', blocks)).toMatch(/requests of 64.KiB, one after the other, within/);
    expect(ask({ action: 'load', load: '3 GB' }).assumed[0]).toMatch(/all of that time is for reading/);
    expect(Object.keys(ask({ action: 'load', load: '3 GB', limit: 'soon' }).errors)).toEqual(['limit']);
    expect(Object.keys(ask({ action: 'load', load: 'a lot' }).errors)).toEqual(['load']);
  });

  it('about what streams is held to its own pace, whatever a load may take', () => {
    const of = (load: string, limit: string) => ask({ action: 'load', load, limit });
    const { workload, assumed } = of('50 MB/sec all the time', '20 s');
    expect(plainSpaces(questionText('Shuttle', workload!))).toBe(
      'Can Shuttle stream in 50 MB/s all the time, in requests of 1 MiB, one after the other?',
    );
    expect(plainSpaces(assumed[0]!)).toBe(
      'It is taken that it comes in chunks of 25 MB, each within 500 ms, for 10 min.',
    );
    expect(plainSpaces(of('50 MB/sec all the time', '200 ms').assumed[0]!)).toMatch(/each within 200 ms/);
    // 25 MB at 400 MB/s.
    const read = evidenceOfTrace(samplesOf([60, 400]), { direction: 'read' });
    const [judged] = judgedItems(workload!, supplyFrom([read]), { headroomShare: 0.25 }, 1e12);
    expect(plainSpaces(judged!.sentence)).toMatch(
      /^At its rate in one go a chunk would take 62.5 ms, and one is wanted every 500 ms, but requests of this size were not/,
    );
  });

  it('says how much of it fits', () => {
    const { workload } = ask({ what: '100 MB/s' });
    const judgedIn = (bytes: number) => judgedItems(workload!, supplyFrom([]), { headroomShare: 0.25 }, bytes);
    const textIn = (bytes: number) => plainSpaces(fitsText(workload!, judgedIn(bytes), roomOf(bytes))!);
    // Forty minutes are 240 GB. Where the verdict says that it becomes full, that is not said again.
    expect(textIn(60e9)).toBe('2 GB more are free and stay so.');
    expect(textIn(600e9)).toBe(
      'Of this 1 h 40 min fit in the 600 GB that can be used; 12.2 GB more are free and stay so.',
    );
    expect(fitsText(workload!, judgedIn(600e9), null)).toBeNull();
    const played = judgedItems(
      ask({ what: '100 MB/s', action: 'play' }).workload!,
      supplyFrom([]),
      { headroomShare: 0 },
      60e9,
    );
    expect(fitsText(workload!, played, roomOf(60e9))).toBeNull();
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
