import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';

/** What was read back is not what was written. */
export const wrongData: DoubtKind = {
  code: 'wrong-data',
  effect: 'void',
  advice: 'Do not trust this drive, cable or memory with anything. Copy off what is on it.',
  find({ conditions: { verification } }) {
    const [first] = verification.mismatches;
    if (!first) return [];
    const { fileOffset, foundOffset } = first;
    const found = foundOffset === null ? 'other data' : `the data of byte ${formatNumber(foundOffset, 'full')}`;
    const place = `At byte ${formatNumber(fileOffset, 'full')} of the scratch file`;
    return [{ evidence: `${place} ${found} was read back instead of what was written.` }];
  },
};
