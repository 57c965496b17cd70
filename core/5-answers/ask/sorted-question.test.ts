import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { libraryFormats } from '#core/2-trade/media/format-library.ts';
import { FIRST_QUESTION } from '#core/5-answers/ask/question-texts.ts';
import { askedWorkload, readQuestion } from '#core/5-answers/ask/question.ts';
import { lengthInSeconds, sortedFrame, sortedQuestion, sortedWhat } from '#core/5-answers/ask/sorted-question.ts';

describe('a question said in one go', () => {
  it.each([
    ['ProRes 422 HQ UHD 25p 2 cameras for 3 h', 'ProRes 422 HQ UHD 25p 2 cameras', '3 h', null, null],
    ['2 x 4K DNxHR HQX 23.976, 90 min', '2 x 4K DNxHR HQX 23.976', '90 min', null, null],
    ['UHD 50p 600 Mbps 4h', 'UHD 50p 600 Mbps', '4h', null, null],
    ['6K 5:1 raw 24 fps, 2 hours each', '6K 5:1 raw 24 fps', '2 hours', null, null],
    ['6K 12:1 raw 24 fps for 18:32', '6K 12:1 raw 24 fps', '18:32', null, null],
    [
      'play 4 streams of ProRes Proxy 1080p25 for 1 h 30 min',
      '4 streams of ProRes Proxy 1080p25',
      '1 h 30 min',
      null,
      'play',
    ],
    ['1080p25 VC-3 HQ 3 takes of 1h20', '1080p25 VC-3 HQ', '1h20', '3', null],
    ['ProRes 422 HQ UHD 25p, 2 cameras, 3 takes of 1 h 20', 'ProRes 422 HQ UHD 25p, 2 cameras', '1 h 20', '3', null],
    ['4.4 Gb/s 1 h 25 fps', '4.4 Gb/s 25 fps', '1 h', null, null],
    ['record UHD 4:2:2 10 bit 25p in two takes of 40 min', 'UHD 4:2:2 10 bit 25p', '40 min', '2', 'record'],
    ['DPX 10 bit 4K 24 fps playback, 1,000 frames', 'DPX 10 bit 4K 24 fps', '1,000 frames', null, 'play'],
    ['300 MB/s for 90 minutes', '300 MB/s', '90 minutes', null, null],
    ['4.4 Gb/s 1 h', '4.4 Gb/s', '1 h', null, null],
    ['UHD 4:2:2 10 bit at 25 frames a second', 'UHD 4:2:2 10 bit at 25 frames a second', null, null, null],
    // Which is meant is not known.
    ['UHD rdd36-high 25p 40 min, 2 h', 'UHD rdd36-high 25p 40 min, 2 h', null, null, null],
  ])('%s', (typed, what, length, takes, action) => {
    expect(sortedWhat(typed)).toEqual({ what, length, takes, action });
  });

  it('changes no format that says nothing else', () => {
    for (const { text } of libraryFormats('', 3000)) {
      expect(sortedWhat(text)).toEqual({ what: text, length: null, takes: null, action: null });
    }
  });

  it('asks the same as with each part in its own field', () => {
    const lengths = fc.constantFrom('40 min', '3 h', '18:32', '90 s', '1h20', '2 hours', '1 h 5 min');
    fc.assert(
      fc.property(
        lengths,
        fc.constantFrom('record', 'play' as const),
        fc.integer({ min: 1, max: 9 }),
        fc.constantFrom(...libraryFormats('uhd 25p', 60).map(({ text }) => text)),
        (length, action, takes, format) => {
          const typed = { ...FIRST_QUESTION, what: `${action} ${format} ${takes} takes of ${length}` };
          const apart = { ...FIRST_QUESTION, action, what: format, takes: String(takes), length } as const;
          expect(readQuestion(sortedQuestion(typed))).toEqual(readQuestion(apart));
        },
      ),
    );
  });

  it('leaves loads as they are', () => {
    const load = { ...FIRST_QUESTION, action: 'load', what: 'play for 3 h' } as const;
    expect(sortedQuestion(load)).toBe(load);
  });

  it.each([
    ['240 frames of 1.03 GB, 11 s each', '1.03 GB', '240', '11 s'],
    ['1001–1240 frames of 1.03 GB computed in 11 s', '1.03 GB', '1001–1240', '11 s'],
    ['frames 1001-1240, 800 MB a frame', '800 MB a frame', '1001-1240', null],
    [
      '480*360*280, density and velocity, 16 bit, 20 %, 2:1, 240 frames, 1 min 5 s a frame',
      '480*360*280, density and velocity, 16 bit, 20 %, 2:1',
      '240',
      '1 min 5 s',
    ],
    ['512x256x256 density 16 bit 30%', '512x256x256 density 16 bit 30%', null, null],
    ['1.03 GB', '1.03 GB', null, null],
  ])('a simulation: %s', (typed, frame, frames, compute) => {
    expect(sortedFrame(typed)).toEqual({ frame, frames, compute });
    const asked = sortedQuestion({ ...FIRST_QUESTION, action: 'simulate', frame: typed });
    expect(readQuestion(asked).errors).toEqual({});
  });

  it('counts frames by the frame rate of the format', () => {
    expect(Number.parseFloat(lengthInSeconds('1,000 frames', 'UHD rdd36-high 23.976'))).toBeCloseTo(1001 / 24, 9);
    expect(lengthInSeconds('40 min', 'UHD rdd36-high 25p')).toBe('40 min');
    const { workload } = askedWorkload({ ...FIRST_QUESTION, what: 'UHD rdd36-high 25p', length: '240 frames' });
    expect(workload.items[0]).toMatchObject({ takes: { seconds: 9.6 } });
  });
});
