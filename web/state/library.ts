import { create } from 'zustand';
import type { DriveCard, ReportEntry, RunListEntry, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { Project } from '#core/5-answers/sizing/project.ts';
import type { Settings } from '#core/6-exchange/archive/settings.ts';
import { api } from '../api/client.ts';

/** What the server keeps. */
interface Lists {
  volumes: VolumeEntry[];
  drives: DriveCard[];
  workloads: Workload[];
  runs: RunListEntry[];
  projects: Project[];
  reports: ReportEntry[];
  /** Null where nobody changed any. */
  settings: Settings | null;
}

export type ListName = keyof Lists;

const LIST_NAMES: readonly ListName[] = ['volumes', 'drives', 'workloads', 'runs', 'projects', 'reports', 'settings'];

/** Lists as last asked for; nothing is drawn before they are there. And why they could not be asked for again. */
interface Library extends Lists {
  areLoaded: boolean;
  problem: Problem | undefined;
}

export const useLibrary = create<Library>()(() => ({
  volumes: [],
  drives: [],
  workloads: [],
  runs: [],
  projects: [],
  reports: [],
  settings: null,
  areLoaded: false,
  problem: undefined,
}));

/** Lists as the server has them now. A list that did not change stays the same, so that nothing is drawn anew for it. */
async function ask(names: readonly ListName[]): Promise<void> {
  const answers = await Promise.all(names.map(async (name) => [name, await api[name]()] as const));
  const before = useLibrary.getState();
  const changed = answers.filter(([name, list]) => JSON.stringify(list) !== JSON.stringify(before[name]));
  useLibrary.setState({ ...(Object.fromEntries(changed) as Partial<Lists>), areLoaded: true, problem: undefined });
}

/** Says above the place why something could not be asked for or kept. */
export const tellFailure = (error: unknown): void =>
  useLibrary.setState({ problem: error instanceof Problem ? error : new Problem('page-failed', String(error)) });

/** Asks again for lists that something changed, all of them where none is named; a failure is reported above the place. */
export async function refresh(...names: ListName[]): Promise<void> {
  try {
    await ask(names.length > 0 ? names : LIST_NAMES);
  } catch (error) {
    tellFailure(error);
  }
}

/** One question for all who wait for the lists. */
let loading: Promise<void> | undefined;

/**
 * Asks for all lists, unless they are there.
 * @throws Problem when the server does not answer
 */
export async function ensureLists(): Promise<null> {
  if (!useLibrary.getState().areLoaded) await (loading ??= ask(LIST_NAMES).finally(() => (loading = undefined)));
  return null;
}

/**
 * Loader of a place with one of a list in its address.
 * @param list where it is looked for
 * @param param its name in the address
 * @param what it is, for the sentence when it is gone
 * @throws Problem `gone`
 */
export function loaderOf(list: 'drives' | 'workloads' | 'projects' | 'reports', param: string, what: string) {
  return async ({ params }: { params: Record<string, string | undefined> }): Promise<null> => {
    const id = params[param];
    if (id === undefined) return null;
    await ensureLists();
    if (useLibrary.getState()[list].some((one) => ('outline' in one ? one.outline.id : one.id) === id)) return null;
    throw new Problem(
      'gone',
      `This ${what} is not here. It may have been deleted, or the address comes from another machine.`,
      { status: 404 },
    );
  };
}

/** The project of an address in Sizing: the one it names, else the first. */
export const projectAt = (projects: readonly Project[], projectId: string | undefined): Project | undefined =>
  projectId === undefined ? projects[0] : projects.find(({ id }) => id === projectId);
