import { describe, expect, it } from 'vitest';
import { parseRunDocument } from '#core/4-runs/run/run-document.ts';
import { conditionLines } from '#core/4-runs/supply/condition-words.ts';
import { profileRunOf } from '#core/4-runs/supply/profile.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { runOfTable } from '#core/4-runs/supply/table-run.ts';

describe('a run from a table', () => {
  const seconds = Array.from({ length: 121 }, (_, at) => at);
  const bytes = seconds.map((at) => (at <= 60 ? at * 900e6 : 54e9 + (at - 60) * 450e6));
  const run = runOfTable(
    { seconds, bytes },
    {
      id: 'table-1',
      driveId: 'd-1',
      driveLabel: 'Camera B',
      direction: 'write',
      startedAt: '2026-03-02T09:00:00.000Z',
      file: 'camera log.csv',
    },
  );

  it('is a document like every other, and is read like one', () => {
    const read = parseRunDocument(JSON.parse(JSON.stringify(run)));
    expect(read.endedAt).toBe('2026-03-02T09:02:00.000Z');
    const { write } = summaryOf(read).figures;
    expect(write!.reading!.kneeBytes! / 54e9).toBeCloseTo(1, 1);
    expect(write!.reading!.floorBytesPerSecond! / 450e6).toBeCloseTo(1, 2);
  });

  it('says that nothing is known of how it was measured, and claims nothing', () => {
    expect(summaryOf(run).doubts.map(({ code }) => code)).toContain('from-a-table');
    const lines = conditionLines(run).join('; ');
    expect(lines).toBe('how requests reached the drive is not known');
    expect(profileRunOf(run).fillShare).toBeNull();
  });
});
