import { create } from 'zustand';
import type { Material } from '#core/5-answers/sizing/material.ts';
import type { Moved } from '#core/5-answers/sizing/moves.ts';
import type { SizingPolicy } from '#core/5-answers/sizing/project.ts';

/** What was changed of a project on its picture, its sliders or the context strip, and is not kept yet. */
interface Edits {
  /** The project that they are of; what was changed of another is forgotten. */
  projectId: string | null;
  policy: Partial<SizingPolicy>;
  /** By place in the plan’s list of material. */
  materials: Record<number, Partial<Material>>;
  /** A whole move that was taken over, on which what is changed of its material stands; null for none. */
  moved: Moved | null;
}

interface SizingEdits extends Edits {
  changePolicy: (projectId: string, change: Partial<SizingPolicy>) => void;
  changeMaterial: (projectId: string, material: number, change: Partial<Material>) => void;
  takeOver: (projectId: string, moved: Moved) => void;
  discard: () => void;
}

const NOTHING: Edits = { projectId: null, policy: {}, materials: {}, moved: null };

/** What was changed of one project; nothing where it was of another. */
export const editsOf = (edits: Edits, projectId: string): Edits => (edits.projectId === projectId ? edits : NOTHING);

export const useSizingEdits = create<SizingEdits>()((set) => ({
  ...NOTHING,
  changePolicy: (projectId, change) =>
    set((state) => {
      const edits = editsOf(state, projectId);
      return { ...edits, projectId, policy: { ...edits.policy, ...change } };
    }),
  changeMaterial: (projectId, material, change) =>
    set((state) => {
      const edits = editsOf(state, projectId);
      const { materials } = edits;
      return { ...edits, projectId, materials: { ...materials, [material]: { ...materials[material], ...change } } };
    }),
  // It was made of what the material had been changed to.
  takeOver: (projectId, moved) => set((state) => ({ ...editsOf(state, projectId), projectId, materials: {}, moved })),
  discard: () => set(NOTHING),
}));
