import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { BYPASS_TOLERANCE, bypassOf } from '#core/4-runs/supply/doubts/bypass.ts';

/** What was read did not come from the device. */
export const memoryRead: DoubtKind = {
  code: 'memory-read',
  effect: 'too-high',
  advice: 'Read material that was not just written, with Existing material, or restart the machine before.',
  find(run) {
    const bypass = bypassOf(run, 'read');
    if (bypass === null || bypass.share >= 1 - BYPASS_TOLERANCE) return [];
    return [{ direction: 'read', evidence: `${bypass.evidence}; the rest came out of memory.` }];
  },
};
