import { useMemo } from 'react';
import type { DriveCard, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { supplyOf, type Profile, type Supply } from '#core/4-runs/supply/profile.ts';
import { roomBytes, type Space } from '#core/4-runs/supply/room.ts';
import { useContextStore } from './context.ts';
import { useProfiles } from './judged.ts';
import { useLibrary } from './library.ts';

/** One drive with what is known of it. */
export interface DriveSupply {
  card: DriveCard;
  /** Its profile on the connection it was measured on last; undefined while it is read. */
  profile: Profile | undefined;
  supply: Supply | undefined;
  /** Free bytes less the reserve; null while it is not attached. */
  roomBytes: number | null;
}

/** Free bytes of a drive less the reserve; null while it is not attached. */
export function roomOn(volumes: readonly VolumeEntry[], driveId: string): number | null {
  const volume = volumes.find((one) => one.driveId === driveId);
  return volume ? roomBytes(volume) : null;
}

/** What is known of a drive by its profile, where it has one. */
export const supplyOfCard = (card: DriveCard, latest: Profile | undefined): Supply =>
  supplyOf(latest ?? { drive: card, runs: [] });

/** All of a drive that is known from its box, for it is taken to be empty; null for one that is not. */
export const spaceOf = ({ identityKind, capacityBytes, details }: DriveCard): Space | null =>
  identityKind === 'typed' && capacityBytes > 0 ? { freeBytes: capacityBytes, usesAll: details.usesAll } : null;

/** Of a drive that is attached what is free; of one that is known from its box all of it. */
export function roomOf(volumes: readonly VolumeEntry[], card: DriveCard): number | null {
  const space = spaceOf(card);
  return space ? roomBytes(space) : roomOn(volumes, card.id);
}

/** What is known of several drives, in their order. */
export function useDriveSupplies(driveIds: readonly string[]): { drives: DriveSupply[]; problem: Problem | undefined } {
  const { drives, volumes } = useLibrary();
  const { profiles, problem } = useProfiles(driveIds);
  const supplies = useMemo(
    () =>
      new Map(
        Object.entries(profiles).flatMap(([id, [latest]]) => {
          const card = drives.find((one) => one.id === id);
          if (!card) return [];
          return [[id, { profile: latest, supply: supplyOfCard(card, latest) }]];
        }),
      ),
    [profiles, drives],
  );
  const known = useMemo(
    () =>
      driveIds
        .map((id) => drives.find((drive) => drive.id === id))
        .filter((drive) => drive !== undefined)
        .map((card): DriveSupply => {
          const { profile, supply } = supplies.get(card.id) ?? {};
          return { card, profile, supply, roomBytes: roomOf(volumes, card) };
        }),
    [driveIds, drives, volumes, supplies],
  );
  return { drives: known, problem };
}

/** Drives beside each other at most: more would be a list and no picture. */
export const MOST_DRIVES = 8;

/** Ids of the chosen drives where several are; else of every drive there is a card for. */
export function useComparedIds(): readonly string[] {
  const driveIds = useContextStore((state) => state.driveIds);
  const drives = useLibrary((state) => state.drives);
  return useMemo(
    () => (driveIds.length >= 2 ? driveIds : drives.map((drive) => drive.id)).slice(0, MOST_DRIVES),
    [driveIds, drives],
  );
}

/** Those drives with what is known of them. */
export function useComparedDrives(): { drives: DriveSupply[]; problem: Problem | undefined } {
  return useDriveSupplies(useComparedIds());
}
