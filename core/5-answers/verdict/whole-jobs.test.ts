import { describe, expect, it } from 'vitest';
import { MADE_KINDS } from '#core/testing/job-oracle.ts';
import { tableOf, toldOf } from '#core/testing/whole-jobs.ts';

/** Jobs of each kind in every run of the tests; npm run proof does ten thousand in all. */
const JOBS = 20;

describe('what is said of whole jobs', () => {
  it.each(MADE_KINDS)(
    'is what happens when they are done: %s',
    (kind) => {
      const told = toldOf(kind, 1, JOBS);
      expect(told['false-holds'], tableOf({ [kind]: told })).toEqual([]);
      expect(told['false-breaks'], tableOf({ [kind]: told })).toEqual([]);
      expect(told['break-elsewhere'].length, tableOf({ [kind]: told })).toBeLessThanOrEqual(JOBS / 20);
      // What holds and is not told so is what one trace cannot tell.
      expect(told['holds-untold'].length).toBeLessThanOrEqual(JOBS / 5);
      expect(told.right.length).toBeGreaterThan(JOBS / 3);
    },
    120_000,
  );
});
