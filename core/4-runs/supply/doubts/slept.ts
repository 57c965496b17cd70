import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { formatDuration } from '#core/1-ground/units/format.ts';

/** The machine slept meanwhile. */
export const slept: DoubtKind = {
  code: 'slept',
  effect: 'partial',
  advice: 'Keep the machine awake and measure again for the whole.',
  find({ markers }) {
    const sleeps = markers.filter((marker) => marker.kind === 'sleep');
    if (sleeps.length === 0) return [];
    const seconds = sleeps.reduce((sum, marker) => sum + marker.seconds, 0);
    return [
      {
        evidence: `The machine slept for ${formatDuration(seconds)} during the run.`,
        atSeconds: sleeps[0]!.atSeconds,
      },
    ];
  },
};
