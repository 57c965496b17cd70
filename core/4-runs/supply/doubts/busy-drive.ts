import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { BYPASS_TOLERANCE, bypassOf, writesNames } from '#core/4-runs/supply/doubts/bypass.ts';
import { meanOfKnown } from '#core/1-ground/numbers/statistics.ts';
import { formatShare, rateText } from '#core/1-ground/units/format.ts';

const FOREIGN_TOLERANCE = 0.03;

/** Something else used the drive meanwhile. */
export const busyDrive: DoubtKind = {
  code: 'busy-drive',
  effect: 'too-low',
  advice: 'Close what uses the drive (indexing, backup, synchronising) and measure again.',
  find(run) {
    if (writesNames(run)) return [];
    const occasions = DIRECTIONS.flatMap((direction) => {
      const bypass = bypassOf(run, direction);
      if (bypass === null || bypass.share <= 1 + BYPASS_TOLERANCE) return [];
      return [{ direction, evidence: `${bypass.evidence}: something else used the drive too.` }];
    });
    const foreign = meanOfKnown(run.conditions.series.foreignBytesPerSecond);
    const own = ownBytesPerSecond(run);
    if (foreign === null || own === 0 || foreign / own <= FOREIGN_TOLERANCE) return occasions;
    return [
      ...occasions,
      {
        evidence: `Other programs moved ${rateText(foreign)} on the drive, ${formatShare(foreign / own)} of our own rate.`,
      },
    ];
  },
};

function ownBytesPerSecond({ samples }: RunDocument): number {
  const last = (direction: Direction) => samples.cumulativeBytes[samples.direction.lastIndexOf(direction)] ?? 0;
  const seconds = samples.atSeconds.at(-1) ?? 0;
  return seconds > 0 ? (last('write') + last('read')) / seconds : 0;
}
