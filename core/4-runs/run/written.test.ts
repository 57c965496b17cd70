import { describe, expect, it } from 'vitest';
import { openCopyRecord } from '#core/4-runs/run/copy-record.ts';
import { writtenByDrive } from '#core/4-runs/run/written.ts';
import { runOf } from '#core/testing/run-of.ts';

const GB = 1e9;

describe('what a run wrote', () => {
  it('is all of it, passes that are set apart and laying out too, and nothing of what it read', () => {
    const run = runOf([
      { direction: 'write', phase: 'sizing', rates: [1 * GB] },
      { direction: 'write', rates: [2 * GB, 2 * GB] },
      { direction: 'read', rates: [3 * GB] },
    ]);
    expect(writtenByDrive(run)).toEqual({ [run.drive.id]: 5 * GB });
    expect(writtenByDrive(runOf([{ direction: 'read', rates: [GB] }]))).toEqual({});
  });

  it('is of a copy what its targets took, each time, and its source where it was copied back', () => {
    const run = runOf([]);
    const end = (id: string) => ({
      drive: { ...run.drive, id },
      volume: run.volume,
      connection: run.connection,
      folder: '',
    });
    const copy = openCopyRecord([end('card'), end('shuttle'), end('vault')]);
    const rows = copy.rows;
    const row = (leg: number, at: number, bytes: number, stage: 'copying' | 'verifying' = 'copying') => {
      rows.atSeconds.push(rows.atSeconds.length);
      rows.leg.push(leg);
      rows.end.push(at);
      rows.bytes.push(bytes);
      rows.stage.push(stage);
      rows.waitedSeconds.push(0);
    };
    for (const bytes of [1 * GB, 4 * GB]) for (const at of [0, 1, 2]) row(1, at, bytes);
    for (const at of [1, 2]) row(1, at, 4 * GB, 'verifying');
    // The copy back was not over when it was stopped half-way.
    row(2, 1, 3 * GB);
    row(2, 0, 3 * GB);
    const leg = (number: number, from: number, to: number[]) => ({ leg: number, from, to });
    const legs = [leg(1, 0, [1, 2]), leg(2, 1, [0])] as typeof copy.legs;
    expect(writtenByDrive({ ...run, copy: { ...copy, legs } })).toEqual({
      card: 3 * GB,
      shuttle: 4 * GB,
      vault: 4 * GB,
    });
  });
});
