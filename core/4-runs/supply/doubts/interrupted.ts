import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';

/** The program ended during the run. */
export const interrupted: DoubtKind = {
  code: 'interrupted',
  effect: 'partial',
  advice: 'Measure again for the whole; what was measured counts.',
  find: ({ state }) =>
    state === 'interrupted' ? [{ evidence: 'The program ended during the run; what had been measured counts.' }] : [],
};
