import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  emptyRows,
  parseRecording,
  parseRecordingCsv,
  phasesOfRecording,
  recordingCsv,
  recordingProgress,
  recordingTotals,
  type RecordingRows,
} from '#core/3-jobs/recording/recording.ts';

/** Steps of (seconds, bytes read, processor seconds), in calls of 64 KiB. */
function rowsOf(...steps: [seconds: number, bytes: number, processor: number][]): RecordingRows {
  const rows = emptyRows();
  let [seconds, read, processor] = [0, 0, 0];
  const push = () => {
    rows.seconds.push(seconds);
    rows.readBytes.push(read);
    rows.askedReadBytes.push(read);
    rows.writtenBytes.push(0);
    rows.askedWrittenBytes.push(0);
    rows.readCalls.push(read / 65_536);
    rows.writeCalls.push(0);
    rows.processorSeconds.push(processor);
  };
  push();
  for (const [took, bytes, computing] of steps) {
    seconds += took;
    read += bytes;
    processor += computing;
    push();
  }
  return rows;
}

describe('a recording', () => {
  it('adds up to what was moved', () => {
    const rows = rowsOf([1, 65_536_000, 0.5], [2, 0, 1.5], [1, 131_072_000, 0.25]);
    expect(recordingTotals(rows)).toMatchObject({
      seconds: 4,
      readBytes: 196_608_000,
      processorSeconds: 2.25,
      readCalls: 3000,
    });
    expect(recordingProgress(rows, 'read')).toEqual({
      seconds: [0, 1, 3, 4],
      bytes: [0, 65_536_000, 65_536_000, 196_608_000],
    });
    expect(recordingProgress(rows, 'write').bytes).toEqual([0, 0, 0, 0]);
  });

  it('falls into phases where it reads nothing for a while, each with the computing behind it', () => {
    const rows = rowsOf([1, 655_360_000, 0.5], [1, 0, 1], [3, 0, 2.5], [1, 65_536_000, 0.2], [1, 0, 0.3]);
    const phases = phasesOfRecording(rows);
    expect(
      phases.map(({ name, bytes, processorSeconds, requestBytes }) => [name, bytes, processorSeconds, requestBytes]),
    ).toEqual([
      ['Phase 1', 655_360_000, 4, 65_536],
      ['Phase 2', 65_536_000, 0.5, 65_536],
    ]);
    expect(phasesOfRecording(rowsOf([1, 65_536, 0.1], [1, 65_536, 0.1]))).toHaveLength(1);
  });

  it('keeps what was written: by what the program asked for, since the device is told later', () => {
    const rows = rowsOf([1, 0, 0.5], [1, 0, 0.5], [3, 0, 1], [1, 0, 0.2]);
    rows.askedWrittenBytes = [0, 400e6, 629e6, 629e6, 700e6];
    rows.writtenBytes = [0, 0, 100e6, 629e6, 629e6];
    const phases = phasesOfRecording(rows);
    expect(phases.map(({ bytes, writtenBytes }) => [bytes, writtenBytes])).toEqual([
      [0, 629e6],
      [0, 71e6],
    ]);
  });

  it('loses nothing on its way into phases', () => {
    const steps = fc.array(
      fc.tuple(fc.integer({ min: 1, max: 50 }), fc.integer({ min: 0, max: 400 }), fc.integer({ min: 0, max: 100 })),
      { minLength: 1, maxLength: 30 },
    );
    fc.assert(
      fc.property(steps, (all) => {
        const rows = rowsOf(
          ...all.map(
            ([tenths, blocks, hundredths]) =>
              [tenths / 10, blocks * 65_536, hundredths / 100] as [number, number, number],
          ),
        );
        const phases = phasesOfRecording(rows);
        const whole = phases.length < 12;
        const bytes = phases.reduce((sum, phase) => sum + phase.bytes, 0);
        const processor = phases.reduce((sum, phase) => sum + phase.processorSeconds, 0);
        expect(bytes).toBe(rows.readBytes.at(-1));
        if (whole) expect(processor).toBeCloseTo(rows.processorSeconds.at(-1)!, 2);
      }),
    );
  });

  it('is the same from its CSV', () => {
    const rows = rowsOf([0.1, 65_536, 0.01], [0.1, 131_072, 0.02]);
    expect(parseRecordingCsv(recordingCsv({ rows }), 'x.csv')).toEqual(rows);
    const few = parseRecordingCsv('seconds,readBytes\n0,0\n1,4096\n', 'x.csv');
    expect(few).toMatchObject({ askedReadBytes: [0, 4096], processorSeconds: [0, 0] });
  });

  it.each([
    ['', /line 1: no recording/],
    ['a,b\n1,2\n', /line 1: no recording/],
    ['seconds,readBytes\n0,0\n', /fewer than two rows/],
    ['seconds,readBytes\n0,0\n1,x\n', /line 3: readBytes is no number/],
    ['seconds,readBytes\n0,5\n1,4\n', /readBytes: row 2 goes back to 4/],
    ['seconds,readBytes\n1,5\n0,6\n', /seconds: row 2 goes back to 0/],
  ])('says where a CSV is at fault: %j', (text, sentence) => {
    expect(() => parseRecordingCsv(text, 'x.csv')).toThrow(sentence);
  });

  it('is checked as a document', () => {
    const rows = rowsOf([1, 65_536, 1]);
    const recording = { tavrox: 'recording/1', id: 'a', name: 'cat', startedAt: '2026-03-01', processes: 1, rows };
    expect(parseRecording(recording)).toEqual(recording);
    expect(() => parseRecording({ ...recording, tavrox: 'recording/9' })).toThrow(/tavrox/);
    expect(() => parseRecording({ ...recording, rows: { ...rows, readBytes: [1] } })).toThrow(/readBytes: has 1 rows/);
  });
});
