import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import {
  buffered,
  memoryRead,
  readFromWriteCache,
  serverMemory,
  shortRun,
} from '#core/4-runs/supply/doubts/too-good.ts';
import { busyDrive, busyProcessor, hotStart, linkDowngrade, onBattery } from '#core/4-runs/supply/doubts/too-bad.ts';
import { clone, impossible, wrongData } from '#core/4-runs/supply/doubts/worthless.ts';
import type { Doubt, DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { fromTable, heat, nearlyFull, ramp, spinUp, unsteady } from '#core/4-runs/supply/doubts/the-drive.ts';
import { failing, newErrors, wornOut } from '#core/4-runs/supply/doubts/own-word.ts';
import { interrupted, heldUp, stoodStill, slept } from '#core/4-runs/supply/doubts/gaps.ts';
import type { RunFigures } from '#core/4-runs/trace/figures.ts';

/** Every kind of doubt, in the order in which they are reported; a new one stands with those of its effect and has a line here. */
export const DOUBT_KINDS: readonly DoubtKind[] = [
  // What makes the figures worthless comes first,
  wrongData,
  clone,
  impossible,
  // then what the drive itself says against it,
  failing,
  newErrors,
  // then what may have made them too good,
  buffered,
  memoryRead,
  serverMemory,
  readFromWriteCache,
  shortRun,
  // then what may have made them too bad,
  busyDrive,
  busyProcessor,
  linkDowngrade,
  onBattery,
  hotStart,
  heldUp,
  // then gaps, and what the drive is like.
  slept,
  interrupted,
  stoodStill,
  fromTable,
  spinUp,
  ramp,
  heat,
  nearlyFull,
  wornOut,
  unsteady,
];

/** Every doubt about a run, from its document and figures. */
export function doubtsOf(run: RunDocument, figures: RunFigures): Doubt[] {
  return DOUBT_KINDS.flatMap((kind) =>
    kind.find(run, figures).map(({ direction = null, evidence, atSeconds = null }) => ({
      code: kind.code,
      effect: kind.effect,
      direction,
      evidence,
      advice: kind.advice,
      atSeconds,
    })),
  );
}
