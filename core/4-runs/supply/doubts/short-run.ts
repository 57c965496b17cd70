import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import { PARTICIPLES, type DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { formatDuration } from '#core/1-ground/units/format.ts';

const SHORT_RUN_SECONDS = 10;

/** Too short to show a level. */
export const shortRun: DoubtKind = {
  code: 'short-run',
  effect: 'too-high',
  advice: 'Measure for longer: more passes, or a Long fill.',
  find: (_run, figures) =>
    DIRECTIONS.flatMap((direction) => {
      const seconds = figures[direction]?.seconds ?? Infinity;
      if (seconds >= SHORT_RUN_SECONDS) return [];
      const moved = `${formatDuration(seconds)} were ${PARTICIPLES[direction]} in all`;
      return [{ direction, evidence: `Only ${moved}; a level shows after 10 s.` }];
    }),
};
