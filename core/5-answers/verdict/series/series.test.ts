import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demandsOf } from '#core/3-jobs/demand/items.ts';
import { seriesForm } from '#core/3-jobs/demand/series/series-form.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { curveFrom, evidenceFrom, progressOf, steady, supplyFrom } from '#core/testing/curves.ts';
import { bytesAt } from '#core/1-ground/curves/progress.ts';
import type { Evidence } from '#core/4-runs/supply/evidence.ts';
import { parseProcessor, processorText } from '#core/3-jobs/demand/series/processor.ts';
import { judgeItem } from '#core/5-answers/verdict/judge-workload.ts';
import { parsePreview } from '#core/3-jobs/demand/observed/preview.ts';
import { previewText, seenPreviews } from '#core/5-answers/verdict/series/seen-previews.ts';
import { seenTimes } from '#core/5-answers/verdict/series/seen-times.ts';
import { judgeSeries } from '#core/5-answers/verdict/series/judge-series.ts';
import {
  fullAt,
  playbackRates,
  seriesByTrace,
  seriesOnDrive,
  writeBoundFrames,
  writingClock,
} from '#core/5-answers/verdict/series/series-on-drive.ts';
import {
  beyondSentence,
  channelCosts,
  depthCosts,
  halfDepthSentence,
  largestSaving,
  savingSentence,
} from '#core/5-answers/verdict/series/series-words.ts';
import { DEFAULT_POLICY } from '#core/5-answers/verdict/verdict.ts';

const base = seriesForm.read(seriesForm.start, 'kelp', null).item!;
/** Frames of so many bytes, each computed for so long. */
const series = (bytes: number[], compute: number, more: Partial<SeriesItem> = {}): SeriesItem => ({
  ...base,
  frames: { kind: 'files', label: 'kelp', firstFrame: 1, bytes, missingCount: 0 },
  frameCount: bytes.length,
  computeSeconds: [compute],
  playback: null,
  ...more,
});
const even = (frames: number, bytes: number, compute: number, more: Partial<SeriesItem> = {}) =>
  series(new Array<number>(frames).fill(bytes), compute, more);
const judged = (item: SeriesItem, evidence: Evidence[], roomBytes: number | null = null) =>
  judgeSeries(item, demandsOf(item)[0]!, supplyFrom(evidence), DEFAULT_POLICY, roomBytes);
/** 1,000 B/s for 5,000 B, then 100 B/s. */
const cached = evidenceFrom([curveFrom([5, 1000], [200, 100])], {
  kneeBytes: 5000,
  span: { worstSecondBytesPerSecond: 100, floorBytesPerSecond: 100, openingBytesPerSecond: 1000 },
});

describe('the clock of writing', () => {
  it('is the trace turned round, and its floor beyond', () => {
    const found = writingClock(cached).secondsAtEach(Float64Array.of(0, 2500, 6000, 25_000, 26_000));
    [0, 2.5, 15, 205, 215].forEach((seconds, at) => expect(found[at]).toBeCloseTo(seconds, 9));
  });

  it('gives back the bytes of any trace', () => {
    const pieces = fc.array(fc.tuple(fc.double({ min: 0.1, max: 5, noNaN: true }), fc.integer({ min: 1, max: 900 })), {
      minLength: 1,
      maxLength: 20,
    });
    fc.assert(
      fc.property(pieces, fc.double({ min: 0, max: 1, noNaN: true }), (rates, share) => {
        const progress = progressOf(...rates);
        const { secondsAtEach } = writingClock(evidenceFrom([curveFrom(...rates)]));
        const bytes = share * progress.bytes.at(-1)!;
        const [seconds] = secondsAtEach(Float64Array.of(bytes));
        expect(bytesAt(progress, seconds!)).toBeCloseTo(bytes, 4);
      }),
    );
  });
});

