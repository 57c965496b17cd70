import { describe, expect, it } from 'vitest';
import { emptyCopyColumns, type CopyColumns, type CopyLeg } from '#core/4-runs/run/copy-record.ts';
import { runWords } from '#core/4-runs/supply/run-words.ts';
import { figuresOf } from '#core/4-runs/trace/figures.ts';
import { runOf } from '#core/testing/run-of.ts';
import { copyFiguresOf } from '#core/4-runs/trace/copied.ts';

const GB = 1e9;

const legOf = (more: Partial<CopyLeg> = {}): CopyLeg => ({
  leg: 1,
  from: 0,
  to: [1],
  files: 2,
  bytes: 20 * GB,
  wholeBytes: 20 * GB,
  wholeFiles: 2,
  beganSeconds: 0,
  copySeconds: 40,
  flushSeconds: 0,
  verifySeconds: 0,
  checkedFiles: 0,
  differingFiles: 0,
  keptFolders: [],
  ...more,
});

/** Rows once a second: 1 GB/s for ten seconds while the target waits, then a third of it while the source does. */
function rowsOf(leg: number, from = 0): CopyColumns {
  const rows = emptyCopyColumns();
  for (let second = 0; second <= 40; second += 1) {
    const quick = Math.min(second, 10);
    const bytes = quick * GB + ((second - quick) * GB) / 3;
    for (const end of [0, 1]) {
      rows.atSeconds.push(from + second);
      rows.leg.push(leg);
      rows.stage.push('copying');
      rows.end.push(end);
      rows.bytes.push(bytes);
      rows.waitedSeconds.push(end === 0 ? second - quick : 0.5 * quick);
    }
  }
  return rows;
}

describe('what a copy shows', () => {
  it('is its rate, its first estimate, and who waited for whom', () => {
    const [leg] = copyFiguresOf({ legs: [legOf()], rows: rowsOf(1) }).legs;
    expect(leg!.bytesPerSecond).toBeCloseTo(0.5 * GB, 0);
    expect(leg!.earlySeconds).toBeCloseTo(20, 9);
    expect(leg!.waits).toEqual([
      { end: 0, share: 30 / 40 },
      { end: 1, share: 5 / 40 },
    ]);
    const quick = leg!.stretches.filter(({ toBytes }) => toBytes <= 10 * GB);
    expect(quick.every(({ binds }) => binds.kind === 'source')).toBe(true);
    const slow = leg!.stretches.filter(({ fromBytes }) => fromBytes >= 10 * GB);
    expect(slow.every(({ binds, bytesPerSecond }) => binds.kind === 'target' && bytesPerSecond < 0.34 * GB)).toBe(true);
    expect(leg!.stretches.reduce((sum, { fromBytes, toBytes }) => sum + toBytes - fromBytes, 0)).toBeCloseTo(
      20 * GB,
      0,
    );
  });

  it('counts from the first byte where a drive had to spin up', () => {
    const rows = rowsOf(1, 7);
    const still = emptyCopyColumns();
    for (let second = 0; second < 7; second += 1) {
      for (const end of [0, 1]) {
        still.atSeconds.push(second);
        still.leg.push(1);
        still.stage.push('copying');
        still.end.push(end);
        still.bytes.push(0);
        still.waitedSeconds.push(0);
      }
    }
    const all = Object.fromEntries(
      Object.entries(still).map(([key, column]) => [key, [...column, ...rows[key as keyof CopyColumns]]]),
    ) as unknown as CopyColumns;
    expect(copyFiguresOf({ legs: [legOf({ copySeconds: 47 })], rows: all }).legs[0]!.earlySeconds).toBeCloseTo(20, 9);
  });

  it('of three times is a spread with a trend', () => {
    const times = [30, 40, 50];
    const legs = times.map((copySeconds, index) => legOf({ leg: index + 1, copySeconds }));
    const { spread } = copyFiguresOf({ legs, rows: emptyCopyColumns() });
    expect(spread).toMatchObject({ times: 3, medianSeconds: 40, lowestSeconds: 30, highestSeconds: 50 });
    expect(spread!.trendShare).toBeCloseTo(0.5, 9);
    expect(copyFiguresOf({ legs: legs.slice(0, 2), rows: emptyCopyColumns() }).spread).toBeNull();
  });

  it('while it goes on is what has arrived so far, and in words what it was', () => {
    const rows = rowsOf(1);
    const [leg] = copyFiguresOf({ legs: [], rows }).legs;
    expect(leg).toMatchObject({ outcome: null, earlySeconds: null, copiedBytes: 20 * GB, to: [1] });
    const run = {
      ...runOf([]),
      recipe: 'copy',
      copy: {
        ends: [],
        rows,
        watch: {} as never,
        legs: [legOf({ wholeFiles: 1, keptFolders: ['/raid/card'] })],
        notes: [],
      },
    };
    const words = runWords(figuresOf(run))!;
    expect(words.lead).toMatch(/^20.GB in 40 s\.$/);
    expect(words.text).toMatch(/2 times as long as its first seconds suggested/);
    expect(words.text).toMatch(/The source waited 75.% of the time: writing held it back/);
    expect(words.text).toMatch(/1 file was not copied whole/);
    // What was removed again is reported as that, before anything else.
    const removed = { ...run, copy: { ...run.copy, legs: [legOf()] } };
    expect(runWords(figuresOf(removed))!.lead).toBe('Only measured: nothing was kept and nothing verified.');
    const checked = { ...run, copy: { ...run.copy, legs: [legOf({ verifySeconds: 9, checkedFiles: 2 })] } };
    expect(runWords(figuresOf(checked))!.lead).toBe('Only measured: nothing was kept.');
  });
});
