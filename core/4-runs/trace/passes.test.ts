import { describe, expect, it } from 'vitest';
import { emptySamples, type Marker, type SampleColumns } from '#core/4-runs/run/run-document.ts';
import { countedPasses, passesOf, type Pass } from '#core/4-runs/trace/passes.ts';

/** Samples of one pass of writing: (seconds, bytes so far, requests since). */
function samplesOf(...rows: [seconds: number, bytes: number, operations: number][]): SampleColumns {
  const samples = emptySamples();
  for (const [seconds, bytes, operations] of rows) {
    samples.atSeconds.push(seconds);
    samples.cumulativeBytes.push(bytes);
    samples.direction.push('write');
    samples.pass.push(1);
    samples.file.push(0);
    samples.operations.push(operations);
    samples.latencyMaxSeconds.push(0);
  }
  return samples;
}
const marker = (kind: Marker['kind'], atSeconds: number, seconds: number, more: Partial<Marker> = {}): Marker => ({
  kind,
  atSeconds,
  seconds,
  direction: null,
  pass: null,
  phase: null,
  note: '',
  ...more,
});
const own = { direction: 'write', pass: 1 } as const;
const firstPass = (samples: SampleColumns, ...markers: Marker[]): Pass => passesOf({ samples, markers })[0]!;
const intervals = (pass: Pass) =>
  pass.intervals.map(({ fromSeconds, toSeconds, fromBytes, toBytes, operations, bytesPerSecond }) => [
    fromSeconds,
    toSeconds,
    fromBytes,
    toBytes,
    operations,
    bytesPerSecond,
  ]);

describe('a pass', () => {
  it('begins at its own origin, after what was moved before', () => {
    const pass = firstPass(samplesOf([10, 500, 0], [11, 600, 20], [12, 800, 20]));
    expect(pass).toMatchObject({
      startSeconds: 10,
      bytes: 300,
      transferSeconds: 2,
      bytesPerSecond: 150,
      spinUpSeconds: 0,
    });
    expect(pass.progress).toEqual({ seconds: [0, 1, 2], bytes: [0, 100, 300] });
  });

  it('is what its marker says, and else reading or overwriting', () => {
    const samples = samplesOf([0, 0, 0], [1, 100, 9]);
    expect(firstPass(samples).phase).toBe('overwriting');
    expect(firstPass({ ...samples, direction: ['read', 'read'] }).phase).toBe('reading');
    expect(firstPass(samples, marker('pass', 0, 0, { ...own, phase: 'allocating' })).phase).toBe('allocating');
    // A marker of another pass or direction is none of its own.
    expect(firstPass(samples, marker('pass', 0, 0, { ...own, pass: 2, phase: 'allocating' })).phase).toBe(
      'overwriting',
    );
    expect(firstPass(samples, marker('flush', 0, 0, own)).phase).toBe('overwriting');
  });

  it('that moved nothing is none', () => {
    expect(passesOf({ samples: samplesOf([0, 7, 0], [1, 7, 0]), markers: [] })).toEqual([]);
    expect(passesOf({ samples: emptySamples(), markers: [] })).toEqual([]);
  });

  it('has the flush that ends it in its time, and not one on the way', () => {
    const samples = samplesOf([0, 0, 0], [2, 200, 9], [4, 400, 9]);
    const flushed = firstPass(samples, marker('flush', 1, 0.5, own), marker('flush', 4, 1, own), marker('flush', 4, 9));
    expect(flushed).toMatchObject({ flushSeconds: 1, transferSeconds: 4, bytesPerSecond: 80 });
    // A pause moves the end of the pass: a flush before that is one on the way.
    const held = firstPass(samples, marker('pause', 1, 1), marker('flush', 3.5, 1, own));
    expect(held).toMatchObject({ pausedSeconds: 1, transferSeconds: 3, flushSeconds: 0 });
    expect(held.bytesPerSecond).toBeCloseTo(400 / 3, 9);
  });

  it('that waited at first is timed from when it moved; half a second is no wait', () => {
    const slept = firstPass(samplesOf([5, 0, 0], [6, 0, 0], [7, 0, 0], [8, 100, 20], [9, 200, 20]));
    expect(slept).toMatchObject({ spinUpSeconds: 2, startSeconds: 7, transferSeconds: 2, bytesPerSecond: 100 });
    expect(slept.progress).toEqual({ seconds: [0, 1, 2], bytes: [0, 100, 200] });
    expect(slept.intervals[0]!.fromSeconds).toBe(7);
    expect(firstPass(samplesOf([5, 0, 0], [5.4, 0, 0], [6, 60, 20]))).toMatchObject({
      spinUpSeconds: 0,
      transferSeconds: 1,
    });
    expect(firstPass(samplesOf([5, 0, 0], [5.5, 0, 0], [6, 60, 20]))).toMatchObject({ spinUpSeconds: 0.5 });
  });
});

