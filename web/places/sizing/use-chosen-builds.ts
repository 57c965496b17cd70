import { useEffect, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import type { StoreId } from '#core/5-answers/sizing/stores.ts';
import type { SizingSearch } from '../../sizing/use-sizing.ts';
import type { ShownBuild, StoreFound } from '../../sizing/sizing-worker.ts';

export type SizingView = 'days' | 'cost';
/** A store, or all of them together. */
export type Shown = StoreId | 'together';

/** Held beside each other at most. */
const MOST_HELD = 3;

export interface ChosenBuilds {
  view: SizingView;
  shown: Shown;
  /** The store that is looked at; of all together the working one. */
  store: StoreFound | undefined;
  /** The build chosen in each store, in their order; undefined while it is not known. */
  chosen: readonly { store: StoreFound; build: ShownBuild | undefined }[];
  selected: ShownBuild | undefined;
  /** Up to three side by side, the chosen one first; of all stores together one of each. */
  held: readonly ShownBuild[];
  isPinned: boolean;
  show: (what: { view?: SizingView; shown?: Shown }) => void;
  choose: (code: string) => void;
  /** Chooses the build of every store at once. */
  chooseSet: (codes: readonly string[]) => void;
  /** Holds the chosen build beside others, or lets it go. */
  togglePinned: () => void;
}

/** What is chosen in Sizing stands in its address, so that it can be sent to someone. */
export function useChosenBuilds(search: SizingSearch): ChosenBuilds {
  const [params, setParams] = useSearchParams();
  const { found, asked, explain } = search;
  const stores = useMemo(() => found?.stores ?? [], [found]);
  const view: SizingView = params.get('view') === 'cost' ? 'cost' : 'days';
  const wanted = params.get('store');
  const isTogether = wanted === 'together' && view === 'cost' && stores.length > 1;
  const store = stores.find((one) => one.store === wanted) ?? stores[0];
  const shown: Shown = isTogether ? 'together' : (store?.store ?? 'working');

  const known = (of: StoreFound, code: string): ShownBuild | undefined =>
    of.front.find((one) => one.code === code) ??
    of.tempting.find((one) => one.code === code) ??
    asked[`${of.store} ${code}`];
  const codeOf = (of: StoreFound, index: number): string | undefined =>
    params.get(of.store) ?? found?.sets[0]?.codes[index] ?? of.front[0]?.code ?? of.tempting.at(-1)?.code;
  const chosen = stores.map((one, index) => {
    const code = codeOf(one, index);
    return { store: one, build: code === undefined ? undefined : known(one, code) };
  });
  const selected = chosen.find((one) => one.store === store)?.build;
  const pinned = (params.get('beside') ?? '').split(',').filter(Boolean);
  const pinnedBuilds = store ? pinned.map((code) => known(store, code)) : [];
  const missing = stores
    .flatMap((one, index) => {
      const codes = [codeOf(one, index), ...(one === store ? pinned : [])];
      return codes.flatMap((code) => (code !== undefined && !known(one, code) ? [`${one.store} ${code}`] : []));
    })
    .join('\n');
  useEffect(() => {
    if (missing === '') return;
    for (const line of missing.split('\n')) {
      const [of, code] = line.split(' ') as [StoreId, string];
      explain(of, [code]);
    }
  }, [missing, explain]);

  const put = (changes: Record<string, string | null>) =>
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        for (const [name, value] of Object.entries(changes)) {
          if (value === null) next.delete(name);
          else next.set(name, value);
        }
        return next;
      },
      { replace: true },
    );
  const isPinned = selected !== undefined && pinned.includes(selected.code);
  return {
    view,
    shown,
    store,
    chosen,
    selected,
    held: isTogether
      ? chosen.flatMap(({ build }) => build ?? [])
      : store
        ? heldBuilds(store, selected, pinnedBuilds)
        : [],
    isPinned,
    show: ({ view: nextView, shown: nextShown }) =>
      put({
        ...(nextView === undefined ? {} : { view: nextView }),
        ...(nextShown === undefined ? {} : { store: nextShown, beside: null }),
      }),
    choose: (code) => store && put({ [store.store]: code }),
    chooseSet: (codes) => put(Object.fromEntries(stores.map((one, index) => [one.store, codes[index] ?? null]))),
    togglePinned: () => {
      if (!selected) return;
      const rest = pinned.filter((code) => code !== selected.code);
      const next = isPinned ? rest : [...rest, selected.code].slice(-MOST_HELD);
      put({ beside: next.length === 0 ? null : next.join(',') });
    },
  };
}

/** The chosen one, those that are held, then the cheapest, what tempts though it is too slow, and what is nearly large enough. */
function heldBuilds(
  { front, tempting }: StoreFound,
  selected: ShownBuild | undefined,
  pinned: readonly (ShownBuild | undefined)[],
): ShownBuild[] {
  const failing = (constraint: string) => tempting.find((one) => one.constraint === constraint);
  const all = [
    selected,
    ...pinned,
    front[0],
    failing('writing') ?? failing('reading'),
    failing('capacity'),
    front[1],
  ].filter((one) => one !== undefined);
  return [...new Map(all.map((one) => [one.code, one])).values()].slice(0, MOST_HELD);
}
