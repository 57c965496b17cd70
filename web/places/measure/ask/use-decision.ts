import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { DriveCard, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { jobOf } from '#core/3-jobs/recipes/until-decided.ts';
import { profileOn, supplyOn } from '#core/4-runs/supply/profile.ts';
import { roomBytes } from '#core/4-runs/supply/room.ts';
import { openDemands, whyNotAsked } from '#core/5-answers/ask/question.ts';
import type { JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import { judgedItems } from '#core/5-answers/verdict/judge-workload.ts';
import { api } from '../../../api/client.ts';
import { useContextStore, type Context } from '../../../state/context.ts';
import { roomOf, supplyOfCard } from '../../../state/drive-supplies.ts';
import { refresh, useLibrary } from '../../../state/library.ts';

export interface Decision {
  asked: Context['asked'];
  isBusy: boolean;
  problem: string | undefined;
  ask: (workload: Workload) => Promise<void>;
  /** Puts question and answer away. */
  clear: () => void;
}

/** Verdicts on a workload from all that is known of the drive behind a volume, on its connection. */
export async function judgedOn(volume: VolumeEntry, workload: Workload, headroomShare: number): Promise<JudgedItem[]> {
  const profiles = volume.driveId === null ? [] : await api.profiles(volume.driveId);
  const profile = profileOn(profiles, volume.connection);
  return judgedItems(workload, supplyOn(profile, volume), { headroomShare }, roomBytes(volume));
}

/** The same of a drive that is not attached: what is known of it answers, and nothing is measured. */
export async function judgedOnCard(card: DriveCard, workload: Workload, headroomShare: number): Promise<JudgedItem[]> {
  const [latest] = await api.profiles(card.id);
  return judgedItems(
    workload,
    supplyOfCard(card, latest),
    { headroomShare },
    roomOf(useLibrary.getState().volumes, card),
  );
}

/**
 * Asks: what is known may decide it at once; else a run is started that goes on until it is decided.
 * @param card of a drive that is asked about in place of the volume
 */
export function useDecision(
  target: VolumeEntry | undefined,
  card: DriveCard | undefined,
  folder: string | undefined,
  onWhere: () => void,
): Decision {
  const { asked, set } = useContextStore();
  const [isBusy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string>();
  const navigate = useNavigate();

  const ask = async (workload: Workload) => {
    if (card) {
      setProblem(undefined);
      return set({ asked: { workload, on: { cardId: card.id }, runId: null } });
    }
    if (!target) return onWhere();
    const whyNot = whyNotAsked(target, workload);
    if (whyNot !== null) return setProblem(whyNot);
    const { headroomShare, makeCurrent } = useContextStore.getState();
    setBusy(true);
    setProblem(undefined);
    try {
      const open = openDemands(await judgedOn(target, workload, headroomShare));
      if (open.length === 0) {
        set({ asked: { workload, on: { volumeId: target.id }, runId: null } });
        return;
      }
      if (target.kind === 'real' && folder === undefined) return onWhere();
      const { id } = await api.startRun({
        volumeId: target.id,
        folder: folder ?? '',
        recipeId: 'until-decided',
        options: { jobs: open.map(jobOf), headroomShare },
      });
      await refresh('runs', 'drives', 'volumes');
      set({ asked: { workload, on: { volumeId: target.id }, runId: id } });
      const started = useLibrary.getState().runs.find((entry) => entry.run.id === id);
      if (started) makeCurrent(started.run.drive.id);
      void navigate({ pathname: `/measure/runs/${id}`, search: location.search }, { replace: true });
    } catch (error) {
      setProblem((error as Problem).detail);
    } finally {
      setBusy(false);
    }
  };
  // An answer belongs to the drive that it is about.
  const isOwn =
    asked && ('cardId' in asked.on ? asked.on.cardId === card?.id : !card && asked.on.volumeId === target?.id);
  const own = isOwn ? asked : null;
  return { asked: own, isBusy, problem, ask, clear: () => set({ asked: null }) };
}
