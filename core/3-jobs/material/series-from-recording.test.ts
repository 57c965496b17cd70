import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { curveFormat } from '#core/3-jobs/material/formats/curve.ts';
import { emptyRows, type RecordingRows } from '#core/3-jobs/recording/recording.ts';
import { seriesOfRecording } from '#core/3-jobs/material/series-from-recording.ts';

const SAMPLE = 0.1;

/** Rows at ten a second of stretches that write at a steady rate, or nothing. */
function written(...stretches: [seconds: number, bytes: number][]): RecordingRows {
  const rows = emptyRows();
  let [at, bytes] = [0, 0];
  const push = () => {
    for (const column of Object.values(rows)) column.push(0);
    rows.seconds[rows.seconds.length - 1] = at;
    rows.askedWrittenBytes[rows.seconds.length - 1] = Math.round(bytes);
  };
  push();
  for (const [seconds, amount] of stretches) {
    const steps = Math.round(seconds / SAMPLE);
    for (let step = 0; step < steps; step += 1) {
      at += SAMPLE;
      bytes += amount / steps;
      push();
    }
  }
  return rows;
}
const simulation = (frames: number, compute: number, write: number, bytes: number): [number, number][] =>
  Array.from(
    { length: frames },
    () =>
      [
        [compute, 0],
        [write, bytes],
      ] as [number, number][],
  ).flat();

describe('a recording that writes at a pace', () => {
  it('becomes its frames, with the time that was not spent writing', () => {
    const found = seriesOfRecording({ name: 'simulate', rows: written(...simulation(6, 4, 1, 1.03e9)) })!;
    expect(found.frames).toMatchObject({ kind: 'files', label: 'simulate', firstFrame: 1, missingCount: 0 });
    expect(found.frames.bytes).toHaveLength(6);
    for (const bytes of found.frames.bytes) expect(bytes / 1.03e9).toBeCloseTo(1, 6);
    for (const seconds of found.secondsPerFrame!) expect(Math.abs(seconds - 4)).toBeLessThan(2 * SAMPLE);
    expect(found.notes[0]).toMatch(/^6 frames were written while it was recorded, 4/);
  });

  it('is found again whatever its frames are, to a sample', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 12 }),
        fc.integer({ min: 10, max: 80 }),
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1e6, max: 4e9 }),
        (frames, compute, write, bytes) => {
          const rows = written(...simulation(frames, compute / 10, write / 10, bytes));
          const found = seriesOfRecording({ name: 'simulate', rows })!;
          expect(found.frames.bytes).toHaveLength(frames);
          expect(found.frames.bytes.reduce((sum, one) => sum + one, 0)).toBeCloseTo(rows.askedWrittenBytes.at(-1)!, -1);
          for (const seconds of found.secondsPerFrame!)
            expect(Math.abs(seconds - compute / 10)).toBeLessThan(2 * SAMPLE);
        },
      ),
    );
  });

  it('leaves a log beside the frames alone, and joins a frame that pauses', () => {
    const frame: [number, number][] = [
      [2, 0],
      [0.1, 2000],
      [2, 0],
      [0.5, 4e8],
      [0.5, 0],
      [0.5, 4e8],
    ];
    const found = seriesOfRecording({ name: 'simulate', rows: written(...frame, ...frame, ...frame, ...frame) })!;
    expect(found.frames.bytes.map((bytes) => Math.round(bytes / 1e8))).toEqual([8, 8, 8, 8]);
  });

  it('is none where it writes all the time, twice, or never alike', () => {
    const of = (...stretches: [number, number][]) => seriesOfRecording({ name: 'it', rows: written(...stretches) });
    expect(of([60, 6e9])).toBeNull();
    expect(of([10, 0])).toBeNull();
    expect(of(...simulation(2, 4, 1, 1e9))).toBeNull();
    expect(of([1, 1e9], [30, 0], [1, 1e8], [2, 0], [1, 9e8], [90, 0], [1, 2e8])).toBeNull();
  });
});

describe('a recording as a curve', () => {
  const read = async (name: string, text: string) => {
    const file = { name, path: name, text: () => Promise.resolve(text) } as never;
    expect(curveFormat.accepts([file])).toBe(true);
    return curveFormat.read([file], {} as never);
  };

  it('is what was written, where that is more than what was read', async () => {
    const rows = written(...simulation(4, 1, 1, 5e8));
    const recording = {
      tavrox: 'recording/1',
      id: 'r',
      name: 'simulate',
      startedAt: '2027-03-01T00:00:00Z',
      processes: 1,
      rows,
    };
    const found = await read('simulate.recording.json', JSON.stringify(recording));
    expect(JSON.stringify(found)).toContain('2000000000');
    await expect(read('other.json', '{"tavrox":"run/1"}')).rejects.toThrow(/recording/);
  });
});
