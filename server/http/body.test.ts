import type { Server } from 'node:http';
import express from 'express';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { isTooDeep, readBody } from '#server/http/body.ts';
import { sendProblem } from '#server/http/problems.ts';

describe('the depth of JSON', () => {
  it('is that of what is open, not of brackets in texts', () => {
    expect(isTooDeep('['.repeat(32) + ']'.repeat(32))).toBe(false);
    expect(isTooDeep('['.repeat(33) + ']'.repeat(33))).toBe(true);
    expect(isTooDeep(JSON.stringify({ text: `${'['.repeat(100)}"\\`, next: '{'.repeat(50) }))).toBe(false);
    expect(isTooDeep(`[${'[],'.repeat(1000)}[]]`)).toBe(false);
  });
});

describe('bodies', () => {
  let server: Server;
  beforeAll(async () => {
    const app = express();
    app.use(readBody);
    app.put('/{*path}', (request, response) => response.json({ got: request.body as unknown }));
    app.use(sendProblem);
    await new Promise<void>((resolve) => {
      server = app.listen(0, '127.0.0.1', () => resolve());
    });
  });
  afterAll(() => new Promise((resolve) => server.close(resolve)));

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

  it('of documents may be longer', async () => {
    const long = { curve: Array.from({ length: 200_000 }, (_, at) => at * 1.5) };
    expect((await put('/workloads/one', JSON.stringify(long))).status).toBe(200);
    expect((await put('/runs', JSON.stringify(long))).status).toBe(413);
  });
});
