import { useEffect, useState } from 'react';
import type { Sizing } from '#core/sizing/project.ts';
import type { SizingFound, SizingReply, SizingRequest } from './sizing-worker.ts';

export interface SizingSearch {
  found: SizingFound | undefined;
  /** Share done of the search that goes on; null when none does. */
  share: number | null;
  problem: string | undefined;
}

/** Searches the builds of a project in a worker; a project that changed ends the search before it. */
export function useSizing(sizing: Sizing | null): SizingSearch {
  const [search, setSearch] = useState<SizingSearch>({ found: undefined, share: null, problem: undefined });
  useEffect(() => {
    if (!sizing) return;
    const worker = new Worker(new URL('./sizing-worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<SizingReply>) => {
      if (data.kind === 'progress') setSearch((old) => ({ ...old, share: data.share }));
      else if (data.kind === 'found') setSearch({ found: data.found, share: null, problem: undefined });
      else setSearch((old) => ({ ...old, share: null, problem: data.detail }));
    };
    worker.postMessage({ sizing } satisfies SizingRequest);
    return () => worker.terminate();
  }, [sizing]);
  return search;
}