describe('the intervals of a pass', () => {
  it('are gathered until they hold sixteen requests, or last a second', () => {
    const many = firstPass(samplesOf([0, 0, 0], [0.1, 10, 16], [0.2, 30, 16], [0.3, 60, 16]));
    expect(intervals(many).map((row) => row.slice(0, 5))).toEqual([
      [0, 0.1, 0, 10, 16],
      [0.1, 0.2, 10, 30, 16],
      [0.2, 0.3, 30, 60, 16],
    ]);
    const few = firstPass(samplesOf([0, 0, 0], [0.25, 10, 8], [0.5, 20, 8], [0.75, 30, 8], [1, 40, 8]));
    expect(intervals(few)).toEqual([
      [0, 0.5, 0, 20, 16, 40],
      [0.5, 1, 20, 40, 16, 40],
    ]);
    const rare = firstPass(samplesOf([0, 0, 0], [0.5, 10, 1], [1, 20, 1], [1.5, 30, 1], [2, 40, 1]));
    expect(intervals(rare)).toEqual([
      [0, 1, 0, 20, 2, 20],
      [1, 2, 20, 40, 2, 20],
    ]);
  });

  it('close with what is left of a few requests in the one before', () => {
    const pass = firstPass(samplesOf([0, 0, 0], [1, 100, 20], [1.5, 110, 7]));
    expect(intervals(pass)).toEqual([[0, 1.5, 0, 110, 27, 110 / 1.5]]);
    // Half as many requests, or a whole second, are an interval of their own.
    expect(firstPass(samplesOf([0, 0, 0], [1, 100, 20], [1.5, 110, 8])).intervals).toHaveLength(2);
    expect(firstPass(samplesOf([0, 0, 0], [1, 100, 20], [2, 110, 7])).intervals).toHaveLength(2);
  });

  it('leave the pause out, and begin anew behind it', () => {
    const pass = firstPass(samplesOf([0, 0, 0], [0.5, 50, 4], [10.5, 60, 4], [11, 110, 4]), marker('pause', 0.5, 9.5));
    // Behind the pause the row moved for half a second.
    expect(intervals(pass)).toEqual([
      [0, 0.5, 0, 50, 4, 100],
      [10, 11, 50, 110, 8, 60],
    ]);
    expect(pass).toMatchObject({ pausedSeconds: 9.5, transferSeconds: 1.5 });
    expect(pass.progress.seconds).toEqual([0, 0.5, 1, 1.5]);
  });

  it('take bytes that came between two looks at the clock into the last of them', () => {
    const pass = firstPass(samplesOf([0, 0, 0], [1, 100, 20], [1, 130, 5]));
    expect(intervals(pass)).toEqual([[0, 1, 0, 130, 20, 130]]);
    expect(pass.bytes).toBe(130);
    // At the very beginning there is nothing yet that they could belong to.
    expect(firstPass(samplesOf([0, 0, 0], [0, 30, 5], [1, 100, 20])).bytes).toBe(100);
    expect(firstPass(samplesOf([0, 0, 0], [1, 100, 20], [1, 100, 5])).bytes).toBe(100);
  });

  it('whose pass was held all the time add nothing', () => {
    const pass = firstPass(samplesOf([0, 0, 0], [1, 100, 20], [5, 100, 0], [6, 200, 20]), marker('pause', 1, 4));
    expect(pass).toMatchObject({ pausedSeconds: 4, transferSeconds: 2, bytes: 200, bytesPerSecond: 100 });
  });
});

describe('the passes that count', () => {
  const passes = (...all: [bytesPerSecond: number, bytes?: number, phase?: Pass['phase']][]): Pass[] =>
    all.map(([bytesPerSecond, bytes = 100, phase = 'overwriting'], index) => ({
      ...firstPass(samplesOf([0, 0, 0], [1, 100, 20])),
      pass: index,
      phase,
      bytes,
      bytesPerSecond,
    }));
  const rates = (all: Pass[]) => countedPasses(all, 'write').counted.map((pass) => pass.bytesPerSecond);

  it('are those of levels and of one direction, at least half as long as the longest', () => {
    expect(
      rates(passes([1, 100, 'sizing'], [2], [3, 50], [4, 49], [5, 100, 'laying-out'], [6, 100, 'recovery'])),
    ).toEqual([2, 3]);
    expect(countedPasses(passes([1], [2]), 'read')).toEqual({ counted: [], apart: [] });
  });

  it('leave out a first one that lies outside what the later ones span by a tenth of their middle', () => {
    // Later ones of 90 to 110 with 100 in the middle: from 80 to 120 it counts.
    const later: [number][] = [[90], [110], [100]];
    expect(rates(passes([80], ...later))).toHaveLength(4);
    expect(rates(passes([79], ...later))).toEqual([90, 110, 100]);
    expect(rates(passes([120], ...later))).toHaveLength(4);
    expect(rates(passes([121], ...later))).toEqual([90, 110, 100]);
    expect(countedPasses(passes([79], ...later), 'write').apart.map((pass) => pass.bytesPerSecond)).toEqual([79]);
  });

  it('are all of two: there is too little to hold the first against', () => {
    expect(rates(passes([10], [100]))).toEqual([10, 100]);
    expect(rates(passes([10], [100], [101]))).toEqual([100, 101]);
  });
});
