import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { bypassOf, storedNothing } from '#core/4-runs/supply/doubts/bypass.ts';

/** The filesystem kept a reference to data it had, or none at all. */
export const clone: DoubtKind = {
  code: 'clone',
  effect: 'void',
  advice: 'The filesystem stored no new data. Measure with incompressible data on another volume.',
  find(run) {
    const bypass = bypassOf(run, 'write');
    if (bypass === null || !storedNothing(bypass)) return [];
    return [{ direction: 'write', evidence: `${bypass.evidence}, even after the flush: nothing was stored.` }];
  },
};
