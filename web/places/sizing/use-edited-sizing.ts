import { useMemo } from 'react';
import { Problem } from '#core/1-ground/problem.ts';
import { chosenDrives } from '#core/5-answers/sizing/drive-choice.ts';
import { cardedDrive, type CardedDrive } from '#core/5-answers/sizing/drive-of-card.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { Moved } from '#core/5-answers/sizing/moves.ts';
import type { Material } from '#core/5-answers/sizing/material.ts';
import {
  sizingOfPlan,
  type Project,
  type Sizing,
  type SizingDrive,
  type SizingPolicy,
} from '#core/5-answers/sizing/project.ts';
import { useDriveSupplies, type DriveSupply } from '../../state/drive-supplies.ts';
import { useWorkload } from '../../state/judged.ts';
import { useLibrary } from '../../state/library.ts';
import { editsOf, useSizingEdits } from '../../state/sizing-edits.ts';

/** Drives that builds can be made of; those without a price as far as they are there. */
const cardedDrives = (drives: readonly DriveSupply[]): CardedDrive[] =>
  drives.flatMap(({ card, profile }) => cardedDrive(card, profile ?? null) ?? []);

export interface EditedSizing {
  /** The project as it is looked at, changes that are not kept included; null while it cannot be searched. */
  sizing: Sizing | null;
  /** Whether all that has to be read has been. */
  isReady: boolean;
  /** Whether there is any drive that could be built with. */
  hasDrives: boolean;
  /** Drives with a card, those without a price too. */
  carded: readonly CardedDrive[];
  problem: string | undefined;
  /** The plan with the changes, to be kept. */
  edited: Project;
  isChanged: boolean;
  changePolicy: (change: Partial<SizingPolicy>) => void;
  changeMaterial: (material: number, change: Partial<Material>) => void;
  /** Takes a whole move over, as changes that are not kept yet. */
  takeOver: (moved: Moved) => void;
  /** What has to be recorded and played as a move changed it; null where none did. */
  changedWorkload: Workload | null;
  discard: () => void;
}

/** A project with what was changed on its pictures and sliders, and the drives it may be built of. */
export function useEditedSizing(project: Project): EditedSizing {
  const cards = useLibrary((state) => state.drives);
  const chosenWorkload = useWorkload();
  const ids = useMemo(() => cards.map(({ id }) => id), [cards]);
  const { drives, problem } = useDriveSupplies(ids);
  const edits = useSizingEdits();
  const { projectId, policy, materials, moved } = editsOf(edits, project.id);
  // A move changes what is recorded too; of another workload that was chosen since it says nothing.
  const workload = moved?.workload?.id === chosenWorkload?.id ? (moved?.workload ?? chosenWorkload) : chosenWorkload;
  const isReady = drives.length === ids.length && drives.every(({ supply }) => supply !== undefined);
  const edited = useMemo((): Project => {
    const { days, phases, materials: planned } = moved ?? project.plan;
    return {
      ...project,
      plan: {
        ...project.plan,
        ...{ days, phases },
        materials: planned.map((one, index) => ({ ...one, ...materials[index] })),
        policy: { ...project.plan.policy, ...policy },
      },
    };
  }, [project, materials, policy, moved]);
  const priced = useMemo(() => {
    const own = cardedDrives(drives);
    return [...own, ...project.drives.filter((one) => !own.some(({ label }) => label === one.label))];
  }, [drives, project.drives]);
  // The same drives as long as they are the same: what was worked out for them is kept.
  const { choice } = project.plan;
  const chosen = useMemo((): { drives: SizingDrive[]; fault?: string } => {
    try {
      return { drives: chosenDrives(priced, choice) };
    } catch (error) {
      return { drives: [], fault: (error as Problem).detail };
    }
  }, [priced, choice]);
  const sizing = useMemo((): Sizing | null => {
    if (!isReady || chosen.drives.length === 0) return null;
    return sizingOfPlan(edited.plan, chosen.drives, workload ?? null);
  }, [isReady, chosen, edited, workload]);
  return {
    sizing,
    isReady,
    hasDrives: priced.some(({ price }) => price !== null) || choice.length > 0,
    carded: priced,
    problem: problem?.detail ?? chosen.fault,
    edited,
    isChanged: projectId !== null,
    changePolicy: (change) => edits.changePolicy(project.id, change),
    changeMaterial: (material, change) => edits.changeMaterial(project.id, material, change),
    takeOver: (move) => edits.takeOver(project.id, move),
    changedWorkload: workload === chosenWorkload ? null : (workload ?? null),
    discard: edits.discard,
  };
}
