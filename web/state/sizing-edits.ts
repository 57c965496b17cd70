import { create } from 'zustand';
import type { Material } from '#core/sizing/material.ts';
import type { SizingPolicy } from '#core/sizing/project.ts';

/** What was changed of a project on its picture, its sliders or the context strip, and is not kept yet. */
interface SizingEdits {
  /** The project that they are of; what was changed of another is forgotten. */
  projectId: string | null;
  policy: Partial<SizingPolicy>;
  /** By place in the plan’s list of material. */
  materials: Record<number, Partial<Material>>;
  changePolicy: (projectId: string, change: Partial<SizingPolicy>) => void;
  changeMaterial: (projectId: string, material: number, change: Partial<Material>) => void;
  discard: () => void;
}

const NOTHING: Pick<SizingEdits, 'projectId' | 'policy' | 'materials'> = { projectId: null, policy: {}, materials: {} };

export const useSizingEdits = create<SizingEdits>()((set) => {
  const of = (state: SizingEdits, projectId: string) => (state.projectId === projectId ? state : NOTHING);
  return {
    ...NOTHING,
    changePolicy: (projectId, change) =>
      set((state) => {
        const { policy, materials } = of(state, projectId);
        return { projectId, policy: { ...policy, ...change }, materials };
      }),
    changeMaterial: (projectId, material, change) =>
      set((state) => {
        const { policy, materials } = of(state, projectId);
        return { projectId, policy, materials: { ...materials, [material]: { ...materials[material], ...change } } };
      }),
    discard: () => set(NOTHING),
  };
});
