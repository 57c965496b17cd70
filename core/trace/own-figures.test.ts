import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { emptyFiles, type FileColumns, type RunDocument } from '#core/run/run-document.ts';
import { runWords } from '#core/supply/run-words.ts';
import { runOf } from '#core/testing/run-of.ts';
import { fileFiguresOf } from '#core/trace/file-costs.ts';
import { figuresOf } from '#core/trace/figures.ts';
import { framesOf } from '#core/trace/frames.ts';
import { passesOf } from '#core/trace/passes.ts';
import { recoveryOf } from '#core/trace/recovery.ts';

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
