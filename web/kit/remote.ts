import { wrap, type Remote } from 'comlink';
import { Problem } from '#core/1-ground/problem.ts';

/** A worker whose functions are called as if they were here. */
export interface RemoteWorker<Functions> {
  call: Remote<Functions>;
  /** An answer of it; rejects too where the worker does not load or runs out of memory, which it cannot say itself. */
  unlessItFails: <Answer>(answer: Promise<Answer>) => Promise<Answer>;
  end: () => void;
}

export function remoteWorker<Functions>(worker: Worker): RemoteWorker<Functions> {
  const failure = new Promise<never>((_resolve, reject) => {
    worker.onerror = (event) => {
      event.preventDefault();
      const why = event.message ? ` (${event.message})` : '';
      reject(new Error(`It broke off${why}. Try it once more, or load the page again.`));
    };
  });
  failure.catch(() => undefined);
  return {
    call: wrap<Functions>(worker),
    unlessItFails: (answer) => Promise.race([answer, failure]),
    end: () => worker.terminate(),
  };
}

/** Within a worker: what a function throws crosses over as a sentence for people, with what it was about if it has none. */
export const inWords =
  <Given extends unknown[], Answer>(about: string, act: (...given: Given) => Answer | Promise<Answer>) =>
  async (...given: Given): Promise<Answer> => {
    try {
      return await act(...given);
    } catch (error) {
      throw new Error(error instanceof Problem ? error.detail : `${about}: ${(error as Error).message}`, {
        cause: error,
      });
    }
  };
