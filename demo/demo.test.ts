import { beforeAll, describe, expect, it } from 'vitest';
import { compareSides, sideOf } from '#core/5-answers/compare/compare-drives.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { profileRunOf } from '#core/4-runs/supply/profile.ts';
import { figuresOf } from '#core/4-runs/trace/figures.ts';
import { carryOutDemoRuns } from '#demo/runs.ts';

/** What the demo workspace is there to show. */
describe('the demo workspace', () => {
  let runs: RunDocument[];
  beforeAll(async () => {
    runs = await carryOutDemoRuns(({ identity, label, medium }) =>
      Promise.resolve({ id: identity.value, label, medium, identity }),
    );
  }, 60_000);
  const runById = (id: string) => runs.find((run) => run.id === id)!;
  const writingOf = (driveId: string) =>
    sideOf({ runs: runs.filter(({ drive }) => drive.id === driveId).map((run) => profileRunOf(run)) }, 'write');

  it('has no run that failed', () => {
    expect(runs.filter(({ failure }) => failure !== null).map(({ id }) => id)).toEqual([]);
    expect(new Set(runs.map(({ id }) => id)).size).toBe(runs.length);
  });

  it('has a copy that took six times what its first seconds promised, because its target’s cache was full', () => {
    const [leg] = figuresOf(runById('demo-told-short')).copies!.legs;
    const times = leg!.seconds / leg!.earlySeconds!;
    expect(times).toBeGreaterThan(6);
    expect(times).toBeLessThan(7.5);
    expect(leg!.stretches.at(-1)!.binds.kind).toBe('target');
  });

  it('has the evening’s offload, to two places, every file alike', () => {
    const [leg] = runById('demo-offload').copy!.legs;
    expect(leg).toMatchObject({ to: [1, 2], files: 4200, wholeFiles: 4200, checkedFiles: 8400, differingFiles: 0 });
  });

  it('has three drives of which two are alike: a tie is called one, and a difference too', () => {
    const [one, other, limpet] = ['cormorant-x2', 'cormorant-x2-b', 'limpet-1t'].map(writingOf);
    expect(compareSides(other!, one!)).toMatchObject({ isShown: false, floorsDiffer: false });
    // The run of the other drive that something held back does not count: both are held against each other by their fills.
    expect(compareSides(limpet!, one!)).toMatchObject({ floorsDiffer: true });
  });
});