describe('a series on a drive', () => {
  it('lies between a cache that never empties and one that always does', () => {
    const on = seriesByTrace(even(10, 1000, 4), cached);
    // Five frames from the cache in a second each, five from the floor in ten.
    expect(on.neverEmptied.totalSeconds).toBeCloseTo(10 * 4 + 5 + 50, 9);
    expect(on.alwaysEmptied.totalSeconds).toBeCloseTo(10 * 4 + 10, 9);
    expect(on.neverEmptied.driveShare).toBeCloseTo(1 - 40 / 95, 9);
    expect(on.bytesPerSecond).toBeCloseTo(10_000 / 55, 6);
  });

  it('is written from the run that reaches to its end, the worst of several', () => {
    const short = evidenceFrom([steady(2, 1000)], { runId: 'short' });
    const slow = evidenceFrom([curveFrom([5, 1000], [400, 50])], { runId: 'slow' });
    expect(seriesOnDrive(even(10, 1000, 4), supplyFrom([short, cached, slow]))!.runId).toBe('slow');
    expect(seriesOnDrive(even(2, 900, 4), supplyFrom([short]))!.runId).toBe('short');
    expect(
      seriesOnDrive(even(10, 1000, 4), supplyFrom([evidenceFrom([steady(9, 9)], { direction: 'read' })])),
    ).toBeNull();
  });

  it('tells which growing frames take longer to write than to compute', () => {
    const growing = series([100, 200, 300, 400, 500, 600], 4);
    const on = seriesByTrace(growing, evidenceFrom([steady(100, 100)]));
    expect(writeBoundFrames(on.neverEmptied, [4, 4, 4, 4, 4, 4])).toEqual({ first: 5, last: 6, count: 2 });
    expect(writeBoundFrames(on.neverEmptied, [9, 9, 9, 9, 9, 9])).toBeNull();
  });

  it('is full at the frame that no longer fits, versions counted', () => {
    const item = even(10, 1000, 4, { versions: 3 });
    expect(fullAt(item, 30_000)).toBeNull();
    expect(fullAt(item, 29_999)).toEqual({ version: 3, frame: 10 });
    expect(fullAt(item, 12_500)).toEqual({ version: 2, frame: 3 });
    expect(fullAt(item, 500)).toEqual({ version: 1, frame: 1 });
    expect(fullAt(item, null)).toBeNull();
  });

  it('is looked at as fast as it is read and shown', () => {
    const item = even(10, 1000, 4, { playback: { frameRate: { numerator: 24, denominator: 1 }, showSeconds: 0.1 } });
    const supply = supplyFrom([evidenceFrom([steady(20, 5000)], { direction: 'read', medianBytesPerSecond: 5000 })]);
    const rates = playbackRates(item, supply)!;
    expect(rates.plain).toBeCloseTo(1 / (0.1 + 0.2), 9);
    expect(rates.readAhead).toBeCloseTo(5, 9);
    expect(rates.fromMemory).toBeCloseTo(10, 9);
    expect(playbackRates(item, supplyFrom([]))).toBeNull();
  });
});

