import type { Response } from 'express';
import type { WorkMessage } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';

/** A client that does not read is cut off: on coming back it gets the whole state anew. */
const MOST_WAITING_BYTES = 16e6;
const BATCH_MILLISECONDS = 100;
const HEARTBEAT_MILLISECONDS = 5_000;

/** Whether whoever a response is for is let in still; kept with it by the gate, and asked for as long as it is sent. */
export type StillCounts = () => Promise<boolean>;

/**
 * Sends messages as server-sent events, gathered into one event every tenth of a second. It ends when whoever it is for
 * is not let in any more.
 */
export function openLiveFeed<T>(response: Response, onClose: () => void): (message: T) => void {
  response.status(200).set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store, no-transform' });
  response.flushHeaders();
  let waiting: T[] = [];
  const send = (): void => {
    if (waiting.length === 0) return;
    response.write(`data: ${JSON.stringify(waiting)}\n\n`);
    waiting = [];
    if (response.writableLength > MOST_WAITING_BYTES) response.destroy();
  };
  const batches = setInterval(send, BATCH_MILLISECONDS);
  const stillCounts = response.locals['stillCounts'] as StillCounts | undefined;
  const heartbeats = setInterval(() => {
    response.write(': here\n\n');
    // A store that cannot be asked now says nothing against anybody.
    stillCounts?.().then(
      (counts) => counts || response.end(),
      () => undefined,
    );
  }, HEARTBEAT_MILLISECONDS);
  response.on('close', () => {
    clearInterval(batches);
    clearInterval(heartbeats);
    onClose();
  });
  return (message) => {
    waiting.push(message);
  };
}

const PROGRESS_MILLISECONDS = 250;

/** Carries out long work and tells how far it is, and what came of it; it is stopped when nobody listens any more. */
export async function tellWork<Progress, Found>(
  response: Response,
  work: (tell: (progress: Progress) => void, signal: AbortSignal) => Promise<Found>,
): Promise<void> {
  const stop = new AbortController();
  const send = openLiveFeed<WorkMessage<Progress, Found>>(response, () => stop.abort());
  let told = 0;
  const tell = (progress: Progress): void => {
    if (performance.now() - told < PROGRESS_MILLISECONDS) return;
    told = performance.now();
    send({ type: 'progress', progress });
  };
  try {
    send({ type: 'done', found: await work(tell, stop.signal) });
  } catch (error) {
    if (stop.signal.aborted) return;
    if (!(error instanceof Problem)) throw error;
    send({ type: 'problem', detail: error.detail });
  }
}
