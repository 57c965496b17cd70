import { describe, expect, it } from 'vitest';
import { MADE_KINDS, type MadeKind } from '#core/testing/job-oracle.ts';
import { tableOf, toldOf, type ToldOf } from '#core/testing/whole-jobs.ts';
import { extent } from '../extent.ts';

/** Jobs of each kind: ten thousand in all take about a quarter of an hour. */
const JOBS = extent(1250, 60);
const FIRST_SEED = 100_000;

describe('what is said of whole jobs against what happens when they are done', () => {
  const all: Partial<Record<MadeKind, ToldOf>> = {};

  it.each(MADE_KINDS)(
    '%s',
    (kind) => {
      const told = toldOf(kind, FIRST_SEED, JOBS);
      all[kind] = told;
      expect(told['false-holds']).toEqual([]);
      expect(told['false-breaks'].length).toBeLessThanOrEqual(JOBS / 200);
      expect(told['break-elsewhere'].length).toBeLessThanOrEqual(JOBS / 40);
      expect(told['holds-untold'].length).toBeLessThanOrEqual(JOBS / 8);
    },
    3_600_000,
  );

  it('is printed', () => {
    console.log(tableOf(all));
    expect(Object.keys(all)).toEqual([...MADE_KINDS]);
  });
});
