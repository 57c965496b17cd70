import { rateText } from '#core/1-ground/units/format.ts';
import type { DriveDetails } from '#core/2-trade/drives/drive-details.ts';
import { bindingHop } from '#core/2-trade/links/connection.ts';

/** Why less of what its box promises counts, each as a sentence. */
export function promiseLimits(details: DriveDetails): string[] {
  const { ratedWriteBytesPerSecond: write, ratedReadBytesPerSecond: read, ratedFloorBytesPerSecond: floor } = details;
  const hop = bindingHop({ hops: details.hops ?? [] });
  const limits: string[] = [];
  if (write !== null && floor !== undefined && floor < write && !details.ratedFallBytes) {
    limits.push(`How much it writes at ${rateText(write)} is not known: ${rateText(floor)} count from the beginning.`);
  }
  if (hop !== null && Math.max(write ?? 0, read ?? 0) > hop.ceilingBytesPerSecond) {
    limits.push(`${hop.label} carries ${rateText(hop.ceilingBytesPerSecond)}: no more than that counts.`);
  }
  return limits;
}
