/** What ends a program: Ctrl-C, a system that shuts down, a terminal that is closed. */
const ENDING = ['SIGINT', 'SIGTERM', 'SIGHUP'] as const;

/** Calls back once when the program is to end. @returns what leaves it */
export function onEnding(listener: () => void): () => void {
  const leave = (): void => {
    for (const signal of ENDING) process.off(signal, once);
  };
  const once = (): void => {
    leave();
    listener();
  };
  for (const signal of ENDING) process.on(signal, once);
  return leave;
}
