import { Problem } from '#core/1-ground/problem.ts';
import {
  FIRST_PLAN,
  planOfSizing,
  type Project,
  type Sizing,
  type SizingPlan,
} from '#core/5-answers/sizing/project.ts';
import { api } from '../api/client.ts';
import { freeName } from '#core/1-ground/words.ts';
import { refresh, useLibrary } from './library.ts';
import { deleteKept } from './undo.ts';

/** Changes to projects: kept by the server, then read again. */

/** A project to begin with where there is none. */
export const FIRST_PROJECT: Project = { id: 'project', example: false, plan: FIRST_PLAN, drives: [], version: 0 };

const names = (): string[] => useLibrary.getState().projects.map(({ plan }) => plan.name);

/** What became of it: the project's id, or the server's sentence. */
export type Kept =
  { id: string; problem?: never; isConflict?: never } | { id?: never; problem: string; isConflict: boolean };

async function kept(id: string, send: () => Promise<unknown>): Promise<Kept> {
  try {
    await send();
    await refresh('projects');
    return { id };
  } catch (error) {
    // Somebody else’s is shown now, so that the next time is about that one.
    const isConflict = error instanceof Problem && error.code === 'changed-meanwhile';
    if (isConflict) await refresh('projects');
    return { problem: error instanceof Problem ? error.detail : String(error), isConflict };
  }
}

export const saveProject = (project: Project): Promise<Kept> => kept(project.id, () => api.saveProject(project));

/** A project beside those there are, under a name of its own. */
function addProject(plan: SizingPlan, drives: Project['drives'] = []): Promise<Kept> {
  const own = { ...plan, name: freeName(plan.name.slice(0, 100), names()) };
  return saveProject({ id: crypto.randomUUID(), example: false, plan: own, drives, version: 0 });
}

export const createProject = (): Promise<Kept> => addProject(FIRST_PLAN);

export const copyProject = ({ plan, drives }: Project): Promise<Kept> =>
  addProject({ ...plan, name: `${plan.name}, copy` }, drives);

/** A sizing from outside becomes a project; its drives come with it, and its workload stays in its file. */
export const adoptSizing = (sizing: Sizing): Promise<Kept> => addProject(planOfSizing(sizing), sizing.drives);

export const removeProject = ({ id, plan }: Project): Promise<Kept> =>
  kept(id, () => deleteKept('project', id, plan.name, () => api.deleteProject(id)));
