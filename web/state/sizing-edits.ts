import { create } from 'zustand';
import type { Material } from '#core/5-answers/sizing/material.ts';
import type { SizingPolicy } from '#core/5-answers/sizing/project.ts';

/** What was changed of a project on its picture, its sliders or the context strip, and is not kept yet. */
interface Edits {
  /** The project that they are of; what was changed of another is forgotten. */
  projectId: string | null;
  policy: Partial<SizingPolicy>;
  /** By place in the plan’s list of material. */
  materials: Record<number, Partial<Material>>;
}

interface SizingEdits extends Edits {
  changePolicy: (projectId: string, change: Partial<SizingPolicy>) => void;
  changeMaterial: (projectId: string, material: number, change: Partial<Material>) => void;
  discard: () => void;
}

const NOTHING: Edits = { projectId: null, policy: {}, materials: {} };

/** What was changed of one project; nothing where it was of another. */
export const editsOf = (edits: Edits, projectId: string): Edits => (edits.projectId === projectId ? edits : NOTHING);

export const useSizingEdits = create<SizingEdits>()((set) => ({
  ...NOTHING,
  changePolicy: (projectId, change) =>
    set((state) => {
      const { policy, materials } = editsOf(state, projectId);
      return { projectId, policy: { ...policy, ...change }, materials };
    }),
  changeMaterial: (projectId, material, change) =>
    set((state) => {
      const { policy, materials } = editsOf(state, projectId);
      return { projectId, policy, materials: { ...materials, [material]: { ...materials[material], ...change } } };
    }),
  discard: () => set(NOTHING),
}));