describe('the verdict on a series', () => {
  it('holds when the drive takes less than it may, on a cache that never empties and with headroom', () => {
    // Writing takes 0.5 s beside 9.5 s of computing.
    const drive = [evidenceFrom([steady(1000, 2000)])];
    const item = (mostDriveShare: number) => even(10, 1000, 9.5, { mostDriveShare });
    expect(judged(item(0.07), drive)).toMatchObject({ verdict: { verdict: 'holds' } });
    expect(judged(item(0.055), drive)).toMatchObject({ verdict: { verdict: 'tight' } });
    const broken = judged(item(0.04), drive);
    expect(broken.verdict).toMatchObject({ verdict: 'breaks', reason: 'drive-share' });
    expect(broken.verdict.breaksAtSeconds).toBeCloseTo(95 / 0.96, 6);
    expect(broken.sentence).toMatch(/the drive takes 5\s%, more than the 4\s% it may/);
  });

  it('hangs on the cache when its two bounds lie on both sides', () => {
    const between = judged(even(10, 1000, 9, { mostDriveShare: 0.2 }), [cached]);
    expect(between.verdict).toMatchObject({ verdict: 'not-proven', reason: 'cache-between' });
    expect(between.verdict.wouldProve).toMatchObject({ recipe: 'long-fill', restSeconds: 60 });
  });

  it('is proven only as far as a run wrote, and breaks all the same where even that is too slow', () => {
    const short = [evidenceFrom([steady(2, 2000)])];
    expect(judged(even(10, 1000, 9.5), short).verdict).toMatchObject({
      verdict: 'not-proven',
      reason: 'too-short',
      provenBytes: 4000,
    });
    expect(judged(even(10, 1000, 1, { mostDriveShare: 0.1 }), short).verdict.verdict).toBe('breaks');
  });

  it('does not break on bytes that no run wrote, and nothing to write holds', () => {
    // Frames of 50,000 B, of which the run wrote 25,000: its floor beyond them is no more than likely.
    const beyond = judged(even(4, 50_000, 1), [cached]);
    expect(beyond.verdict).toMatchObject({ verdict: 'not-proven', reason: 'too-short' });
    expect(beyond.sentence).toMatch(/largest frame alone has 50.kB/);
    expect(judged(even(4, 20_000, 1), [cached]).verdict.verdict).toBe('breaks');
    expect(judged(even(4, 0, 0), [evidenceFrom([steady(100, 1000)])]).verdict.verdict).toBe('holds');
  });

  it('waits with its first frame for a drive that did not begin at once', () => {
    const late = evidenceFrom([curveFrom([3, 0], [97, 1000])]);
    const on = seriesByTrace(even(10, 1000, 1), late);
    expect(on.neverEmptied.totalSeconds).toBeCloseTo(10 + 3 + 10, 9);
    expect(on.alwaysEmptied.totalSeconds).toBeCloseTo(10 + 10, 9);
  });

  it('breaks when it is full, whatever the rate, and says at which frame', () => {
    const full = judged(even(10, 1000, 4, { versions: 2 }), [evidenceFrom([steady(1000, 2000)])], 13_500);
    expect(full.verdict).toMatchObject({ verdict: 'breaks', reason: 'full', breaksAtBytes: 13_500 });
    // One version and three frames of the second, each 4.5 s.
    expect(full.verdict.breaksAtSeconds).toBeCloseTo(13 * 4.5, 6);
    expect(full.sentence).toMatch(/full at frame 4 of version 2/i);
  });

  it('trusts doubtful runs one way only, and knows nothing without any', () => {
    const high = evidenceFrom([steady(1000, 2000)], { mayProveHolds: false });
    expect(judged(even(10, 1000, 9.5), [high]).verdict).toMatchObject({ verdict: 'not-proven', reason: 'doubtful' });
    const low = evidenceFrom([steady(1000, 200)], { mayProveBreaks: false });
    expect(judged(even(10, 1000, 9.5), [low]).verdict).toMatchObject({ verdict: 'not-proven', reason: 'doubtful' });
    expect(judged(even(10, 1000, 9.5), []).verdict).toMatchObject({ verdict: 'not-proven', reason: 'no-run' });
  });
});

describe('the words of a series', () => {
  it('say what a faster drive saves', () => {
    const on = (rate: number) => seriesOnDrive(even(10, 1000, 8), supplyFrom([evidenceFrom([steady(5000, rate)])]));
    const saving = largestSaving([
      { label: 'Slow', on: on(100) },
      { label: 'Fast', on: on(3000) },
      { label: 'Unknown', on: null },
      { label: 'Middle', on: on(500) },
    ])!;
    expect(saving).toMatchObject({ from: 'Slow', to: 'Fast' });
    expect(saving.timesFaster).toBeCloseTo(30, 6);
    expect(saving.savedSeconds).toBeCloseTo(100 - 10 / 3, 6);
    expect(savingSentence(saving)).toBe('From Slow to Fast, a drive 30 times faster saves 1 min 37 s of 3 min.');
    expect(largestSaving([{ label: 'Slow', on: on(100) }])).toBeNull();
  });

  it('say beyond which rate little is left, and what each channel costs', () => {
    const item = seriesForm.read(
      {
        ...seriesForm.start,
        grid: '100x100x100',
        occupancy: '100%',
        frames: '100',
        compute: '10 s',
        channels: 'density 1 x 16\nvelocity 3 x 32',
      },
      'one',
      null,
    ).item!;
    // 14 MB a frame, 10 s each: 19 × 14 MB ÷ 10 s.
    expect(beyondSentence(item)).toMatch(/Beyond 26\.6\sMB\/s/);
    expect(channelCosts(item).map(({ name, frameBytes }) => [name, frameBytes])).toEqual([
      ['velocity', 12e6],
      ['density', 2e6],
    ]);
    expect(halfDepthSentence(item)).toMatch(/Velocity in half the depth would save 600\sMB a version/);
    expect(halfDepthSentence(even(3, 10, 1))).toBeNull();
    expect(channelCosts(even(3, 10, 1))).toEqual([]);
  });
});

