import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { buffered } from '#core/4-runs/supply/doubts/buffered.ts';
import { busyDrive } from '#core/4-runs/supply/doubts/busy-drive.ts';
import { busyProcessor } from '#core/4-runs/supply/doubts/busy-processor.ts';
import { clone } from '#core/4-runs/supply/doubts/clone.ts';
import type { Doubt, DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { heat } from '#core/4-runs/supply/doubts/heat.ts';
import { hotStart } from '#core/4-runs/supply/doubts/hot-start.ts';
import { impossible } from '#core/4-runs/supply/doubts/impossible.ts';
import { interrupted } from '#core/4-runs/supply/doubts/interrupted.ts';
import { linkDowngrade } from '#core/4-runs/supply/doubts/link-downgrade.ts';
import { memoryRead } from '#core/4-runs/supply/doubts/memory-read.ts';
import { nearlyFull } from '#core/4-runs/supply/doubts/nearly-full.ts';
import { onBattery } from '#core/4-runs/supply/doubts/on-battery.ts';
import { ramp } from '#core/4-runs/supply/doubts/ramp.ts';
import { readFromWriteCache } from '#core/4-runs/supply/doubts/read-from-write-cache.ts';
import { serverMemory } from '#core/4-runs/supply/doubts/server-memory.ts';
import { shortRun } from '#core/4-runs/supply/doubts/short-run.ts';
import { heldUp, stoodStill } from '#core/4-runs/supply/doubts/stood-still.ts';
import { slept } from '#core/4-runs/supply/doubts/slept.ts';
import { spinUp } from '#core/4-runs/supply/doubts/spin-up.ts';
import { unsteady } from '#core/4-runs/supply/doubts/unsteady.ts';
import { wrongData } from '#core/4-runs/supply/doubts/wrong-data.ts';
import type { RunFigures } from '#core/4-runs/trace/figures.ts';

/** Every kind of doubt, in the order in which they are told; a new one is a file and a line here. */
export const DOUBT_KINDS: readonly DoubtKind[] = [
  // What makes the figures worthless comes first,
  wrongData,
  clone,
  impossible,
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
  spinUp,
  ramp,
  heat,
  nearlyFull,
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
