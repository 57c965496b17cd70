import type { DriveDetails } from '#core/2-trade/drives/drive-details.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';
import { NONE_THERE } from '#core/5-answers/sizing/drive-choice.ts';
import type { SizingDrive } from '#core/5-answers/sizing/project.ts';
import type { Profile } from '#core/4-runs/supply/profile.ts';

/** A kind of drive that has a card. Its price is null where nobody knows it: then only those that are there count. */
export type CardedDrive = Omit<SizingDrive, 'price'> & { price: number | null };

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