describe('what else is asked about a series', () => {
  /** Steady rates both ways, for long. */
  const drive = (write: number, read = write) =>
    supplyFrom([
      evidenceFrom([steady(1e6, write)]),
      evidenceFrom([steady(1e6, read)], { direction: 'read', medianBytesPerSecond: read }),
    ]);

  it('is judged as played by the time that showing takes: no drive is blamed for it', () => {
    const slow = even(240, 1e9, 10, { playback: { frameRate: { numerator: 24, denominator: 1 }, showSeconds: 0.05 } });
    const played = (item: SeriesItem, supply = drive(1e12)) => judgeItem(item, supply, DEFAULT_POLICY, null)[1]!;
    expect(played(slow).verdict).toMatchObject({ verdict: 'breaks', reason: 'showing', isPromise: false });
    expect(played(slow).sentence).toMatch(
      /^No drive plays it at 24: showing a frame takes 50.ms, which makes 20 a second at most, from memory too\.$/,
    );
    // At 20 a second showing leaves no time to spare and takes none from the drive either.
    const quick = { ...slow, playback: { ...slow.playback!, showSeconds: 1 / 24 } };
    expect(played(quick).verdict.verdict).toBe('holds');
    expect(played(quick, drive(20e9)).verdict).toMatchObject({ verdict: 'breaks', reason: 'too-slow' });
  });

  it('lets seen times outrank typed ones, and offers them where both clash', () => {
    const seen = (bytesPerSecond: number, seconds: number) => ({
      label: 'x',
      bytesPerSecond,
      seconds: [seconds],
      isWarm: false,
    });
    // 600 s that are no drive’s, and 60 GB: at 100 MB/s 1,200 s, at 1 GB/s 660 s.
    const observed = [seen(100e6, 1200), seen(1e9, 660)];
    const clash = seenTimes(even(100, 6e8, 10, { observed }))!;
    expect(clash.computeSeconds).toBeCloseTo(6, 3);
    expect(clash.clash).toMatch(/Typed are 16 min 40.s of computing, and 10 min were seen: 6.s a frame/);
    expect(clash.sentence).toMatch(
      /9\.09.% of 11 min waits for a drive of 1,000.MB\/s: no faster one saves more than 1 min/,
    );
    expect(seenTimes(even(100, 6e8, 6.3, { observed }))).toMatchObject({ clash: null, computeSeconds: null });
    expect(seenTimes(even(100, 6e8, 6))).toBeNull();
  });

  it('tells depths side by side', () => {
    const { item } = seriesForm.read(
      { ...seriesForm.start, grid: '480*360*280', occupancy: '100%', frames: '1001–1240' },
      'x',
      null,
    );
    // One channel of one component and one of three, four bytes each.
    const voxels = 480 * 360 * 280;
    expect(item!.frameCount).toBe(240);
    expect(depthCosts(item!)).toEqual([
      { bits: 32, frameBytes: voxels * 16, seriesBytes: voxels * 16 * 240 },
      { bits: 16, frameBytes: voxels * 8, seriesBytes: voxels * 8 * 240 },
      { bits: 8, frameBytes: voxels * 4, seriesBytes: voxels * 4 * 240 },
    ]);
  });

  it.each([
    ['1.5 times, 600 EUR', { factor: 1.5, price: 600, currency: 'EUR' }],
    ['2x', { factor: 2, price: null, currency: '' }],
    ['1,5x for €600', { factor: 1.5, price: 600, currency: 'EUR' }],
  ])('takes a processor as “%s”', (text, expected) => {
    expect(parseProcessor(text)).toEqual(expected);
    expect(parseProcessor(processorText(parseProcessor(text)))).toEqual(expected);
    const { item } = seriesForm.read({ ...seriesForm.start, processor: text }, 'x', null);
    expect(seriesForm.read(seriesForm.texts(item!), 'x', null).item).toEqual(item);
  });
  it.each(['0.5x', 'fast', '2x, dear'])('refuses “%s”', (text) =>
    expect(() => parseProcessor(text)).toThrow(/^processor: /),
  );
});

