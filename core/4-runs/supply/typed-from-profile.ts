import type { FieldTexts } from '#core/1-ground/fields/field.ts';
import { fieldTexts } from '#core/1-ground/fields/read-fields.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { NEW_DRIVE_FIELDS, newDriveTexts } from '#core/2-trade/drives/new-drive.ts';
import { supplyOf, type Profile } from '#core/4-runs/supply/profile.ts';

/** The largest request that counts as a small one. */
const SMALL_BYTES = 4096;

const least = (values: readonly number[]): number | null => (values.length > 0 ? Math.min(...values) : null);

/**
 * What the profile of somebody else’s drive says of one that is not here, as one would type it from its box: the least
 * that its runs saw, each way. How large the drive is and what it costs stands in no profile, and stays open.
 */
export function textsOfProfile(profile: Profile): FieldTexts {
  const { traces, requests } = supplyOf(profile);
  const those = (way: Direction) => traces.filter((one) => one.direction === way);
  const [write, read] = DIRECTIONS.map((way) => those(way)) as [typeof traces, typeof traces];
  const opening = least(write.map(({ span }) => span.openingBytesPerSecond));
  const fall = least(write.flatMap(({ kneeBytes }) => kneeBytes ?? []));
  const floor = least(write.map(({ span }) => span.floorBytesPerSecond));
  const small = requests.rungs.filter(
    ({ direction, order, blockBytes, depth }) =>
      direction === 'read' && order === 'random' && blockBytes <= SMALL_BYTES && depth === 1,
  );
  const access = least(small.map(({ blockBytes, bytesPerSecond }) => blockBytes / bytesPerSecond));
  const known = fieldTexts(NEW_DRIVE_FIELDS, {
    label: profile.drive.label,
    medium: profile.drive.medium,
    ratedWrite: fall === null ? floor : opening,
    ratedFloor: fall === null ? null : floor,
    ratedFall: fall,
    ratedRead: least(read.map(({ span }) => span.floorBytesPerSecond)),
    access,
    hops: profile.connection.hops,
    note: noteOf(profile, write.length > 0 && fall === null ? Math.max(...write.map((one) => one.provenBytes)) : null),
  });
  return { ...newDriveTexts(), ...Object.fromEntries(Object.entries(known).filter(([, text]) => text !== '')) };
}

/** @param steadyBytes written at most where no fall was seen; null where one was, or nothing was written */
function noteOf({ runs }: Profile, steadyBytes: number | null): string {
  const measured = runs.filter(({ isPromise }) => !isPromise);
  if (measured.length === 0) return 'From a profile in which nothing was measured.';
  const last = measured
    .map(({ startedAt }) => startedAt)
    .sort()
    .at(-1)!
    .slice(0, 10);
  const count = measured.length === 1 ? 'one run' : `${measured.length} runs`;
  const fall = steadyBytes === null ? '' : ` No fall was seen within ${bytesText(steadyBytes)}: later ones may come.`;
  return `From a profile: ${count} on another machine, the last on ${last}.${fall}`;
}
