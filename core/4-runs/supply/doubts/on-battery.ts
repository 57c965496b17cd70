import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';

/** Machines save power on their battery. */
export const onBattery: DoubtKind = {
  code: 'on-battery',
  effect: 'too-low',
  advice: 'Plug the machine in and measure again.',
  find: ({ conditions }) =>
    conditions.start.onBattery === true ? [{ evidence: 'The machine ran on its battery, which can slow drives.' }] : [],
};
