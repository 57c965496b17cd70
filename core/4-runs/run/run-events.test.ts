import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyRunEvent, type RunEvent } from '#core/4-runs/run/run-events.ts';
import { parseRunDocument, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { runOf } from '#core/testing/run-of.ts';

/** A run without anything measured, to apply events to. */
const opening = (): RunDocument => structuredClone(runOf([]));
const row = (atSeconds: number, bytes: number): RunEvent => ({
  type: 'samples',
  samples: {
    atSeconds: [atSeconds],
    cumulativeBytes: [bytes],
    direction: ['write'],
    pass: [1],
    file: [0],
    operations: [1],
    latencyMaxSeconds: [0.01],
  },
});

describe('a run document is its opening and its events', () => {
  it('whatever the pieces in which its samples come', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 100 }), { maxLength: 40 }),
        fc.integer({ min: 1, max: 7 }),
        (bytes, size) => {
          const single = opening();
          const joined = opening();
          const events = bytes.map((value, index) => row(index, value));
          for (const event of events) applyRunEvent(single, event);
          for (let from = 0; from < bytes.length; from += size) {
            const part = bytes.slice(from, from + size);
            applyRunEvent(joined, {
              type: 'samples',
              samples: {
                atSeconds: part.map((_, index) => from + index),
                cumulativeBytes: part,
                direction: part.map(() => 'write' as const),
                pass: part.map(() => 1),
                file: part.map(() => 0),
                operations: part.map(() => 1),
                latencyMaxSeconds: part.map(() => 0.01),
              },
            });
          }
          expect(joined).toEqual(single);
        },
      ),
    );
  });

  it('adds up what was verified, and keeps the first mismatches only', () => {
    const run = opening();
    const mismatches = Array.from({ length: 50 }, (_, index) => ({
      fileOffset: index * 4096,
      foundOffset: null,
      pass: 1,
    }));
    for (let times = 0; times < 3; times += 1) applyRunEvent(run, { type: 'verified', checkedBytes: 1000, mismatches });
    expect(run.conditions.verification.checkedBytes).toBe(3000);
    expect(run.conditions.verification.mismatches).toHaveLength(64);
    expect(run.conditions.verification.mismatches[0]!.fileOffset).toBe(0);
  });

  it('takes its end, its way of reaching the drive and its conditions from events', () => {
    const run = opening();
    applyRunEvent(run, { type: 'io-mode', ioMode: 'buffered' });
    applyRunEvent(run, {
      type: 'watch',
      row: { atSeconds: 1, temperatureCelsius: 41, foreignBytesPerSecond: null, processorShare: 0.2 },
    });
    const failure = { code: 'drive-failed', detail: 'The drive is gone.' };
    applyRunEvent(run, {
      type: 'ended',
      state: 'failed',
      endedAt: '2026-03-02T09:00:09.000Z',
      freeBytes: 5,
      connection: null,
      failure,
    });
    expect(run).toMatchObject({ state: 'failed', failure, endedAt: '2026-03-02T09:00:09.000Z' });
    expect(run.conditions).toMatchObject({ ioMode: 'buffered', end: { freeBytes: 5 } });
    expect(run.conditions.series.temperatureCelsius).toEqual([41]);
  });
});

describe('a run document from outside', () => {
  const plain = () => JSON.parse(JSON.stringify(runOf([{ direction: 'write', rates: [1, 2, 3] }]))) as RunDocument;

  it('takes defaults for what came later', () => {
    const earlier: Partial<RunDocument> = plain();
    delete earlier.frames;
    delete earlier.files;
    expect(parseRunDocument(earlier)).toMatchObject({ frames: { dueSeconds: [] }, files: { bytes: [] } });
  });

  it('is refused with the place of the fault', () => {
    const cut = plain();
    cut.samples.pass.pop();
    expect(() => parseRunDocument(cut)).toThrow(/samples: its columns are not of the same length/);
    expect(() => parseRunDocument({ ...plain(), state: 'lost' })).toThrow(/run: state must be one of/);
    expect(() => parseRunDocument('text', 'file')).toThrow(/^file: /);
  });
});
