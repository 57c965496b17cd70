import type { DriveHealth } from '#core/2-trade/drives/health.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { count, formatShare } from '#core/1-ground/units/format.ts';

// Doubts that a drive raises about itself, by what it counts.

const lastToldOf = ({ conditions: { told } }: RunDocument): DriveHealth | null => told?.end ?? told?.start ?? null;

/** It says that it is about to fail: what it did is no promise. */
export const failing: DoubtKind = {
  code: 'failing',
  effect: 'too-high',
  advice: 'Copy off what is on it, and record nothing more on it.',
  find: (run) =>
    lastToldOf(run)?.isFailing === true ? [{ evidence: 'The drive says of itself that it is about to fail.' }] : [],
};

/** Data was lost on it while it was measured. */
export const newErrors: DoubtKind = {
  code: 'new-errors',
  effect: 'too-high',
  advice: 'Copy off what is on it, and measure it anew before a take.',
  find({ conditions: { told } }) {
    const [before, after] = [told?.start?.mediaErrors ?? null, told?.end?.mediaErrors ?? null];
    if (before === null || after === null || after <= before) return [];
    const errors = count(after - before, 'error', 'errors');
    return [
      {
        evidence: `By its own count ${errors} in its data came during this run, ${count(after, 'error', 'errors')} in all.`,
      },
    ];
  },
};

const WORN_SHARE = 1;

/** What it may be written by its maker's promise is used up. */
export const wornOut: DoubtKind = {
  code: 'worn-out',
  effect: 'finding',
  advice: 'Keep nothing on it that is nowhere else.',
  find(run) {
    const worn = lastToldOf(run)?.wornShare ?? null;
    if (worn === null || worn < WORN_SHARE) return [];
    return [{ evidence: `By its own count ${formatShare(worn)} of the writing that was promised of it is used up.` }];
  },
};
