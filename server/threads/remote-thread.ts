import { createRequire } from 'node:module';
import { MessageChannel, Worker } from 'node:worker_threads';
import { wrap, type Remote } from 'comlink';
import { Problem } from '#core/1-ground/problem.ts';

/** A thread of its own that works out what would hold up the one that looks how runs go on. */
export interface RemoteThread<Functions> {
  /** @throws Problem `thread-failed` when the thread ended */
  ask<T>(question: (functions: Remote<Functions>) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

/** The thread ends when nobody has asked for so long: what it holds is memory. */
const IDLE_MILLISECONDS = 60_000;

/**
 * A thread that is started when it is first asked.
 * @param program its name in the built program
 * @param failed the sentence for when it ended in the middle
 */
export function remoteThread<Functions>(program: string, failed: string): RemoteThread<Functions> {
  let running: { thread: Worker; remote: Remote<Functions>; ended: Promise<never> } | null = null;
  let idle: NodeJS.Timeout | undefined;
  const end = async (): Promise<void> => {
    clearTimeout(idle);
    const last = running;
    running = null;
    await last?.thread.terminate();
  };

  function start(): NonNullable<typeof running> {
    const { port1, port2 } = new MessageChannel();
    const file = createRequire(import.meta.url).resolve(`#built/${program}.js`);
    const thread = new Worker(file, { workerData: port2, transferList: [port2] });
    const ended = new Promise<never>((_, reject) => {
      const leave = (cause?: unknown) => {
        if (running?.thread === thread) running = null;
        reject(new Problem('thread-failed', failed, { status: 500, cause }));
      };
      thread.once('error', leave);
      thread.once('exit', () => leave());
    });
    ended.catch(() => undefined);
    const remote = wrap<Functions>(port1);
    // A server that ends does not wait for it.
    thread.unref();
    port1.unref();
    return { thread, remote, ended };
  }

  return {
    async ask(question) {
      running ??= start();
      clearTimeout(idle);
      const { remote, ended } = running;
      try {
        return await Promise.race([question(remote), ended]);
      } finally {
        clearTimeout(idle);
        idle = setTimeout(() => void end(), IDLE_MILLISECONDS);
        idle.unref();
      }
    },
    close: end,
  };
}
