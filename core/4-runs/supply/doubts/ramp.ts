import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';

/** A first pass unlike all others. */
export const ramp: DoubtKind = {
  code: 'ramp',
  effect: 'apart',
  advice: 'Nothing: the odd pass is set apart.',
  find: (_run, figures) =>
    DIRECTIONS.filter((direction) => (figures[direction]?.passesApart ?? 0) > 0).map((direction) => ({
      direction,
      evidence: 'The first pass lay outside what the others span and is set apart.',
    })),
};
