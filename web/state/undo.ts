import { create } from 'zustand';
import type { ArchiveKind } from '#core/6-exchange/archive/archive-kinds.ts';
import { api } from '../api/client.ts';
import { refresh, tellFailure } from './library.ts';

/** What was done last and can be taken back. */
interface Undoable {
  /** “Night shoot was deleted.” */
  text: string;
  undo: () => Promise<unknown>;
}

export const useUndo = create<{ last: Undoable | null }>()(() => ({ last: null }));

export const mayUndo = (text: string, undo: Undoable['undo']): void => useUndo.setState({ last: { text, undo } });

/**
 * Deletes a document so that it can be taken back: a copy of it, as archives hold it, stays in this page until something
 * else is done.
 */
export async function deleteKept(kind: ArchiveKind, id: string, name: string, remove: () => Promise<unknown>) {
  const copy = await api.exportArchive(`${kind}:${id}`);
  await remove();
  mayUndo(`${name} was deleted.`, () => api.importFile(copy, name, 'theirs'));
}

/** Takes back what was done last. */
export async function undoLast(): Promise<void> {
  const { last } = useUndo.getState();
  if (!last) return;
  useUndo.setState({ last: null });
  try {
    await last.undo();
    await refresh();
  } catch (error) {
    tellFailure(error);
  }
}
