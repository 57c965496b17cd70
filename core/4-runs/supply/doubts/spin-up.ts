import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { formatDuration } from '#core/1-ground/units/format.ts';

/** A drive had to wake first. */
export const spinUp: DoubtKind = {
  code: 'spin-up',
  effect: 'apart',
  advice: 'Wake the drive before a take.',
  find: (_run, figures) =>
    DIRECTIONS.flatMap((direction) => {
      const seconds = figures[direction]?.spinUpSeconds ?? 0;
      if (seconds <= 0) return [];
      return [
        { direction, evidence: `Nothing moved for the first ${formatDuration(seconds)}; that wait is set apart.` },
      ];
    }),
};
