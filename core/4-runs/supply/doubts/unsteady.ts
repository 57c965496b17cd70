import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { formatShare } from '#core/1-ground/units/format.ts';

const UNSTEADY = 0.15;

/** Passes that differ among themselves. */
export const unsteady: DoubtKind = {
  code: 'unsteady',
  effect: 'finding',
  advice: 'Look at the slowest second; the job has to live with it.',
  find: (_run, figures) =>
    DIRECTIONS.flatMap((direction) => {
      const share = figures[direction]?.coefficientOfVariation ?? 0;
      if (share <= UNSTEADY) return [];
      const passes = `The passes ${direction === 'write' ? 'writing' : 'reading'}`;
      return [{ direction, evidence: `${passes} differ by ${formatShare(share)} (standard deviation ÷ mean).` }];
    }),
};
