import type { Response } from 'express';

/** A client that does not read is cut off: on coming back it gets the whole state anew. */
const MOST_WAITING_BYTES = 16e6;
const BATCH_MILLISECONDS = 100;
const HEARTBEAT_MILLISECONDS = 15_000;

/** Sends messages as server-sent events, gathered into one event every tenth of a second. */
export function openLiveFeed<T>(response: Response, onClose: () => void): (message: T) => void {
  response.status(200).set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache, no-transform' });
  response.flushHeaders();
  let waiting: T[] = [];
  const send = (): void => {
    if (waiting.length === 0) return;
    response.write(`data: ${JSON.stringify(waiting)}\n\n`);
    waiting = [];
    if (response.writableLength > MOST_WAITING_BYTES) response.destroy();
  };
  const batches = setInterval(send, BATCH_MILLISECONDS);
  const heartbeats = setInterval(() => response.write(': here\n\n'), HEARTBEAT_MILLISECONDS);
  response.on('close', () => {
    clearInterval(batches);
    clearInterval(heartbeats);
    onClose();
  });
  return (message) => {
    waiting.push(message);
  };
}
