import type { Workload } from '#core/3-jobs/demand/workload.ts';
import {
  compareSides,
  sideOf,
  unequalConditions,
  type ComparedSide,
  type SideDifference,
} from '#core/5-answers/compare/compare-drives.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { VerdictWord } from '#core/5-answers/verdict/verdict.ts';
import type { DriveSupply } from '../../state/drive-supplies.ts';
import { judgedItems } from '../../state/judging.ts';

/** One drive in a comparison. */
export interface ComparedRow {
  drive: DriveSupply;
  side: ComparedSide | null;
  /** Against the drive that the others are held against; null for that one, and where it cannot be said. */
  difference: SideDifference | null;
  /** What was not alike in their measurements. */
  unequal: string[];
  /** What it guarantees of the workload's largest demand in this direction, and the verdict on it; null without one. */
  guaranteed: { name: string; bytesPerSecond: number | null; verdict: VerdictWord } | null;
}

/** Drives in the order that matters to the job: by what they guarantee of it, else by their floor. */
export function comparedRows(
  drives: readonly DriveSupply[],
  against: DriveSupply | undefined,
  direction: Direction,
  workload: Workload | undefined,
  headroomShare: number,
): ComparedRow[] {
  const reference = against?.profile ? sideOf(against.profile, direction) : null;
  const rows = drives.map((drive): ComparedRow => {
    const side = drive.profile ? sideOf(drive.profile, direction) : null;
    const isReference = drive.card.id === against?.card.id;
    return {
      drive,
      side,
      difference: isReference ? null : compareSides(side, reference),
      unequal:
        isReference || !drive.profile || !against?.profile ? [] : unequalConditions(drive.profile, against.profile),
      guaranteed: guaranteedOf(drive, side, direction, workload, headroomShare),
    };
  });
  const worth = ({ guaranteed, side }: ComparedRow) => guaranteed?.bytesPerSecond ?? side?.floorBytesPerSecond ?? -1;
  return rows.sort((a, b) => worth(b) - worth(a));
}

function guaranteedOf(
  { supply, roomBytes }: DriveSupply,
  side: ComparedSide | null,
  direction: Direction,
  workload: Workload | undefined,
  headroomShare: number,
): ComparedRow['guaranteed'] {
  if (!supply || !workload) return null;
  const [largest] = judgedItems(workload, supply, headroomShare, roomBytes)
    .filter(({ demand, short }) => demand.direction === direction && !demand.isSum && short === null)
    .sort((a, b) => b.demand.bytesPerSecond - a.demand.bytesPerSecond);
  if (!largest) return null;
  const { demand, verdict } = largest;
  // Over the few bytes of a short run a buffer carries more than the drive ever did.
  const rate = verdict.guaranteedBytesPerSecond;
  const bytesPerSecond = rate === null || side === null ? rate : Math.min(rate, side.openingBytesPerSecond);
  return { name: demand.name, bytesPerSecond, verdict: verdict.verdict };
}
