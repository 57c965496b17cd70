import { create } from 'zustand';
import type { DriveCard, RunListEntry, VolumeEntry } from '#core/api/wire.ts';
import type { Workload } from '#core/demand/workload.ts';
import type { Project } from '#core/sizing/project.ts';
import { Problem } from '#core/problem.ts';
import { api } from '../api/client.ts';

/** What the server keeps, as last asked for. Undefined until the first answer. */
interface Library {
  volumes: VolumeEntry[] | undefined;
  drives: DriveCard[] | undefined;
  workloads: Workload[] | undefined;
  runs: RunListEntry[] | undefined;
  projects: Project[] | undefined;
  problem: Problem | undefined;
  refresh: () => Promise<void>;
}

export const useLibrary = create<Library>()((set) => ({
  volumes: undefined,
  drives: undefined,
  workloads: undefined,
  runs: undefined,
  projects: undefined,
  problem: undefined,
  async refresh() {
    try {
      const [volumes, drives, workloads, runs, projects] = await Promise.all([
        api.volumes(),
        api.drives(),
        api.workloads(),
        api.runs(),
        api.projects(),
      ]);
      set({ volumes, drives, workloads, runs, projects, problem: undefined });
    } catch (error) {
      set({ problem: error instanceof Problem ? error : new Problem('page-failed', String(error)) });
    }
  },
}));

/** The project of an address in Sizing: the one it names, else the first. */
export const projectAt = (projects: readonly Project[], projectId: string | undefined): Project | undefined =>
  projectId === undefined ? projects[0] : projects.find(({ id }) => id === projectId);
