import { setTimeout as wait } from 'node:timers/promises';
import { appendColumns, emptySamples, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { applyRunEvent, type RunEvent } from '#core/4-runs/run/run-events.ts';
import { finishRun, insertChunk, setRunState } from '#server/store/runs.ts';
import type { Database } from '#server/store/database.ts';

/** Keeps a run while it goes on. */
export interface RunKeeper {
  /** Applies an event to the document and keeps it for the next chunk. */
  record(event: RunEvent): void;
  /**
   * Writes the rest and the final state, again and again until the store takes it; once the signal aborts, once more.
   * @returns whether all of the run is kept
   */
  finish(signal: AbortSignal): Promise<boolean>;
}

interface KeeperListeners {
  /** Why what was measured is only in memory for now, and null once it is kept. */
  onRefused: (error: unknown) => void;
  /** Something more is kept. */
  onKept: () => void;
}

const CHUNK_MILLISECONDS = 1000;

/**
 * Records into `run`, which holds the run whole at any time, and into the store in chunks of a second, so that a crash
 * costs at most that. What the store refuses is held in memory and tried again in its order: nothing is left out.
 */
export function keepRun(db: Database, run: RunDocument, { onRefused, onKept }: KeeperListeners): RunKeeper {
  let samples = emptySamples();
  let events: RunEvent[] = [];
  let sequence = 0;
  let refused = false;
  /** What is to be written, in its order. */
  const waiting: (() => Promise<void>)[] = [() => setRunState(db, run)];
  let writing: Promise<void> | null = null;

  async function drain(): Promise<void> {
    for (let next = waiting[0]; next; next = waiting[0]) {
      try {
        await next();
      } catch (error) {
        refused = true;
        onRefused(error);
        return;
      }
      waiting.shift();
      onKept();
    }
    if (refused) onRefused(null);
    refused = false;
  }
  const write = (): Promise<void> => (writing ??= drain().finally(() => (writing = null)));

  const takeChunk = (): void => {
    if (samples.atSeconds.length === 0 && events.length === 0) return;
    const [chunkSamples, chunkEvents, number] = [samples, events, sequence];
    samples = emptySamples();
    events = [];
    sequence += 1;
    waiting.push(() => insertChunk(db, run.id, number, chunkSamples, chunkEvents));
  };
  const timer = setInterval(() => {
    takeChunk();
    void write();
  }, CHUNK_MILLISECONDS);
  void write();

  return {
    record(event) {
      applyRunEvent(run, event);
      if (event.type === 'samples') appendColumns(samples, event.samples);
      else events.push(event);
    },
    async finish(signal) {
      clearInterval(timer);
      takeChunk();
      waiting.push(() => finishRun(db, run));
      await writing;
      for (;;) {
        await write();
        if (waiting.length === 0) return true;
        if (signal.aborted) return false;
        await wait(CHUNK_MILLISECONDS, undefined, { signal }).catch(() => undefined);
      }
    },
  };
}
