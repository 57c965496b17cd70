import { useEffect, useState } from 'react';
import type { WorkMessage } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';

/** Long work on a folder, as a sheet shows it. */
export interface FolderWork<Progress, Found> {
  isGoing: boolean;
  progress: Progress | undefined;
  found: Found | undefined;
  problem: string | undefined;
  start: () => Promise<void>;
  stop: () => void;
}

/**
 * Starts work that the server tells of, and stops it when the sheet is closed.
 * @param onFound hears of what came of it, once
 */
export function useFolderWork<Progress, Found>(
  work: (onMessage: (message: WorkMessage<Progress, Found>) => void, signal: AbortSignal) => Promise<void>,
  onFound?: (found: Found) => void,
): FolderWork<Progress, Found> {
  const [problem, setProblem] = useState<string>();
  const [found, setFound] = useState<Found>();
  const [progress, setProgress] = useState<Progress>();
  const [going, setGoing] = useState<AbortController>();
  useEffect(() => () => going?.abort(), [going]);

  const start = async () => {
    const stop = new AbortController();
    setGoing(stop);
    setProblem(undefined);
    setFound(undefined);
    setProgress(undefined);
    try {
      await work((message) => {
        if (message.type === 'progress') return setProgress(message.progress);
        if (message.type === 'problem') setProblem(message.detail);
        else {
          setFound(message.found);
          onFound?.(message.found);
        }
        stop.abort();
      }, stop.signal);
    } catch (error) {
      if (!stop.signal.aborted) setProblem(error instanceof Problem ? error.detail : String(error));
    }
    setGoing(undefined);
  };
  return { isGoing: going !== undefined, progress, found, problem, start, stop: () => going?.abort() };
}
