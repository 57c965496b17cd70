import { DIRECTIONS } from '#core/run/direction.ts';
import type { DoubtKind } from '#core/supply/doubts/doubt.ts';

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
