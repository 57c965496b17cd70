import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { BYPASS_TOLERANCE, bypassOf, storedNothing } from '#core/4-runs/supply/doubts/bypass.ts';
import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';

/** Requests went through the system's cache, openly or quietly. */
export const buffered: DoubtKind = {
  code: 'buffered',
  effect: 'too-high',
  advice: 'Measure on a filesystem that takes direct I/O, or write far more than the machine has memory.',
  find(run) {
    if (run.conditions.ioMode === 'buffered') {
      return DIRECTIONS.map((direction) => ({
        direction,
        evidence: 'The filesystem refused direct I/O, so requests went through the system’s cache.',
      }));
    }
    const bypass = bypassOf(run, 'write');
    if (bypass === null || storedNothing(bypass) || bypass.share >= 1 - BYPASS_TOLERANCE) return [];
    return [
      {
        direction: 'write',
        evidence: `${bypass.evidence} by the last request; the rest was still in the system’s cache.`,
      },
    ];
  },
};
