import { useEffect, useMemo, useRef, useState } from 'react';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import type { StoreId } from '#core/5-answers/sizing/stores.ts';
import { SizingClient } from './sizing-client.ts';
import type { Outlook, ShownBuild, SizingFound } from './sizing-worker.ts';

export interface SizingSearch {
  /** What was found last; of a search that goes on, what it has so far. */
  found: SizingFound | undefined;
  /** What follows from it; undefined until it is known. */
  outlook: Outlook | undefined;
  /** Builds of stores that were asked for beside those found, by `store code`. */
  asked: Readonly<Record<string, ShownBuild>>;
  /** Whether a search goes on. */
  isSearching: boolean;
  problem: string | undefined;
  /** Asks for builds that the search did not explain. */
  explain: (store: StoreId, codes: string[]) => void;
  /** Calls back with the efficient builds of all stores as a table. */
  csv: (take: (text: string) => void) => void;
}

interface State {
  /** The project of which this is known. */
  of: Sizing | null;
  found: SizingFound | undefined;
  outlook: Outlook | undefined;
  asked: Record<string, ShownBuild>;
  problem: string | undefined;
}

/** Searches the builds of a project in a worker, again whenever the project changes. */
export function useSizing(sizing: Sizing | null): SizingSearch {
  const [state, setState] = useState<State>({
    of: null,
    found: undefined,
    outlook: undefined,
    asked: {},
    problem: undefined,
  });
  const client = useRef<SizingClient | null>(null);
  useEffect(() => {
    const own = new SizingClient();
    client.current = own;
    return () => {
      own.end();
      client.current = null;
    };
  }, []);
  useEffect(() => {
    if (!sizing) return;
    const fail = (error: unknown) => setState((old) => ({ ...old, of: sizing, problem: (error as Error).message }));
    const own = client.current;
    const isLatest = (old: State) => old.of === sizing && client.current === own;
    own
      ?.search(sizing, (found) => setState((old) => ({ ...after(old, found), of: sizing })))
      .then(() => own.outlook())
      .then((outlook) => setState((old) => (isLatest(old) ? { ...old, outlook } : old)))
      .catch(fail);
  }, [sizing]);
  const [explain, csv] = useMemo(() => {
    const failed = (error: unknown) => setState((old) => ({ ...old, problem: (error as Error).message }));
    return [
      (store: StoreId, codes: string[]) => {
        const keep = (builds: ShownBuild[]) =>
          setState((old) => ({
            ...old,
            asked: { ...old.asked, ...Object.fromEntries(builds.map((one) => [`${store} ${one.code}`, one])) },
          }));
        client.current?.explain(store, codes).then(keep, failed);
      },
      (take: (text: string) => void) => void client.current?.csv().then(take, failed),
    ] as const;
  }, []);
  const { of, ...known } = state;
  const isSearching = sizing !== null && (of !== sizing || (known.found?.share ?? 1) < 1);
  return { ...known, isSearching, explain, csv };
}

/** What was shown of the last search stays until this one has something to show. */
function after(old: State, found: SizingFound): Omit<State, 'of'> {
  const isDone = found.share === 1;
  return {
    found: isDone || found.stores.some(({ front }) => front.length > 0) ? found : old.found,
    // Of the last search, until this one’s is known.
    outlook: undefined,
    asked: isDone ? {} : old.asked,
    problem: undefined,
  };
}
