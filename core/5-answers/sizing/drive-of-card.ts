import type { DriveDetails } from '#core/2-trade/drives/drive-details.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import type { FieldErrors, FieldTexts } from '#core/1-ground/fields/field.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { DRIVE_CHOICE, NONE_THERE, chosenDrives, type DriveChoice } from '#core/5-answers/sizing/drive-choice.ts';
import type { SizingDrive, SizingPlan } from '#core/5-answers/sizing/project.ts';
import { readPlan } from '#core/5-answers/sizing/sizing-form.ts';
import type { Profile } from '#core/4-runs/supply/profile.ts';

/** A kind of drive that has a card. Its price is null where nobody knows it: then only those that are there count. */
export type CardedDrive = Omit<SizingDrive, 'price'> & { price: number | null };

/** A plan from texts, with drives that have a card; all faults at once, a name that no drive has at its own field. */
export function readPlanWith(
  texts: FieldTexts,
  drives: readonly CardedDrive[],
): { plan: SizingPlan | null; errors: FieldErrors } {
  const { plan, errors } = readPlan(texts);
  const choice = errors['choice'] === undefined ? choiceFault(texts['choice'] ?? '', drives) : null;
  return choice === null ? { plan, errors } : { plan: null, errors: { ...errors, choice } };
}

function choiceFault(text: string, drives: readonly CardedDrive[]): string | null {
  try {
    chosenDrives(drives, DRIVE_CHOICE.read(text, 'drive') as DriveChoice[]);
    return null;
  } catch (error) {
    return (error as Problem).detail;
  }
}

/**
 * A card as a kind of drive to build with; null where nothing can be built of it: what is in memory is lost when the
 * machine stops, and a card without a capacity says too little.
 * @param profile what its runs testify, or what its box promises
 */
export function cardedDrive(
  card: { id: string; label: string; medium: Medium; capacityBytes: number; details: DriveDetails },
  profile: Profile | null,
): CardedDrive | null {
  const { id, label, medium, capacityBytes, details } = card;
  if (medium === 'memory' || capacityBytes <= 0) return null;
  return {
    id,
    label,
    medium,
    capacityBytes,
    price: details.price,
    writeBytesPerSecond: details.ratedWriteBytesPerSecond,
    readBytesPerSecond: details.ratedReadBytesPerSecond,
    enduranceBytes: details.enduranceBytes,
    loudnessDecibels: details.loudnessDecibels,
    ...NONE_THERE,
    profile,
  };
}
