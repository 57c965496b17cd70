import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demandsOf } from '#core/3-jobs/demand/items.ts';
import { parseChannel, parseVoxels } from '#core/3-jobs/demand/series/channels.ts';
import {
  channelBytes,
  computeTimes,
  frameSizes,
  gridFrameBytes,
  growthOf,
} from '#core/3-jobs/demand/series/frame-bytes.ts';
import { seriesFromFiles, withFiles, type CacheFile } from '#core/3-jobs/material/series-from-files.ts';
import { rateForShare, secondsAtRate, seriesTimes, type SeriesWork } from '#core/3-jobs/demand/series/pipeline.ts';
import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import { seriesForm } from '#core/3-jobs/demand/series/series-form.ts';
import type { GridFrames, SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';

const work = (bytes: number[], compute: number[], queueFrames = 0): SeriesWork => ({
  bytes: Float64Array.from(bytes),
  compute: Float64Array.from(compute),
  holdsWriting: false,
  queueFrames,
});
const even = (frames: number, bytes: number, compute: number, queueFrames = 0) =>
  work(new Array<number>(frames).fill(bytes), new Array<number>(frames).fill(compute), queueFrames);
const read = (change: Record<string, string>) => seriesForm.read({ ...seriesForm.start, ...change }, 'one', null);

/** A series whose frames take so long to be written. */
const timesOf = (series: SeriesWork, writeSeconds: (frame: number) => number) =>
  seriesTimes(
    series,
    Float64Array.from(series.bytes, (_, frame) => writeSeconds(frame)),
  );

describe('times that hold the writing', () => {
  // 100 frames of a gigabyte, 6 s each with the writing in it; at 500 MB/s writing one takes 2 s.
  const files = (held: string) => read({ size: '1 GB', frames: '100', compute: '6 s', held }).item!;

  it('are computing alone once the rate of their drive is taken off, exactly', () => {
    const { compute, holdsWriting } = seriesWork(files('500 MB/s'));
    expect(holdsWriting).toBe(false);
    expect([...new Set(compute)]).toEqual([4]);
    // On the drive that they were made on it takes what it took.
    expect(secondsAtRate(seriesWork(files('500 MB/s')), 500e6)).toBeCloseTo(600, 6);
    expect(secondsAtRate(seriesWork(files('500 MB/s')), 250e6)).toBeCloseTo(800, 6);
    // A drive cannot have taken longer than the whole.
    expect([...new Set(seriesWork(files('100 MB/s')).compute)]).toEqual([0]);
  });

  it('are not charged for it again where that drive is not known', () => {
    const work = seriesWork(files('yes'));
    expect(secondsAtRate(work, 500e6)).toBeCloseTo(600, 6);
    expect(timesOf(work, () => 2).driveShare).toBeCloseTo(2 / 6, 9);
    // Writing alone takes longer than that.
    expect(secondsAtRate(work, 125e6)).toBeCloseTo(800, 6);
    // A tenth of 6 s for a gigabyte.
    expect(rateForShare(work, 0.1)! / 1e6).toBeCloseTo(1000 / 0.6, 3);
  });

  it('stand in the form as they were typed, and come with the files of a folder', () => {
    expect(seriesForm.texts(files('500 MB/s'))['held']).toBe('500 MB/s');
    expect(seriesForm.texts(files('yes'))['held']).toBe('yes');
    expect(files('no').heldWriting).toBeUndefined();
    expect(read({ held: 'perhaps' }).errors['held']).toMatch(/^held: /);
    const names = [1, 2, 3, 4].map((number) => ({
      name: `kelp.${number}.vdb`,
      bytes: 1e9,
      modifiedSeconds: 6 * number,
    }));
    const taken = withFiles(files(''), seriesFromFiles(names, 'kelp'));
    expect(taken.heldWriting).toEqual({ bytesPerSecond: null });
    expect(seriesWork(taken).holdsWriting).toBe(true);
  });
});

describe('a frame of a grid', () => {
  const grid: GridFrames = {
    kind: 'grid',
    voxels: { x: 400, y: 300, z: 200 },
    occupancyShare: 0.25,
    channels: [
      { name: 'density', components: 1, bits: 32 },
      { name: 'velocity', components: 3, bits: 16 },
    ],
    ratio: 2,
    headerBytes: 1000,
  };

  it('is components × bits ÷ 8 × active voxels ÷ ratio for each channel, and its header', () => {
    expect(channelBytes(grid, grid.channels[0]!)).toBe((4 * 6_000_000) / 2);
    expect(channelBytes(grid, grid.channels[1]!)).toBe((6 * 6_000_000) / 2);
    expect(gridFrameBytes(grid)).toBe(12_000_000 + 18_000_000 + 1000);
  });

  it('that fits nowhere is refused with a sentence', () => {
    const vast = { ...grid, voxels: { x: 1e9, y: 1e9, z: 1e9 } };
    expect(() => gridFrameBytes(vast)).toThrow(/more than can be written/);
    expect(read({ grid: '1000000000' }).errors['grid']).toMatch(/more than can be written/);
    expect(() => parseVoxels('2000000000')).toThrow(/thousand million voxels a side/);
  });

  it('is typed as people write it', () => {
    expect(parseVoxels('512')).toEqual({ x: 512, y: 512, z: 512 });
    expect(parseVoxels('512 x 256 × 64')).toEqual({ x: 512, y: 256, z: 64 });
    expect(parseChannel('surface distance 1 x 32')).toEqual({ name: 'surface distance', components: 1, bits: 32 });
    for (const wrong of ['density', 'density 1 x 12', 'density 0 x 32', 'density 65 x 8'])
      expect(() => parseChannel(wrong), wrong).toThrow(/^channels: /);
  });
});

describe('the form of a series', () => {
  it('gives the same item again', () => {
    const { item, errors } = read({
      name: 'Waves',
      compute: '12 s, 14.5 s',
      queue: '2',
      header: '3 MB',
      show: '20 ms',
    });
    expect(errors).toEqual({});
    expect(seriesForm.read(seriesForm.texts(item!), 'one', null).item).toEqual(item);
    expect(item).toMatchObject({ computeSeconds: [12, 14.5], queueFrames: 2, playback: { showSeconds: 0.02 } });
  });

  it('says what is wrong at its field, and all at once', () => {
    const { errors } = read({ frames: '0', versions: '-1', occupancy: 'half', compute: 'long', share: '' });
    expect(Object.keys(errors).sort()).toEqual(['compute', 'frames', 'occupancy', 'share', 'versions']);
    expect(read({ occupancy: '0%' }).errors['occupancy']).toMatch(/above 0/);
    expect(read({ share: '100%' }).errors['share']).toMatch(/95%/);
    expect(read({ compute: '' }).errors['compute']).toMatch(/at least one time/);
    expect(read({ channels: '' }).errors['channels']).toMatch(/nothing to keep/);
    expect(read({ frames: '2000000' }).errors['frames']).toMatch(/1000000/);
  });

  it('asks for its mean rate to be played, and for writing that takes its share and no more', () => {
    const item = read({ frames: '240', compute: '9 s', share: '10%' }).item!;
    const bytes = frameSizes(item)[0]!;
    const [writing, playing] = demandsOf(item);
    // The drive may take a tenth: one second a frame.
    expect(writing!.bytesPerSecond).toBeCloseTo(bytes / 1, 3);
    expect(writing!.takeSeconds).toBeCloseTo(2400, 6);
    expect(playing).toMatchObject({ direction: 'read', framesPerSecond: 24, takeSeconds: 10 });
    expect(playing!.bytesPerSecond).toBeCloseTo(24 * bytes, 0);
    expect(demandsOf({ ...item, playback: null })).toHaveLength(1);
  });
});

describe('a series worked through', () => {
  it('takes what the check values say: 300 frames of 1.034 GB, 12 s each', () => {
    const series = even(300, 1.034e9, 12);
    expect(secondsAtRate(series, 180e6)).toBeCloseTo(5323.3, 1);
    expect(secondsAtRate(series, 5e9)).toBeCloseTo(3662.04, 2);
    expect(secondsAtRate(series, 1e15)).toBeCloseTo(3600, 2);
  });

  it('wins less than 5 % beyond 19 × bytes ÷ computing when the writer blocks', () => {
    const series = even(300, 1.034e9, 12);
    const rate = rateForShare(series, 0.05)!;
    expect(rate).toBeCloseTo((19 * 300 * 1.034e9) / 3600, 0);
    expect(1 - 3600 / secondsAtRate(series, rate)).toBeCloseTo(0.05, 9);
    expect(rateForShare(even(3, 10, 0), 0.05)).toBeNull();
    expect(rateForShare(even(3, 0, 1), 0.05)).toBe(0);
  });

  it('hides all writing but the last behind computing when a frame may wait', () => {
    // Ten frames of 2 s computing and 1 s writing: the last frame's writing is all that shows.
    expect(timesOf(even(10, 1, 2, 1), () => 1).totalSeconds).toBeCloseTo(21, 9);
    // Writing slower than computing: the first frame's computing is all that shows.
    expect(timesOf(even(10, 1, 1, 1), () => 3).totalSeconds).toBeCloseTo(31, 9);
    expect(timesOf(even(10, 1, 2), () => 1).totalSeconds).toBeCloseTo(30, 9);
  });

  it('tells for which frames computing stood still', () => {
    const growing = timesOf(work([1, 2, 3, 4, 5, 6], [3, 3, 3, 3, 3, 3], 1), (frame) => frame + 1);
    // Only from the sixth frame on does the one before take longer than computing it.
    expect(growing.waitedFrames).toEqual({ first: 4, last: 5, count: 2 });
    expect(timesOf(even(4, 1, 2, 1), () => 1).waitedFrames).toBeNull();
    expect(growing.driveShare).toBeCloseTo(1 - 18 / growing.totalSeconds, 12);
  });

  const anySeconds = fc.double({ min: 0, max: 10, noNaN: true });
  const anySeries = fc
    .array(fc.tuple(anySeconds, anySeconds), { minLength: 1, maxLength: 40 })
    .chain((frames) => fc.tuple(fc.constant(frames), fc.integer({ min: 0, max: 6 })));

  it('is what two workers with a queue between them come to, event by event', () => {
    fc.assert(
      fc.property(anySeries, ([frames, queueFrames]) => {
        const series = work(
          frames.map(() => 1),
          frames.map(([compute]) => compute),
          queueFrames,
        );
        const writes = frames.map(([, write]) => write);
        const times = timesOf(series, (frame) => writes[frame]!);
        const byEvents = simulated(
          frames.map(([compute]) => compute),
          writes,
          queueFrames,
        );
        expect(times.totalSeconds).toBeCloseTo(byEvents.at(-1)!, 6);
        times.written.forEach((seconds, frame) => expect(seconds).toBeCloseTo(byEvents[frame]!, 6));
      }),
      { numRuns: 500 },
    );
  });

  it('never takes longer with a longer queue or a faster drive, nor less than computing or writing alone', () => {
    fc.assert(
      fc.property(anySeries, fc.double({ min: 1, max: 4, noNaN: true }), ([frames, queueFrames], faster) => {
        const compute = frames.map(([one]) => one);
        const seconds = (queue: number, factor: number) =>
          timesOf(work(compute, compute, queue), (frame) => frames[frame]![1] / factor).totalSeconds;
        const own = seconds(queueFrames, 1);
        expect(seconds(queueFrames + 1, 1)).toBeLessThanOrEqual(own + 1e-9);
        expect(seconds(queueFrames, faster)).toBeLessThanOrEqual(own + 1e-9);
        const alone = Math.max(
          compute.reduce((sum, one) => sum + one, 0),
          frames.reduce((sum, [, write]) => sum + write, 0),
        );
        expect(own).toBeGreaterThanOrEqual(alone - 1e-9);
      }),
    );
  });

  it('finds the rate for a share of a queue too', () => {
    for (const queueFrames of [1, 3]) {
      const series = even(50, 4e9, 10, queueFrames);
      const rate = rateForShare(series, 0.1)!;
      expect(1 - 500 / secondsAtRate(series, rate)).toBeCloseTo(0.1, 6);
    }
  });
});

/** Two workers as events on a clock: whoever can go on does, the earliest first. */
function simulated(compute: number[], write: number[], queueFrames: number): number[] {
  const done: number[] = [];
  const waiting: number[] = [];
  let [clock, next, writing] = [0, 1, -1];
  let computing: { frame: number; until: number } | null = { frame: 0, until: compute[0]! };
  let held: number | null = null;
  let writingUntil = Infinity;
  while (done.length < compute.length) {
    // Frames that wait or are being written have their places in the queue.
    if (writing < 0 && waiting.length > 0) {
      writing = waiting.shift()!;
      writingUntil = clock + write[writing]!;
    }
    const inQueue = waiting.length + (writing < 0 ? 0 : 1);
    const places = Math.max(1, queueFrames);
    if (held !== null && inQueue < places) {
      waiting.push(held);
      held = null;
      continue;
    }
    const mayCompute = held === null && computing === null && next < compute.length;
    if (mayCompute && (queueFrames > 0 || inQueue === 0)) {
      computing = { frame: next, until: clock + compute[next]! };
      next += 1;
      continue;
    }
    const moment = Math.min(computing?.until ?? Infinity, writing < 0 ? Infinity : writingUntil);
    clock = moment;
    if (writing >= 0 && writingUntil <= clock) {
      done[writing] = clock;
      writing = -1;
    }
    if (computing && computing.until <= clock) {
      held = computing.frame;
      computing = null;
    }
  }
  return done;
}

describe('a series from files', () => {
  const files = (count: number, more: Partial<CacheFile> = {}): CacheFile[] =>
    Array.from({ length: count }, (_, index) => ({
      name: `kelp/kelp.${String(index + 1).padStart(4, '0')}.vdb`,
      bytes: 1e6 * (index + 1),
      modifiedSeconds: 1000 + 12 * index,
      ...more,
    }));

  it('has their sizes, their growth and the pace of the past simulation', () => {
    const found = seriesFromFiles(files(20), 'kelp');
    expect(found.frames).toMatchObject({ label: 'kelp', firstFrame: 1, missingCount: 0 });
    expect(found.frames.bytes).toHaveLength(20);
    expect(found.secondsPerFrame).toEqual(new Array(20).fill(12));
    expect(growthOf(found.frames.bytes)).toBeCloseTo((19 + 20) / (1 + 2), 9);
    expect(found.notes.join(' ')).toMatch(/13 times as large.*12 s/);
  });

  it('says which are missing and which are empty, and takes a night for no frame', () => {
    const holed = files(12).filter((_, index) => index !== 4 && index !== 5);
    holed[2]!.bytes = 0;
    for (const file of holed.slice(6)) file.modifiedSeconds! += 40_000;
    const found = seriesFromFiles(holed, '');
    expect(found.frames.missingCount).toBe(2);
    expect(found.notes.join(' ')).toMatch(/2 of its frames are missing: 5–6\..*1 of its frames are empty/);
    expect(Math.max(...found.secondsPerFrame!)).toBeLessThan(60);
  });

  it('has no pace when all were written at once, or out of order', () => {
    expect(seriesFromFiles(files(9, { modifiedSeconds: 5 }), 'copied').secondsPerFrame).toBeNull();
    expect(seriesFromFiles(files(9, { modifiedSeconds: null }), 'unknown').secondsPerFrame).toBeNull();
    const backwards = files(9).map((file, index) => ({ ...file, modifiedSeconds: 100 - index }));
    expect(seriesFromFiles(backwards, 'backwards').secondsPerFrame).toBeNull();
  });

  it('needs numbered files', () => {
    expect(() => seriesFromFiles([{ name: 'a.vdb', bytes: 1, modifiedSeconds: 0 }], '')).toThrow(/numbered/);
  });

  it('becomes an item that is given by them and typed again without its grid', () => {
    const item: SeriesItem = withFiles(read({}).item!, seriesFromFiles(files(5), 'kelp'));
    expect(item).toMatchObject({ frameCount: 5, frames: { kind: 'files' } });
    expect([...frameSizes(item)]).toEqual([1e6, 2e6, 3e6, 4e6, 5e6]);
    expect([...computeTimes(item)]).toEqual([12, 12, 12, 12, 12]);
    const again = seriesForm.read({ ...seriesForm.texts(item), grid: 'nonsense' }, item.id, item);
    expect(again.item).toEqual(item);
  });
});
