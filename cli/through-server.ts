import { setTimeout as wait } from 'node:timers/promises';
import type { ActiveRun, LiveMessage, StartRequest } from '#core/6-exchange/api/wire.ts';
import { Problem, type ProblemDocument } from '#core/1-ground/problem.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunProgress } from '#core/4-runs/run/run-events.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { findServer, type ServerNote } from '#server/serve.ts';

/** Carries out a run in the server that runs on the same data folder, so that it is kept there. */
export async function measureThroughServer(
  server: ServerNote,
  request: StartRequest,
  onProgress: (progress: RunProgress) => void,
  signal: AbortSignal,
): Promise<RunDocument & RunSummary> {
  const { id } = (await call(server, 'POST', '/api/runs', request)) as { id: string };
  const stop = () => void call(server, 'POST', `/api/runs/${id}/stop`, {}).catch(() => undefined);
  signal.addEventListener('abort', stop);
  if (signal.aborted) stop();
  try {
    for await (const message of liveMessages(server)) {
      if (message.type === 'progress' && message.runId === id) onProgress(message.progress);
      if (message.type === 'active' && !message.active.some((run: ActiveRun) => run.runId === id)) break;
    }
  } finally {
    signal.removeEventListener('abort', stop);
  }
  return (await call(server, 'GET', `/api/runs/${id}/report`)) as RunDocument & RunSummary;
}

function requestOptions(server: ServerNote, method: string): RequestInit {
  const origin = `http://127.0.0.1:${server.port}`;
  return {
    method,
    headers: {
      Authorization: `Bearer ${server.secret}`,
      Origin: origin,
      'X-Tavrox': '1',
      'Content-Type': 'application/json',
    },
  };
}

/** The server that runs on a data folder, for what is no JSON; null where none does. */
export async function openServer(dataFolder: string) {
  const server = await findServer(dataFolder);
  if (!server) return null;
  return {
    /** @throws Problem that the server answers with */
    fetch: (method: string, path: string, file?: Buffer): Promise<Response> =>
      answered(server, method, path, file === undefined ? {} : { body: new Uint8Array(file) }),
  };
}

/** @throws Problem that the server answers with */
export async function call(server: ServerNote, method: string, path: string, body?: unknown): Promise<unknown> {
  const response = await answered(server, method, path, body === undefined ? {} : { body: JSON.stringify(body) });
  return response.status === 204 ? undefined : await response.json();
}

async function answered(server: ServerNote, method: string, path: string, more: RequestInit): Promise<Response> {
  const response = await fetch(`http://127.0.0.1:${server.port}${path}`, {
    ...requestOptions(server, method),
    ...more,
  });
  if (response.ok) return response;
  const document: unknown = await response.json();
  const { type, detail, status, where } = document as ProblemDocument;
  throw new Problem(type.split(':').at(-1) ?? 'server-refused', detail, {
    status,
    ...(where === undefined ? {} : { where }),
  });
}

/** Messages of the live feed; taken up again when the connection drops. */
async function* liveMessages(server: ServerNote): AsyncGenerator<LiveMessage> {
  for (;;) {
    const response = await fetch(`http://127.0.0.1:${server.port}/api/live`, requestOptions(server, 'GET'));
    let text = '';
    const decoder = new TextDecoder();
    try {
      for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
        text += decoder.decode(chunk, { stream: true });
        const blocks = text.split('\n\n');
        text = blocks.pop() ?? '';
        for (const block of blocks) {
          if (block.startsWith('data: ')) yield* JSON.parse(block.slice(6)) as LiveMessage[];
        }
      }
    } catch {
      // The server closed the connection; a server that is gone fails the next fetch.
    }
    await wait(500);
  }
}
