import { appendColumns, emptySamples, type RunDocument } from '#core/run/run-document.ts';
import { applyRunEvent, type RunEvent } from '#core/run/run-events.ts';
import { finishRun, insertChunk } from '#server/store/runs.ts';
import type { Database } from '#server/store/store.ts';

/** Keeps a run while it goes on. */
export interface Recorder {
  /** Applies an event to the document and keeps it for the next chunk. */
  record(event: RunEvent): void;
  /** Writes the rest and the final state. */
  finish(): Promise<void>;
}

const CHUNK_MILLISECONDS = 1000;

/**
 * Records into `run`, which holds the run whole at any time, and into the store in chunks of a
 * second, so that a crash costs at most that. Chunks are written one after the other.
 * `onFault` hears of a store that refuses: the run goes on in memory.
 */
export function startRecorder(db: Database, run: RunDocument, onFault: (error: unknown) => void): Recorder {
  let samples = emptySamples();
  let events: RunEvent[] = [];
  let sequence = 0;
  let writing = Promise.resolve();

  const writeChunk = (): void => {
    if (samples.atSeconds.length === 0 && events.length === 0) return;
    const [chunkSamples, chunkEvents, number] = [samples, events, sequence];
    samples = emptySamples();
    events = [];
    sequence += 1;
    writing = writing.then(() => insertChunk(db, run.id, number, chunkSamples, chunkEvents)).catch(onFault);
  };
  const timer = setInterval(writeChunk, CHUNK_MILLISECONDS);

  return {
    record(event) {
      applyRunEvent(run, event);
      if (event.type === 'samples') appendColumns(samples, event.samples);
      else events.push(event);
    },
    async finish() {
      clearInterval(timer);
      writeChunk();
      await writing;
      await finishRun(db, run);
    },
  };
}
