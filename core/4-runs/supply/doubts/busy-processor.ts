import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { meanOfKnown } from '#core/1-ground/numbers/statistics.ts';
import { formatShare } from '#core/1-ground/units/format.ts';

const BUSY_PROCESSOR = 0.85;

/** The processor may have been the brake. */
export const busyProcessor: DoubtKind = {
  code: 'busy-processor',
  effect: 'too-low',
  advice: 'Close other programs and measure again.',
  find({ conditions }) {
    const busy = meanOfKnown(conditions.series.processorShare);
    if (busy === null || busy <= BUSY_PROCESSOR) return [];
    return [{ evidence: `The processor was ${formatShare(busy)} busy.` }];
  },
};
