import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { formatShare } from '#core/1-ground/units/format.ts';

const NEARLY_FULL = 0.85;

/** Many drives are slower where they are full. */
export const nearlyFull: DoubtKind = {
  code: 'nearly-full',
  effect: 'finding',
  advice: 'Free some space before the job.',
  find({ conditions: { start } }) {
    const fill = start.totalBytes > 0 ? 1 - start.freeBytes / start.totalBytes : 0;
    if (fill <= NEARLY_FULL) return [];
    return [{ evidence: `The volume was ${formatShare(fill)} full, where many drives are slower.` }];
  },
};
