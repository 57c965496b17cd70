import type { Item } from '#core/3-jobs/demand/items.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { api } from '../api/client.ts';
import { useContextStore } from './context.ts';
import { freeName } from '#core/1-ground/words.ts';
import { deleteKept, mayUndo } from './undo.ts';
import { refresh, useLibrary } from './library.ts';

/**
 * Changes to workloads: shown at once, then kept by the server. What could not be kept is undone
 * by asking for the list again, and said.
 */
const newId = (): string => crypto.randomUUID();

/** The server's sentence when it could not be kept; undefined when it was. */
type Outcome = Promise<string | undefined>;

async function keep(workloads: Workload[], send: () => Promise<unknown>): Outcome {
  useLibrary.setState({ workloads });
  try {
    await send();
    return undefined;
  } catch (error) {
    await refresh('workloads');
    return error instanceof Problem ? error.detail : String(error);
  }
}

const all = (): Workload[] => useLibrary.getState().workloads;
const names = (): string[] => all().map((one) => one.name);
const choose = (workloadId: string | null) => useContextStore.getState().set({ workloadId });

export function saveWorkload(workload: Workload): Outcome {
  const own = { ...workload, example: false };
  const before = all().find((one) => one.id === own.id);
  const known = before !== undefined;
  if (before) mayUndo(`${before.name} was changed.`, () => api.saveWorkload(before));
  const next = known ? all().map((one) => (one.id === own.id ? own : one)) : [...all(), own];
  return keep(next, () => api.saveWorkload(own));
}

export function createWorkload(): Outcome {
  const workload: Workload = {
    tavrox: 'workload/1',
    id: newId(),
    name: freeName('New workload', names()),
    note: '',
    example: false,
    items: [],
  };
  choose(workload.id);
  return saveWorkload(workload);
}

/** A workload from outside is kept beside the own ones, as a new one. */
export function adoptWorkload(workload: Workload): Outcome {
  const own = { ...workload, id: newId(), name: freeName(workload.name, names()) };
  choose(own.id);
  return saveWorkload(own);
}

export function copyWorkload(workload: Workload): Outcome {
  return adoptWorkload({ ...workload, name: `${workload.name.slice(0, 100)}, copy` });
}

export function removeWorkload({ id, name }: Workload): Outcome {
  const rest = all().filter((one) => one.id !== id);
  choose(rest[0]?.id ?? null);
  return keep(rest, () => deleteKept('workload', id, name, () => api.deleteWorkload(id)));
}

/** Moves one of a list by a number of places; unchanged at the ends. */
export function moved<T>(list: readonly T[], from: number, by: number): T[] {
  const to = Math.min(list.length - 1, Math.max(0, from + by));
  const rest = list.filter((_, index) => index !== from);
  return [...rest.slice(0, to), list[from]!, ...rest.slice(to)];
}

export function moveWorkload({ id }: Workload, by: number): Outcome {
  const from = all().findIndex((one) => one.id === id);
  const next = moved(all(), from, by);
  return keep(next, () => api.orderWorkloads(next.map((one) => one.id)));
}

export const newItemId = newId;

/** The workload with an item changed, or added at its end. */
export function withItem(workload: Workload, item: Item): Workload {
  const known = workload.items.some((one) => one.id === item.id);
  const items = known ? workload.items.map((one) => (one.id === item.id ? item : one)) : [...workload.items, item];
  return { ...workload, items };
}
