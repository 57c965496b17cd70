import { create } from 'zustand';
import { persist } from 'zustand/middleware';

/** The project that was looked at last, and how: coming back to Sizing finds it again. */
interface LastProject {
  projectId: string | null;
  /** What stood behind it in the address: the store, the build, the view. */
  search: string;
}

export const useLastProject = create<LastProject>()(
  persist(() => ({ projectId: null as string | null, search: '' }), { name: 'tavrox-last-project' }),
);
