import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bucketOf } from '#core/4-runs/run/histogram.ts';
import {
  appendColumns,
  emptyFiles,
  type FileColumns,
  type Marker,
  type RunDocument,
} from '#core/4-runs/run/run-document.ts';
import { runWords } from '#core/4-runs/supply/run-words.ts';
import { runOf } from '#core/testing/run-of.ts';
import { fileFiguresOf } from '#core/4-runs/trace/file-costs.ts';
import { figuresOf } from '#core/4-runs/trace/figures.ts';
import { framesOf } from '#core/4-runs/trace/frames.ts';
import { ladderOf } from '#core/4-runs/trace/ladder.ts';
import { passesOf } from '#core/4-runs/trace/passes.ts';
import { recoveryOf } from '#core/4-runs/trace/recovery.ts';

const camera = {
  name: 'Camera',
  action: 'record',
  frameBytes: 4096,
  frameRate: { numerator: 25, denominator: 1 },
  files: 'container',
  count: 1,
};

/** A run of one stream at 25 frames/s whose frames were done so long after their deadlines; null is dropped. */
function framesRun(lateness: readonly (number | null)[], more: object = {}): Pick<RunDocument, 'options' | 'frames'> {
  return {
    options: { streams: [{ ...camera, ...more }], seconds: lateness.length / 25, bufferSeconds: 0.2, depth: 1 },
    frames: {
      dueSeconds: lateness.map((_, index) => 10 + index / 25),
      stream: lateness.map(() => 0),
      latenessSeconds: [...lateness],
    },
  };
}

describe('paced frames', () => {
  it('count late and dropped ones apart, and tell when the first was lost', () => {
    const lateness = [-0.03, -0.03, 0.01, 0.05, null, null, 0.02, -0.03];
    const figures = framesOf(framesRun(lateness))!;
    expect(figures).toMatchObject({ frames: 8, late: 3, dropped: 2 });
    expect(figures.streams[0]).toMatchObject({ latenessMaxSeconds: 0.05, bufferFrames: 5, paddingBytes: 0 });
    expect(figures.streams[0]!.firstDroppedSeconds).toBeCloseTo(4 / 25, 9);
  });

  it('recorded: the low water is the room left when most were waiting', () => {
    // Every frame is done 2.5 periods after its deadline: at each arrival three or four wait.
    const figures = framesOf(framesRun(Array<number>(40).fill(2.5 / 25)))!;
    expect(figures.streams[0]!.lowWaterFrames).toBe(1);
    const quick = framesOf(framesRun(Array<number>(40).fill(-0.9 / 25)))!;
    expect(quick.streams[0]!.lowWaterFrames).toBe(4);
  });

  it('played: the low water is what lay ready, and the end of the reel is none', () => {
    const ahead = framesOf(framesRun(Array<number>(40).fill(-3 / 25), { action: 'play' }))!;
    expect(ahead.streams[0]!.lowWaterFrames).toBe(3);
    const late = framesOf(framesRun([...Array<number>(20).fill(-3 / 25), 0.5 / 25, 0.5 / 25], { action: 'play' }))!;
    expect(late.streams[0]!.lowWaterFrames).toBe(0);
  });

  it('whatever their order, none is counted twice or lost', () => {
    const anyLateness = fc.array(fc.option(fc.double({ min: -1, max: 1, noNaN: true }), { nil: null }), {
      minLength: 1,
      maxLength: 60,
    });
    fc.assert(
      fc.property(anyLateness, (lateness) => {
        const { frames, late, dropped, streams } = framesOf(framesRun(lateness))!;
        expect(frames).toBe(lateness.length);
        expect(dropped).toBe(lateness.filter((one) => one === null).length);
        expect(late).toBe(lateness.filter((one) => one !== null && one > 0).length);
        expect(streams[0]!.lowWaterFrames).toBeGreaterThanOrEqual(0);
        expect(streams[0]!.lowWaterFrames).toBeLessThanOrEqual(5);
      }),
    );
  });
});

describe('what a file costs', () => {
  const filesOf = (costSeconds: number, bytesPerSecond: number, sizes: readonly number[]): FileColumns => {
    const files = emptyFiles();
    let clock = 0;
    for (const size of sizes) {
      const seconds = costSeconds + size / bytesPerSecond;
      clock += seconds;
      files.atSeconds.push(clock);
      files.action.push('create');
      files.files.push(1);
      files.bytes.push(size);
      files.seconds.push(seconds);
    }
    return files;
  };

  it('is told from its bytes when sizes differ', () => {
    const sizes = Array.from({ length: 300 }, (_, index) => 4096 * (1 + ((index * 37) % 500)));
    const [create] = fileFiguresOf(filesOf(0.012, 200e6, sizes), []);
    expect(create!.costApart).toBe(true);
    expect(create!.costSeconds).toBeCloseTo(0.012, 6);
    expect(create!.filesPerSecond * create!.seconds).toBeCloseTo(300, 6);
  });

  it('is the whole time when they are all alike', () => {
    const [create] = fileFiguresOf(filesOf(0.01, 100e6, Array<number>(50).fill(1e6)), []);
    expect(create).toMatchObject({ costApart: false, files: 50 });
    expect(create!.costSeconds).toBeCloseTo(0.02, 9);
  });

  it('is not moved by single slow files', () => {
    const sizes = Array.from({ length: 300 }, (_, index) => 4096 * (1 + ((index * 37) % 500)));
    const files = filesOf(0.012, 200e6, sizes);
    for (const row of [10, 90, 200]) files.seconds[row] = 3;
    expect(fileFiguresOf(files, [])[0]!.costSeconds).toBeCloseTo(0.012, 3);
  });
});

