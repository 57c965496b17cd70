import { problemOf } from './problem-of.ts';

/**
 * Listens to a live feed of the server. The browser takes a dropped connection up again by itself. While the
 * page is hidden nothing is listened to: a browser keeps only a few connections to one server, and
 * other tabs need them. On coming back the feed begins with the whole state.
 * @returns stops listening
 */
export function listen<T>(
  path: string,
  onMessages: (messages: T[]) => void,
  onConnected: (connected: boolean) => void,
): () => void {
  let source: EventSource | undefined;
  const open = () => {
    source = new EventSource(`/api${path}`);
    source.onopen = () => onConnected(true);
    source.onerror = () => onConnected(false);
    source.onmessage = ({ data }: MessageEvent<string>) => onMessages(JSON.parse(data) as T[]);
  };
  const close = () => {
    source?.close();
    source = undefined;
  };
  const onVisibility = () => {
    if (document.hidden) close();
    else if (!source) open();
  };
  if (!document.hidden) open();
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
export async function readFeed<T>(path: string, onMessage: (message: T) => void, signal: AbortSignal): Promise<void> {
  const response = await fetch(`/api${path}`, { signal });
  if (!response.ok || !response.body) throw await problemOf(response);
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let waiting = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const events = (waiting + value).split('\n\n');
    waiting = events.pop()!;
    for (const event of events) {
      if (!event.startsWith('data: ')) continue;
      for (const message of JSON.parse(event.slice('data: '.length)) as T[]) onMessage(message);
    }
  }
}
