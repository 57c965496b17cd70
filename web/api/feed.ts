import { problemOf } from './problem-of.ts';
import { credentials } from './session.ts';

/** How long after a connection dropped it is tried again. */
const AGAIN_MILLISECONDS = 1000;

/**
 * Listens to a live feed of the server. A connection that drops is taken up again. While the page is hidden nothing is
 * listened to: a browser keeps only a few connections to one server, and other tabs need them. On coming back the feed
 * begins with the whole state.
 * @returns stops listening
 */
export function listen<T>(
  path: string,
  onMessages: (messages: T[]) => void,
  onConnected: (connected: boolean) => void,
): () => void {
  let going: AbortController | undefined;
  const open = async (): Promise<void> => {
    const stop = new AbortController();
    going = stop;
    while (!stop.signal.aborted) {
      await readBatches(path, onMessages, stop.signal, () => onConnected(true)).catch(() => undefined);
      if (stop.signal.aborted) return;
      onConnected(false);
      await new Promise((resolve) => setTimeout(resolve, AGAIN_MILLISECONDS));
    }
  };
  const close = () => {
    going?.abort();
    going = undefined;
  };
  const onVisibility = () => {
    if (document.hidden) close();
    else if (!going) void open();
  };
  if (!document.hidden) void open();
  document.addEventListener('visibilitychange', onVisibility);
  return () => {
    document.removeEventListener('visibilitychange', onVisibility);
    close();
  };
}

/**
 * Reads what a long work of the server tells until it ends, hidden or not: leaving it would end the work.
 * @throws Problem when it is refused
 */
export function readFeed<T>(path: string, onMessage: (message: T) => void, signal: AbortSignal): Promise<void> {
  return readBatches<T>(path, (messages) => messages.forEach(onMessage), signal);
}

/** Reads events of the server until they end; each holds all messages that came together. */
async function readBatches<T>(
  path: string,
  onMessages: (messages: T[]) => void,
  signal: AbortSignal,
  onOpen: () => void = () => undefined,
): Promise<void> {
  const response = await fetch(`/api${path}`, { signal, headers: credentials() });
  if (!response.ok || !response.body) throw await problemOf(response);
  onOpen();
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let waiting = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const events = (waiting + value).split('\n\n');
    waiting = events.pop()!;
    for (const event of events) {
      if (event.startsWith('data: ')) onMessages(JSON.parse(event.slice('data: '.length)) as T[]);
    }
  }
}
