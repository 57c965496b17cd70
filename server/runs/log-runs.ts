import type { Log } from '#server/log.ts';
import type { RunManager } from '#server/runs/run-manager.ts';

/** A line in the log for what becomes of each run: by ids, which say nothing of what lies on a drive. @returns what ends it */
export function logRuns(local: RunManager, log: Log): () => void {
  const begun = new Set<string>();
  const unkept = new Set<string>();
  return local.subscribe((message) => {
    if (message.type === 'active') {
      for (const run of message.active) {
        const { runId, recipeId: recipe, state } = run;
        if (state === 'running' && !begun.has(runId)) {
          begun.add(runId);
          log.info({ runId, recipe }, 'A run began');
        }
        if (run.unkept !== null && !unkept.has(runId)) log.warn({ runId }, 'What a run measured could not be kept yet');
        if (run.unkept === null && unkept.has(runId)) log.info({ runId }, 'What a run measured is kept again');
        if (run.unkept === null) unkept.delete(runId);
        else unkept.add(runId);
      }
    } else if (message.type === 'event' && message.event.type === 'ended') {
      const { runId, event } = message;
      const failure = event.failure?.code;
      log[failure === undefined ? 'info' : 'warn'](
        { runId, state: event.state, ...(failure ? { failure } : {}) },
        'A run ended',
      );
      begun.delete(runId);
      unkept.delete(runId);
    }
  });
}
