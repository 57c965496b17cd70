import { useMemo } from 'react';
import type { DriveCard, RunListEntry, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import type { Knowledge } from '#core/3-jobs/recipes/recipe-kind.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { roomBytes } from '#core/4-runs/supply/room.ts';
import { useContextStore } from '../../state/context.ts';
import { useLibrary } from '../../state/library.ts';

/** The volume that the next run goes to: the one just chosen, or the current drive's. */
export function useTarget(): VolumeEntry | undefined {
  const volumes = useLibrary((state) => state.volumes);
  const { driveIds, targetVolumeId } = useContextStore();
  // A volume that was just chosen has no drive card before its first run.
  const justChosen = volumes.find((volume) => volume.id === targetVolumeId);
  const fresh = justChosen !== undefined && (justChosen.driveId === null || justChosen.driveId === driveIds[0]);
  if (fresh) return justChosen;
  return volumes.find((volume) => volume.driveId !== null && volume.driveId === driveIds[0]) ?? proposed(volumes);
}

/**
 * The drive that a question is about where it is not attached: known from its box or from earlier runs, and no volume was
 * chosen in its place.
 */
export function useAskedCard(): DriveCard | undefined {
  const { volumes, drives } = useLibrary();
  const { driveIds, targetVolumeId } = useContextStore();
  const isElsewhere = volumes.some(({ id, driveId }) => id === targetVolumeId || driveId === driveIds[0]);
  return isElsewhere ? undefined : drives.find(({ id }) => id === driveIds[0]);
}

/** For who has chosen none: the largest volume that can be written and is not the system's. */
function proposed(volumes: readonly VolumeEntry[]): VolumeEntry | undefined {
  const real = volumes.filter(({ kind, readOnly, medium }) => kind === 'real' && !readOnly && medium !== 'memory');
  const own = real.filter(({ mountPoint }) => mountPoint !== '/');
  return [...(own.length > 0 ? own : real)].sort((a, b) => b.totalBytes - a.totalBytes)[0];
}

/** What is known of the volume that the next run goes to, from its drive's runs. */
export function useKnowledge(): Knowledge {
  const target = useTarget();
  const runs = useLibrary((state) => state.runs);
  return useMemo(() => {
    const own = runs.filter((entry) => target?.driveId !== null && entry.run.drive.id === target?.driveId);
    return {
      writeBytesPerSecond: newestRate(own, 'write'),
      readBytesPerSecond: newestRate(own, 'read'),
      roomBytes: target ? roomBytes(target) : Infinity,
    };
  }, [target, runs]);
}

/** The floor where one was seen, else the newest median: a long run lives with that. */
function newestRate(runs: readonly RunListEntry[], direction: Direction): number | null {
  const figures = runs.map((entry) => entry.figures[direction]).filter((one) => one !== null);
  const floor = figures.find((one) => (one.reading?.floorBytesPerSecond ?? null) !== null)?.reading
    ?.floorBytesPerSecond;
  return floor ?? figures[0]?.medianBytesPerSecond ?? null;
}
