import type { Emit } from '#core/4-runs/run/run-events.ts';
import type { Removal } from '#engine/scratch/removal.ts';
import type { Scratch } from '#engine/scratch/scratch.ts';
import { scratchMoved, volumeGone } from '#engine/volumes/real/failures.ts';
import { momentEvent } from '#engine/volumes/step-events.ts';

/** Longest note of a marker. */
const MOST_LETTERS = 400;

/** @throws Problem when a scratch space is not where it was made: what was moved since went nobody knows where */
export function checkWhereabouts(scratch: Scratch, mountPoint: string): void {
  const now = scratch.whereabouts();
  if (now === 'away') throw volumeGone(mountPoint);
  if (now === 'moved') throw scratchMoved(scratch.folder);
}

/** Tells of scratch that could not be removed at the end of a run. */
export function tellLeft(folder: string, removal: Removal, atSeconds: number, emit: Emit): void {
  if (removal.is === 'removed') return;
  const note = `The scratch folder ${folder} was left behind. ${removal.why} Settings lists it.`;
  emit(momentEvent('left-behind', atSeconds, 0, note.slice(0, MOST_LETTERS)));
}