describe('what actions on files took', () => {
  const rows = (
    action: FileColumns['action'][number],
    ...times: [at: number, seconds: number, files?: number][]
  ): FileColumns => ({
    atSeconds: times.map(([at]) => at),
    action: times.map(() => action),
    files: times.map(([, , count]) => count ?? 1),
    bytes: times.map(() => 1000),
    seconds: times.map(([, seconds]) => seconds),
  });
  const joined = (...all: FileColumns[]): FileColumns => {
    const sum = emptyFiles();
    for (const one of all) appendColumns(sum, one);
    return sum;
  };
  const flush = (atSeconds: number, seconds: number): Marker => ({
    kind: 'flush',
    atSeconds,
    seconds,
    direction: 'write',
    pass: 1,
    phase: null,
    note: '',
  });

  it('lasts from when the first began to when the last was done, with the flush that ends creating', () => {
    // With several at work the first to end need not be the first that began.
    const files = joined(rows('create', [3, 2.5], [2, 1], [5, 1]), rows('read', [8, 1], [9, 1]));
    const [create, read] = fileFiguresOf(files, [flush(0.2, 7), flush(5, 1.5)]);
    expect(create).toMatchObject({ action: 'create', files: 3, bytes: 3000, seconds: 4.5 + 1.5 });
    expect(create!.filesPerSecond).toBeCloseTo(3 / 6, 12);
    expect(create!.bytesPerSecond).toBeCloseTo(3000 / 6, 9);
    expect(read).toMatchObject({ action: 'read', files: 2, seconds: 2 });
    expect(fileFiguresOf(files, [])[0]!.seconds).toBe(4.5);
  });

  it('has its middle and its slowest, of one name where a row has many', () => {
    const times = Array.from({ length: 200 }, (_, index): [number, number] => [index + 1, (200 - index) / 1000]);
    const [create] = fileFiguresOf(rows('create', ...times), []);
    expect(create!.p50Seconds).toBeCloseTo(0.101, 9);
    expect(create!.p99Seconds).toBeCloseTo(0.199, 9);
    const [list] = fileFiguresOf(rows('list', [1, 0.5, 100], [2, 0.2, 100]), []);
    expect(list).toMatchObject({ files: 200, p50Seconds: 0.005 });
  });

  it('has its cost from two sizes on, and never below nothing', () => {
    const two = rows('create', [1, 0.3], [2, 0.5]);
    two.bytes = [100_000, 300_000];
    expect(fileFiguresOf(two, [])[0]).toMatchObject({ costApart: true });
    expect(fileFiguresOf(two, [])[0]!.costSeconds).toBeCloseTo(0.2, 9);
    // Quicker for larger ones: the size has no part in it.
    const odd = { ...two, seconds: [0.5, 0.3] };
    expect(fileFiguresOf(odd, [])[0]!.costSeconds).toBeCloseTo(0.4, 9);
    const steep = { ...two, seconds: [0.1, 0.9] };
    expect(fileFiguresOf(steep, [])[0]!.costSeconds).toBe(0);
  });
});

describe('rungs of a ladder', () => {
  it('are the passes of their numbers, with the requests and latencies of each', () => {
    const options = {
      blocks: [65_536],
      depths: [1, 4],
      direction: 'read',
      order: 'random',
      seconds: 1,
      areaBytes: 1e9,
    };
    const run = runOf([
      { direction: 'read', phase: 'laying-out', rates: [9e6] },
      { direction: 'read', rates: [65_536_000, 65_536_000] },
    ]);
    run.latency = {
      atSeconds: [1],
      direction: ['read'],
      pass: [1],
      rung: [1],
      buckets: [[bucketOf(0.001), bucketOf(0.1)]],
      counts: [[98, 2]],
    };
    run.markers = run.markers.filter(({ phase }) => phase !== 'laying-out');
    run.samples.pass = run.samples.pass.map((_, row) => (row < 2 ? 0 : 1));
    const rungs = ladderOf({ ...run, options });
    expect(rungs).toHaveLength(1);
    expect(rungs[0]).toMatchObject({ rung: 1, blockBytes: 65_536, depth: 1, order: 'random', direction: 'read' });
    expect(rungs[0]!.bytesPerSecond).toBeCloseTo(65_536_000, 3);
    expect(rungs[0]!.operationsPerSecond).toBeCloseTo(1000, 6);
    expect(rungs[0]!.latencyMaxSeconds).toBe(0.02);
    expect(rungs[0]!.latencyP50Seconds).toBeCloseTo(0.001, 3);
    // A class of latencies ends beyond what fell into it: no share of them took longer than the longest.
    expect(rungs[0]!.latencyP99Seconds).toBe(0.02);
    // A pass that is no rung of these options, and one that only laid out, are none.
    run.samples.pass = run.samples.pass.map(() => 9);
    expect(ladderOf({ ...run, options })).toEqual([]);
    const laid = runOf([{ direction: 'write', phase: 'laying-out', rates: [9e6] }]);
    expect(ladderOf({ ...laid, options })).toEqual([]);
  });
});

