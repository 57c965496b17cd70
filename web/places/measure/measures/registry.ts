import type { Measures } from '#core/3-jobs/recipes/recipe-kind.ts';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { copiesView } from './copies.tsx';
import { filesView } from './files.tsx';
import { framesView } from './frames.tsx';
import { levelsView } from './levels.tsx';
import type { MeasureView } from './measure-view.ts';
import { phasesView } from './phases.tsx';
import { rungsView } from './rungs.tsx';

/** What shows each measure of core/4-runs/trace/figures.ts; a new one is a file and a line here. */
const VIEWS: Record<Measures, MeasureView> = {
  levels: levelsView,
  rungs: rungsView,
  frames: framesView,
  files: filesView,
  phases: phasesView,
  copies: copiesView,
};

export const measureViewOf = (recipeId: string): MeasureView => VIEWS[recipeKindById(recipeId).measures];
