import { Problem } from '#core/1-ground/problem.ts';
import { roomBytes } from '#core/4-runs/supply/room.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import type { VolumeInfo } from '#engine/volumes/volume.ts';

/** What a run may use of a space: what is free there, less the reserve and what is promised to others. */
export interface Room {
  label: string;
  /** What tells the space that it is taken from; several volumes may take from one. */
  space: string;
  bytes: number;
  /** Nothing else is kept there. */
  usesAll: boolean;
  /** What runs that were asked for before will keep there. */
  promisedBytes: number;
}

/** Bytes of spaces that runs asked for before have yet to take for good; less than 0 where they will give some back. */
export type PromisedRoom = ReadonlyMap<string, number>;

export const NOTHING_PROMISED: PromisedRoom = new Map();

export function roomOf({ label, spaceKey, freeBytes, usesAll }: VolumeInfo, promised: PromisedRoom): Room {
  const promisedBytes = promised.get(spaceKey) ?? 0;
  return {
    label,
    space: spaceKey,
    bytes: roomBytes({ freeBytes: Math.max(0, freeBytes - promisedBytes), usesAll }),
    usesAll,
    promisedBytes: Math.max(0, promisedBytes),
  };
}

/**
 * @param what the beginning of the sentence: what takes so many bytes
 * @param instead what to type instead
 * @param where the option at fault
 * @throws Problem `not-enough-room` where more is needed than may be used
 */
export function requireRoom(what: string, bytes: number, room: Room, instead: string, where: string): void {
  if (bytes <= room.bytes) return;
  const left =
    room.promisedBytes > 0
      ? `the reserve and the ${bytesText(room.promisedBytes)} that runs asked for before it keep left alone`
      : 'the reserve left alone';
  throw new Problem(
    'not-enough-room',
    `${what}, which does not fit: ${bytesText(room.bytes)} can be used there with ${left}. ${instead}, or free some space.`,
    { where },
  );
}
