import { useCallback, useEffect, useRef, useState } from 'react';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import type { StoreId } from '#core/5-answers/sizing/stores.ts';
import { SizingClient } from './sizing-client.ts';
import type { ShownBuild, SizingFound, SizingReply } from './sizing-worker.ts';

export interface SizingSearch {
  /** What was found last; of a search that goes on, what it has so far. */
  found: SizingFound | undefined;
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
  asked: Record<string, ShownBuild>;
  problem: string | undefined;
}

/** Searches the builds of a project in a worker, again whenever the project changes. */
export function useSizing(sizing: Sizing | null): SizingSearch {
  const [state, setState] = useState<State>({ of: null, found: undefined, asked: {}, problem: undefined });
  const client = useRef<SizingClient | null>(null);
  const takeCsv = useRef<((text: string) => void) | null>(null);
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
    client.current?.search(sizing, (reply) => {
      if (reply.kind === 'csv') takeCsv.current?.(reply.text);
      else setState((old) => ({ ...after(old, reply), of: sizing }));
    });
  }, [sizing]);
  const explain = useCallback((store: StoreId, codes: string[]) => {
    client.current?.ask({ kind: 'explain', store, codes });
  }, []);
  const csv = useCallback((take: (text: string) => void) => {
    takeCsv.current = take;
    client.current?.ask({ kind: 'csv' });
  }, []);
  const { of, ...known } = state;
  const isSearching = sizing !== null && (of !== sizing || (known.found?.share ?? 1) < 1);
  return { ...known, isSearching, explain, csv };
}

function after(old: State, reply: Exclude<SizingReply, { kind: 'csv' }>): Omit<State, 'of'> {
  switch (reply.kind) {
    case 'found': {
      const { found } = reply;
      // What was shown of the last search stays until this one has something to show.
      const shows = found.share === 1 || found.stores.some(({ front }) => front.length > 0);
      return {
        found: shows ? found : old.found,
        asked: found.share === 1 ? {} : old.asked,
        problem: undefined,
      };
    }
    case 'explained':
      return {
        ...old,
        asked: {
          ...old.asked,
          ...Object.fromEntries(reply.builds.map((one) => [`${reply.store} ${one.code}`, one])),
        },
      };
    case 'problem':
      return { ...old, problem: reply.detail };
  }
}
