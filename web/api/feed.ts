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
