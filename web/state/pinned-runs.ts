import { useMemo } from 'react';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { supplyOf } from '#core/4-runs/supply/profile.ts';
import { useContextStore } from './context.ts';
import { useDriveSupplies, type DriveSupply } from './drive-supplies.ts';
import { useLibrary } from './library.ts';

/** Runs that are held for a comparison, each as a drive of which nothing else is known. */
export function usePinnedRuns(): DriveSupply[] {
  const pinnedRunIds = useContextStore((state) => state.pinnedRunIds);
  const runs = useLibrary((state) => state.runs);
  const pinned = useMemo(
    () => pinnedRunIds.flatMap((id) => runs.find(({ run }) => run.id === id)?.run ?? []),
    [pinnedRunIds, runs],
  );
  const driveIds = useMemo(() => [...new Set(pinned.map(({ drive }) => drive.id))], [pinned]);
  const { drives } = useDriveSupplies(driveIds);
  return useMemo(
    () =>
      pinned.flatMap((run): DriveSupply[] => {
        const drive = drives.find(({ card }) => card.id === run.drive.id);
        const own = drive?.profile?.runs.find(({ runId }) => runId === run.id);
        if (!drive?.profile || !own) return [];
        const profile = { ...drive.profile, connection: run.connection, runs: [own] };
        const when = new Date(run.startedAt).toLocaleString('en-GB', {
          day: 'numeric',
          month: 'short',
          hour: '2-digit',
          minute: '2-digit',
        });
        const label = `${when}, ${drive.card.label}, ${recipeKindById(run.recipe).label.toLowerCase()}`;
        return [{ ...drive, card: { ...drive.card, id: run.id, label }, profile, supply: supplyOf(profile) }];
      }),
    [pinned, drives],
  );
}
