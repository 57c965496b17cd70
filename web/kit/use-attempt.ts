import { useState } from 'react';
import type { Problem } from '#core/1-ground/problem.ts';

/** Work that may fail, and the sentence that says why it did last; undefined since it went well. */
export function useAttempt(): {
  problem: string | undefined;
  attempt: (work: () => Promise<unknown>) => Promise<void>;
} {
  const [problem, setProblem] = useState<string>();
  const attempt = async (work: () => Promise<unknown>) => {
    try {
      await work();
      setProblem(undefined);
    } catch (error) {
      setProblem((error as Problem).detail);
    }
  };
  return { problem, attempt };
}
