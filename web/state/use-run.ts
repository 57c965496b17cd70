import { useEffect, useRef, useState } from 'react';
import type { RunFeedMessage } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { applyRunEvent } from '#core/4-runs/run/run-events.ts';
import { api } from '../api/client.ts';
import { listen } from '../api/feed.ts';

export interface FollowedRun {
  run: RunDocument | undefined;
  /** Counts the changes of `run`, which is changed in place. */
  revision: number;
  /** The same, but at most once in a while as long as the run goes on: for what takes longer to work out. */
  settledRevision: number;
  problem: Problem | undefined;
}

/** While a run goes on its figures and verdicts are made anew at most this often; its trace with every batch. */
const SETTLE_MILLISECONDS = 700;

/**
 * A long run's trace is drawn anew less often: what it costs grows with its samples, and nobody sees a
 * tenth of a second among hours.
 */
const showMilliseconds = (run: RunDocument): number => Math.min(1000, run.samples.atSeconds.length / 100);

const NOTHING: FollowedRun = { run: undefined, revision: 0, settledRevision: 0, problem: undefined };

/**
 * A run by its id, followed live while it goes on.
 * @param opened the run, where it was asked for already
 */
export function useRun(runId: string | undefined, opened?: RunDocument): FollowedRun {
  const [followed, setFollowed] = useState<FollowedRun & { runId?: string }>(NOTHING);
  const document = useRef<RunDocument | undefined>(undefined);

  useEffect(() => {
    if (runId === undefined) return;
    let stop: (() => void) | undefined;
    let left = false;
    let settledAt = 0;
    let shownAt = 0;
    let later: ReturnType<typeof setTimeout> | undefined;
    const show = (run: RunDocument) => {
      document.current = run;
      shownAt = performance.now();
      const settles = run.endedAt !== null || performance.now() - settledAt > SETTLE_MILLISECONDS;
      if (settles) settledAt = performance.now();
      setFollowed(({ revision, settledRevision }) => ({
        runId,
        run,
        revision: revision + 1,
        settledRevision: settles ? revision + 1 : settledRevision,
        problem: undefined,
      }));
    };
    const follow = () => {
      stop = listen<RunFeedMessage>(
        `/runs/${encodeURIComponent(runId)}/live`,
        (messages) => {
          for (const message of messages) {
            if (message.type === 'document') document.current = message.run;
            else if (message.type === 'event' && document.current) applyRunEvent(document.current, message.event);
          }
          const run = document.current;
          if (!run) return;
          clearTimeout(later);
          const wait = run.endedAt === null ? shownAt + showMilliseconds(run) - performance.now() : 0;
          if (wait > 0) later = setTimeout(() => show(run), wait);
          else show(run);
          if (run.endedAt) stop?.();
        },
        () => undefined,
      );
    };
    (opened ? Promise.resolve(opened) : api.run(runId))
      .then((run) => {
        if (left) return;
        show(run);
        if (run.endedAt === null) follow();
      })
      .catch((error: unknown) => {
        const problem = error instanceof Problem ? error : new Problem('page-failed', String(error));
        if (!left) setFollowed({ ...NOTHING, runId, problem });
      });
    return () => {
      left = true;
      clearTimeout(later);
      stop?.();
    };
  }, [runId, opened]);

  // The answer to an earlier id is nobody's any more.
  return followed.runId === runId ? followed : NOTHING;
}
