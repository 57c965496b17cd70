import { mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ReportEntry, RunListEntry, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { RECIPE_KINDS } from '#core/3-jobs/recipes/registry.ts';
import { jsonSchemaOf, type JsonSchema } from '#core/1-ground/schema/json-schema.ts';
import { callApi, removeFolder, startApp, temporaryFolder, volumeOfFolder, type App } from '../../support/app.ts';
import { hashesIn } from '../../support/hashes.ts';
import { extent, holdsForSeconds } from '../extent.ts';
import { hostileText, sentenceFault, spoiled, textsIn, valueOf } from './made-up.ts';

/** Every route with what its description asks for, and with what it does not, for so long. */
const SECONDS = extent(140, 30);
/** What real runs may move and how long they may take: the schemas allow what takes days. */
const [MOST_BYTES, MOST_SECONDS, MOST_COUNT] = [8e6, 0.5, 3];

interface Described {
  paths: Record<string, Record<string, DescribedOperation>>;
  components: { schemas: Record<string, JsonSchema> };
}
interface DescribedOperation {
  operationId: string;
  parameters?: { name: string; in: string; schema: JsonSchema }[];
  requestBody?: { content: Record<string, { schema: JsonSchema }> };
  responses: Record<string, { content?: Record<string, object> }>;
}
interface Call {
  method: string;
  /** With `{id}` in it. */
  path: string;
  /** Which of the ids that are known then, or a text that is none. */
  id: number | string;
  queries: string;
  body: unknown;
  operation: DescribedOperation;
}

let app: App;
let home: string;
/** What the server wrote to its terminal: it only does so for faults of its own. */
let complained = '';
let described: Described;
let folders: string[];
let volumes: VolumeEntry[];
beforeAll(async () => {
  home = temporaryFolder('fuzz');
  folders = ['', 'material', 'target'].map((name) => join(home, name));
  for (const folder of folders) mkdirSync(folder, { recursive: true });
  for (let file = 0; file < 12; file += 1)
    writeFileSync(join(home, 'material', `n-${file}.bin`), `${file}`.repeat(3000));
  app = await startApp({ dataFolder: temporaryFolder('fuzz-data'), standInSpeed: 50 });
  app.process.stderr!.on('data', (text: Buffer) => (complained += text.toString()));
  described = (await callApi(app, 'GET', '/openapi.json')).document as Described;
  const real = await volumeOfFolder(app, home);
  const all = (await callApi(app, 'GET', '/volumes')).document as VolumeEntry[];
  volumes = [real, ...all.filter(({ kind }) => kind === 'stand-in')];
}, 120_000);
afterAll(async () => {
  await app.stop();
  removeFolder(home);
  removeFolder(app.dataFolder);
});

/** Options as a recipe's schema asks for them, held to what ends soon. */
function optionsOf(options: JsonSchema): fc.Arbitrary<unknown> {
  const held = (value: unknown, name = ''): unknown => {
    if (typeof value === 'number') {
      if (/seconds/i.test(name)) return Math.min(value, MOST_SECONDS);
      if (/bytes/i.test(name)) return Math.min(4096 * Math.ceil(Math.max(value, 1) / 4096), MOST_BYTES);
      return Math.min(value, MOST_COUNT);
    }
    if (typeof value !== 'object' || value === null) return value;
    if (Array.isArray(value)) return value.map((part) => held(part, name));
    return Object.fromEntries(Object.entries(value).map(([key, part]) => [key, held(part, key)]));
  };
  return valueOf(options, described.components.schemas).map((value) => held(value));
}

const startOf = fc.constantFrom(...RECIPE_KINDS).chain((kind) =>
  fc
    .record({ volume: fc.nat(), folder: fc.nat(), target: fc.nat(), options: optionsOf(jsonSchemaOf(kind.options)) })
    .map(({ volume, folder, target, options }) => {
      const one = volumes[volume % 2 === 0 ? 0 : volume % volumes.length]!;
      const isReal = one.kind === 'real';
      return {
        volumeId: one.id,
        folder: isReal ? folders[folder % folders.length]! : '',
        recipeId: kind.id,
        options,
        ...(kind.id === 'copy'
          ? { targets: [{ volumeId: one.id, folder: isReal ? folders[2 * (target % 2)]! : '' }] }
          : {}),
      };
    }),
);

/** Why the server failed, as its log tells a moment later. */
async function lastOfLog(): Promise<string> {
  const log = () => readFileSync(join(app.dataFolder, 'logs', 'tavrox.log'), 'utf8');
  await expect.poll(log, { timeout: 5000 }).toContain('"level":"error"');
  return log().slice(-3000);
}

/** Ids that are known now, of whatever they are. */
async function idsNow(): Promise<string[]> {
  const of = async (path: string, take: (one: never) => string) => {
    const { status, document } = await callApi(app, 'GET', path);
    expect(status, `GET ${path}: ${JSON.stringify(document)} ${status >= 500 ? await lastOfLog() : ''}`).toBe(200);
    return (document as never[]).map(take);
  };
  return [
    ...volumes.map(({ id }) => id),
    ...(await of('/runs', ({ run }: RunListEntry) => run.id)).slice(0, 8),
    ...(await of('/drives', ({ id }: { id: string }) => id)),
    ...(await of('/workloads', ({ id }: { id: string }) => id)),
    ...(await of('/projects', ({ id }: { id: string }) => id)),
    ...(await of('/reports', ({ outline }: ReportEntry) => outline.id)),
    ...(await of('/kept', ({ runId }: { runId: string }) => runId)),
  ];
}

function callsOf(): fc.Arbitrary<Call> {
  const operations = Object.entries(described.paths).flatMap(([path, item]) =>
    Object.entries(item).map(([method, operation]) => ({ method, path: path.replace(/^\/api/, ''), operation })),
  );
  const id = fc.oneof({ weight: 5, arbitrary: fc.nat() }, { weight: 1, arbitrary: hostileText });
  const text = fc.oneof({ weight: 3, arbitrary: fc.constantFrom(...folders) }, { weight: 1, arbitrary: hostileText });
  const bodyOf = ({ operationId, requestBody }: DescribedOperation): fc.Arbitrary<unknown> => {
    if (operationId === 'startRun') return startOf;
    if (!requestBody) return fc.constant(undefined);
    const schema = requestBody.content['application/json']?.schema;
    // A file of whatever there is in it.
    return schema ? valueOf(schema, described.components.schemas) : hostileText;
  };
  // A backup takes a second; a run is what matters most.
  const weights: Record<string, number> = { startRun: 40, makeBackup: 1, restoreFile: 1, exportArchive: 1 };
  return fc
    .oneof(
      ...operations.map((one) => ({
        weight: weights[one.operation.operationId] ?? 3,
        arbitrary: fc.constant(one),
      })),
    )
    .chain(({ method, path, operation }) =>
      fc
        .record({
          id,
          values: fc.array(text, { minLength: 3, maxLength: 3 }),
          body: bodyOf(operation),
          isSpoiled: fc.boolean(),
        })
        .chain(({ id, values, body, isSpoiled }) => {
          const asked = (operation.parameters ?? [])
            .filter((one) => one.in === 'query')
            .map(({ name }, at) => `${name}=${encodeText(values[at]!)}`);
          const queries = asked.length > 0 ? `?${asked.join('&')}` : '';
          const sent = isSpoiled && body !== undefined ? spoiled(body) : fc.constant(body);
          return sent.map((one): Call => ({ method: method.toUpperCase(), path, id, queries, body: one, operation }));
        }),
    );
}

/** Halves of letters cannot stand in an address. */
const encodeText = (text: string): string => encodeURIComponent(text.replace(/\p{Surrogate}/gu, '?'));

/** Calls, and takes of what never ends only its beginning. */
async function answerTo(
  { method, path, queries, body }: Call,
  id: string,
): Promise<{ status: number; text: string; type: string; told: string }> {
  // What is kept under an address has the same id as that.
  const sent =
    typeof body === 'object' && body !== null && typeof (body as { id?: unknown }).id === 'string'
      ? { ...body, id }
      : body;
  const whole = path.replace('{id}', encodeText(id)) + queries;
  const leave = new AbortController();
  const response = await fetch(`${app.origin}/api${whole}`, {
    method,
    signal: leave.signal,
    headers: {
      Authorization: `Bearer ${app.key}`,
      Origin: app.origin,
      'X-Tavrox': '1',
      'Content-Type': 'application/json',
    },
    ...(sent === undefined || method === 'GET' ? {} : { body: JSON.stringify(sent) }),
  });
  const told = `${method} ${whole} ${JSON.stringify(sent)?.slice(0, 2000)} answered ${response.status}`;
  const type = response.headers.get('content-type') ?? '';
  if (!type.startsWith('text/event-stream'))
    return { status: response.status, text: await response.text(), type, told };
  leave.abort();
  return { status: response.status, text: '', type, told };
}

describe('every route, with what it asks for and with what it does not', () => {
  it(
    `answers as it is described for ${SECONDS} s, and harms nothing`,
    async () => {
      const material = join(home, 'material');
      const before = hashesIn(material);
      const counts: Record<string, number> = {};
      let calls = 0;
      let ids = await idsNow();
      await holdsForSeconds(
        fc.asyncProperty(callsOf(), async (call) => {
          const id = typeof call.id === 'number' ? ids[call.id % ids.length]! : call.id;
          const { operation } = call;
          const { status, text, type, told } = await answerTo(call, id);
          expect(complained, told).toBe('');
          calls += 1;
          const name = `${operation.operationId} ${status}`;
          counts[name] = (counts[name] ?? 0) + 1;
          expect(
            Object.keys(operation.responses),
            `${told} ${text}${status >= 500 ? await lastOfLog() : ''}`,
          ).toContain(String(status));
          if (status >= 400) {
            expect(type, told).toContain('application/problem+json');
            const { detail } = JSON.parse(text) as { detail: string };
            const sent = textsIn([id, ...new URLSearchParams(call.queries).values(), call.body]);
            expect(sentenceFault(detail, sent), `${told} ${detail}`).toBeNull();
          } else if (type.includes('json')) expect(() => JSON.parse(text) as unknown, told).not.toThrow();
          if (calls % 40 === 0) ids = await idsNow();
        }),
        SECONDS,
      );
      const started = counts['startRun 201'] ?? 0;
      console.log(`${calls} calls of ${Object.keys(counts).length} kinds of answers, ${started} runs`);
      expect(started).toBeGreaterThan(SECONDS / 10);
      // All that goes on is ended; what it wrote is gone with it, but for what it was asked to keep.
      const runs = async () => {
        const { document } = await callApi(app, 'GET', '/runs');
        expect(complained).toBe('');
        return document as RunListEntry[];
      };
      const going = async () => (await runs()).filter(({ run }) => ['queued', 'running'].includes(run.state));
      for (const { run } of await going()) await callApi(app, 'POST', `/runs/${run.id}/stop`, {});
      await expect.poll(async () => (await going()).length, { timeout: 100_000 }).toBe(0);
      for (const { runId } of (await callApi(app, 'GET', '/kept')).document as { runId: string }[]) {
        expect((await callApi(app, 'DELETE', `/kept/${runId}`)).status).toBe(204);
      }
      expect((await callApi(app, 'GET', '/left')).document).toEqual([]);
      const scratch = folders
        .flatMap((folder) => readdirSync(folder))
        .filter((one) => one.startsWith('tavrox-scratch'));
      expect(scratch).toEqual([]);
      expect(hashesIn(material)).toEqual(before);
      // What was kept is read again by the next start.
      const kept = (await runs()).length;
      await app.stop();
      app = await startApp({ dataFolder: app.dataFolder });
      expect((await runs()).length).toBe(kept);
      for (const list of ['/workloads', '/projects', '/drives', '/recordings', '/backups']) {
        expect((await callApi(app, 'GET', list)).status, list).toBe(200);
      }
      expect(readFileSync(join(app.dataFolder, 'server.json'), 'utf8')).toContain('secret');
    },
    SECONDS * 1000 + 300_000,
  );
});