describe('previews seen on drives', () => {
  // A gigabyte a frame: a second at a gigabyte a second, half of one at twice that; showing is typed as 0.1 s.
  const item = (...lines: string[]): SeriesItem =>
    even(20, 1e9, 10, {
      playback: { frameRate: { numerator: 24, denominator: 1 }, showSeconds: 0.1 },
      previews: lines.map(parsePreview),
    });
  const reading = (rate: number) =>
    supplyFrom([evidenceFrom([curveFrom([60, rate])], { direction: 'read', medianBytesPerSecond: rate })]);
  const drives = [
    { label: 'Slow', supply: reading(1e9) },
    { label: 'Fast', supply: reading(2e9) },
  ];

  it('stand beside what is computed, each its own way', () => {
    const seen = seenPreviews(
      item('slow: 0.9 a second', 'Fast: 20 frames in 12 s', 'Fast: 10 fps, from memory'),
      drives,
    )!;
    expect(seen.previews.map(({ computed }) => computed)).toEqual([1 / 1.1, 1 / 0.6, 10]);
    expect(seen.clash).toBeNull();
    expect(previewText(seen.previews[0]!)).toBe('0.9 a second seen cold, 0.91 computed');
    expect(previewText(seenPreviews(item('Other: 2 a second, reading ahead'), drives)!.previews[0]!)).toBe(
      '2 a second seen reading ahead, none computed',
    );
  });

  it('tell the time of showing, and offer it where another was typed', () => {
    // 1.3 s and 0.8 s a frame: 0.3 s beside reading on both.
    const seen = seenPreviews(item('Slow: 20 frames in 26 s', 'Fast: 1.25 a second'), drives)!;
    expect(seen.showSeconds).toBeCloseTo(0.3, 6);
    expect(seen.clash!.replaceAll('\u202f', ' ')).toBe(
      'Typed are 100 ms for showing a frame, and by what you have seen it takes 300 ms.',
    );
    const taken = { ...item('Slow: 20 frames in 26 s'), playback: { ...item().playback!, showSeconds: 0.3 } };
    expect(seenPreviews(taken, drives)!.clash).toBeNull();
    expect(seenPreviews(item(), drives)).toBeNull();
  });

  it.each([
    ['Anchor 16T: 14 a second', 'Anchor 16T', 14, 'cold'],
    ['Anchor 16T: 14,5 fps cold', 'Anchor 16T', 14.5, 'cold'],
    ['Shuttle: 240 frames in 0:12, reading ahead', 'Shuttle', 20, 'ahead'],
    ['Shuttle: 24 frames a second from memory', 'Shuttle', 24, 'memory'],
  ])('%s', (line, label, framesPerSecond, way) => {
    expect(parsePreview(line)).toEqual({ label, framesPerSecond, way });
    expect(() => parsePreview('Shuttle: 17 s')).toThrow('is no preview. Type Anchor 16T: 14 a second');
  });

  it('come back from the form as they were typed', () => {
    const { item: read, errors } = seriesForm.read(
      { ...seriesForm.start, previews: 'Anchor: 14 a second\nShuttle: 240 frames in 12 s, from memory' },
      'kelp',
      null,
    );
    expect(errors).toEqual({});
    expect(seriesForm.texts(read!)['previews']).toBe('Anchor: 14 a second\nShuttle: 20 a second, from memory');
    expect(
      seriesForm.read({ ...seriesForm.start, previews: 'Anchor: fast' }, 'kelp', null).errors['previews'],
    ).toContain('“Anchor: fast” is no preview');
  });
});
