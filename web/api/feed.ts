/**
 * Listens to a live feed of the server. The browser takes a dropped connection up again by itself.
 * @returns stops listening
 */
export function listen<T>(
  path: string,
  onMessages: (messages: T[]) => void,
  onConnected: (connected: boolean) => void,
): () => void {
  const source = new EventSource(`/api${path}`);
  source.onopen = () => onConnected(true);
  source.onerror = () => onConnected(false);
  source.onmessage = ({ data }: MessageEvent<string>) => onMessages(JSON.parse(data) as T[]);
  return () => source.close();
}
