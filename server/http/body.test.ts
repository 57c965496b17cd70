import type { Server } from 'node:http';
import express from 'express';
import pino from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readBody } from '#server/http/body.ts';
import { sendProblems } from '#server/http/problems.ts';
import { storeFiles } from '#server/store/files.ts';
import { openMemoryStore, type Store } from '#server/store/store.ts';

describe('bodies', () => {
  let server: Server;
  let store: Store;
  beforeAll(async () => {
    store = await openMemoryStore(storeFiles);
    const app = express();
    app.use(readBody);
    app.put('/{*path}', (request, response) => response.json({ got: request.body as unknown }));
    app.use(sendProblems(pino({ level: 'silent' }), store.db));
    await new Promise<void>((resolve) => {
      server = app.listen(0, '127.0.0.1', () => resolve());
    });
  });
  afterAll(async () => {
    await new Promise((resolve) => server.close(resolve));
    await store.close();
  });

  const put = async (path: string, body?: string) => {
    const { port } = server.address() as { port: number };
    const answer = await fetch(`http://127.0.0.1:${port}${path}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      ...(body === undefined ? {} : { body }),
    });
    return { status: answer.status, document: (await answer.json()) as { detail?: string; got?: unknown } };
  };

  it('are read, and none is an empty one', async () => {
    expect(await put('/runs', '{"a":["ü 🎞"]}')).toEqual({ status: 200, document: { got: { a: ['ü 🎞'] } } });
    expect(await put('/runs')).toEqual({ status: 200, document: { got: {} } });
  });

  it.each([
    ['nested deeply', `{"a":${'{"b":'.repeat(6000)}1${'}'.repeat(6000)}}`, 400, /nested deeper than 32 levels/],
    ['with a zero in a text', '{"note":"a\\u0000b"}', 400, /zeros or halves/],
    ['with half a character in a name', '{"\\ud83d":1}', 400, /zeros or halves/],
    ['cut off', '{"note":', 400, /not JSON/],
    ['longer than is sent to change something', JSON.stringify('x'.repeat(1_000_001)), 413, /too large/],
  ])('%s are refused with a sentence', async (_name, body, status, detail) => {
    const answer = await put('/runs', body);
    expect(answer.status).toBe(status);
    expect(answer.document.detail).toMatch(detail);
  });

  it('that are large are parsed beside the thread that looks how runs go on', async () => {
    const large = `[${Array.from({ length: 400_000 }, (_, at) => at * 1.5).join(',')}]`;
    const looks: number[] = [];
    const looking = setInterval(() => looks.push(performance.now()), 5);
    const answers = await Promise.all([
      put('/workloads/one', large),
      put('/workloads/two', `${large.slice(0, -1)},`),
      put('/workloads/three', `[${'{},'.repeat(1_000_000)}{}]`),
    ]);
    clearInterval(looking);
    expect(answers.map(({ status }) => status)).toEqual([200, 400, 400]);
    expect(answers[1].document.detail).toBe('The request’s body is not JSON.');
    expect(answers[2].document.detail).toMatch(/holds more than 200,000 objects, lists and fields/);
    expect((answers[0].document.got as number[]).length).toBe(400_000);
    expect(looks.length).toBeGreaterThan(5);
  });

  it('of documents may be longer', async () => {
    const long = { curve: Array.from({ length: 200_000 }, (_, at) => at * 1.5) };
    expect((await put('/workloads/one', JSON.stringify(long))).status).toBe(200);
    expect((await put('/runs', JSON.stringify(long))).status).toBe(413);
    expect((await put('/workloads/one', JSON.stringify('x'.repeat(20_000_000)))).status).toBe(413);
  });
});
