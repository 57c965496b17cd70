import { expect, it } from 'vitest';
import { decidedCase, decidedTable } from '#engine/testing/decided-drives.ts';
import { extent } from '../extent.ts';

/** Made drives with three jobs each, decided by the recipe's own plan and done afterwards, in the worst of eight phases. */
it('decides jobs on random drives, and is wrong only where a stop did not come while it looked', () => {
  const cases = Array.from({ length: extent(600, 15) }, (_, index) => decidedCase(5000 + index));
  const { all, ...kinds } = decidedTable(cases);
  console.table(
    Object.entries({ ...kinds, all: all! }).map(([kind, row]) => ({
      kind,
      jobs: row.jobs,
      decided: `${((100 * row.decided) / row.jobs).toFixed(0)} %`,
      'wrong holds': `${row.wrongHolds.length} of ${row.holds}`,
      'wrong breaks': `${row.wrongBreaks.length} of ${row.breaks}`,
      seconds: `${row.secondsMedian.toFixed(0)}, a fill ${row.fillSecondsMedian.toFixed(0)}`,
      'bytes of fills': `${(100 * row.bytesShare).toFixed(0)} %`,
      'seconds of fills': `${(100 * row.secondsShare).toFixed(0)} %`,
    })),
  );
  expect(all!.wrongBreaks).toEqual([]);
  for (const [kind, row] of Object.entries(kinds)) {
    // A fall that lies behind what was seen of a floor cannot be known either.
    const allowed = kind === 'stops' ? 0.6 : kind === 'steps' ? 0.03 : 0;
    expect(row.wrongHolds.length, `${kind}: seeds ${row.wrongHolds.join(' ')}`).toBeLessThanOrEqual(
      allowed * row.holds,
    );
  }
  expect(all!.decided / all!.jobs).toBeGreaterThan(0.75);
}, 1_800_000);