describe('a run that was held', () => {
  const held = () => {
    const run = runOf([{ direction: 'write', rates: Array<number>(20).fill(100e6) }]);
    // Held for half a minute after the tenth second.
    run.markers.push({
      kind: 'pause',
      atSeconds: 10,
      seconds: 30,
      direction: null,
      pass: null,
      phase: null,
      note: '',
    });
    run.samples.atSeconds = run.samples.atSeconds.map((seconds) => (seconds > 10 ? seconds + 30 : seconds));
    return run;
  };

  it('has the rate it had while it moved', () => {
    const [pass] = passesOf(held());
    expect(pass).toMatchObject({ pausedSeconds: 30, transferSeconds: 20, bytesPerSecond: 100e6 });
    expect(figuresOf(held()).write).toMatchObject({ worstSecondBytesPerSecond: 100e6, medianBytesPerSecond: 100e6 });
    expect(pass!.intervals.every((interval) => interval.bytesPerSecond === 100e6)).toBe(true);
  });
});

describe('recovery', () => {
  const after = (fast: number, slow: number) => {
    const run = runOf([
      { direction: 'write', rates: [...Array<number>(20).fill(1000e6), ...Array<number>(70).fill(100e6)] },
      {
        direction: 'write',
        phase: 'recovery',
        rates: [...Array<number>(fast).fill(990e6), ...Array<number>(slow).fill(100e6)],
      },
    ]);
    run.markers.push({ kind: 'rest', atSeconds: 85, seconds: 60, direction: null, pass: null, phase: null, note: '' });
    return recoveryOf(passesOf(run), run.markers, 1000e6);
  };

  it('is the bytes that went at the opening’s rate', () => {
    expect(after(7, 5)).toEqual([{ restSeconds: 60, regainedBytes: 7 * 990e6, atLeast: false }]);
    expect(after(0, 8)).toEqual([{ restSeconds: 60, regainedBytes: 0, atLeast: false }]);
  });

  it('is at least what was written when it did not fall again', () => {
    expect(after(9, 0)).toEqual([{ restSeconds: 60, regainedBytes: 9 * 990e6, atLeast: true }]);
  });

  it('belongs to the last rest before it, ends at the sample that was fast, and is none without a rest', () => {
    const run = runOf([
      { direction: 'write', phase: 'recovery', rates: [900, 900, 900, 900, 100, 100, 100, 100, 100] },
    ]);
    const rest = (atSeconds: number, seconds: number): Marker => ({
      kind: 'rest',
      atSeconds,
      seconds,
      direction: null,
      pass: null,
      phase: null,
      note: '',
    });
    run.samples.atSeconds = run.samples.atSeconds.map((seconds) => seconds + 100);
    const points = (...markers: Marker[]) =>
      recoveryOf(passesOf({ ...run, markers: [...run.markers, ...markers] }), markers, 1000);
    expect(points(rest(10, 30), rest(50, 60), rest(105, 5))).toEqual([
      { restSeconds: 60, regainedBytes: 3600, atLeast: false },
    ]);
    expect(points()).toEqual([]);
    expect(points({ ...rest(50, 60), kind: 'pause' })).toEqual([]);
    // A rest that gave nothing back: it was slow from its first byte.
    expect(recoveryOf(passesOf(run), [rest(50, 60)], 5000)).toEqual([
      { restSeconds: 60, regainedBytes: 0, atLeast: false },
    ]);
  });
});

describe('the words of a run', () => {
  it('tell what frames did, and are none where rates tell it', () => {
    const of = (lateness: readonly (number | null)[]) =>
      runWords({ ...figuresOf(runOf([])), frames: framesOf(framesRun(lateness)) })!;
    expect(of([-0.03, null, null, -0.03]).lead).toBe('2 frames dropped.');
    expect(of([-0.03, 0.01, -0.03]).text).toMatch(/1 was late and caught by the buffer/);
    expect(runWords(figuresOf(runOf([{ direction: 'write', rates: [1, 1] }])))).toBeNull();
  });
});
