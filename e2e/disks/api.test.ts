import { mkdirSync, readdirSync, statSync } from 'node:fs';
import { request } from 'node:http';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { DriveCard, HealthEntry, VolumeEntry } from '#core/6-exchange/api/wire.ts';
import { challengeAnswer } from '#server/http/security.ts';
import {
  callApi,
  newAddress,
  removeFolder,
  startApp,
  temporaryFolder,
  volumeOfFolder,
  type App,
} from '../support/app.ts';
import { tavrox } from '../support/cli.ts';
import { IS_ON_SERVER } from '../support/store.ts';

let app: App;
let folder: string;
let volume: VolumeEntry;

beforeAll(async () => {
  app = await startApp();
  folder = temporaryFolder('api');
  volume = await volumeOfFolder(app, folder);
});
afterAll(async () => {
  await app.stop();
  removeFolder(app.dataFolder);
  removeFolder(folder);
});

/** A request with exactly these headers; the fetch of Node would set some itself. */
function raw(method: string, path: string, headers: Record<string, string>): Promise<number> {
  const { hostname, port } = new URL(app.origin);
  return new Promise((resolve, reject) => {
    const sent = request({ hostname, port, method, path, headers, agent: false }, (response) => {
      response.resume();
      resolve(response.statusCode!);
    });
    sent.on('error', reject).end(method === 'GET' ? undefined : '{}');
  });
}

describe('who is let in', () => {
  const json = { 'Content-Type': 'application/json' };
  const bearer = () => ({ Authorization: `Bearer ${app.key}` });

  it('nobody without the key of this start or a session', async () => {
    expect(await raw('GET', '/api/volumes', {})).toBe(401);
    expect(await raw('GET', '/api/volumes', { Authorization: 'Bearer wrong' })).toBe(401);
    expect(await raw('GET', '/api/volumes', { Authorization: app.key })).toBe(401);
    expect(await raw('GET', '/api/volumes', bearer())).toBe(200);
  });

  it('nobody by a cookie, which would go to every other service of the machine', async () => {
    for (const value of [app.key, new URL(app.address).hash.slice('#key='.length)]) {
      const cookie = `tavrox-${new URL(app.origin).port}=${value}; tavrox-session=${value}`;
      expect(await raw('GET', '/api/volumes', { Cookie: cookie })).toBe(401);
    }
    const page = await fetch(app.origin);
    expect(page.headers.get('set-cookie')).toBeNull();
  });

  it('a browser once for each address, with a session that is not the key and can be ended', async () => {
    const code = new URL(app.address).hash.slice('#key='.length);
    const trade = (given: string) =>
      fetch(`${app.origin}/api/sessions`, {
        method: 'POST',
        headers: { ...json, Origin: app.origin, 'X-Tavrox': '1' },
        body: JSON.stringify({ code: given }),
      });
    // The key of the command line is no code, and a code is no credential.
    expect((await trade(app.key)).status).toBe(401);
    expect(await raw('GET', '/api/volumes', { Authorization: `Bearer ${code}` })).toBe(401);
    const { session } = (await (await trade(code)).json()) as { session: string };
    expect([app.key, code]).not.toContain(session);
    const admitted = () => raw('GET', '/api/volumes', { Authorization: `Bearer ${session}` });
    expect(await admitted()).toBe(200);
    const again = await trade(code);
    expect(again.status).toBe(401);
    expect(((await again.json()) as { detail: string }).detail).toMatch(/does not count any more.*“tavrox address”/);
    expect((await callApi(app, 'DELETE', '/sessions/others')).status).toBe(204);
    expect(await admitted()).toBe(401);
    const another = new URL(await newAddress(app)).hash.slice('#key='.length);
    expect((await trade(another)).status).toBe(201);
  });

  it('no other name of this machine, as a rebinding page would use', async () => {
    expect(await raw('GET', '/api/volumes', { ...bearer(), Host: 'evil.example:4780' })).toBe(421);
    expect(await raw('GET', '/', { Host: 'evil.example' })).toBe(421);
  });

  it('no change from another page, even with the key', async () => {
    const stop = '/api/runs/none/stop';
    const own = { ...bearer(), ...json, Origin: app.origin, 'X-Tavrox': '1' };
    expect(await raw('POST', stop, { ...bearer(), ...json, 'X-Tavrox': '1' })).toBe(403);
    expect(await raw('POST', stop, { ...bearer(), ...json, Origin: app.origin })).toBe(403);
    expect(await raw('POST', stop, { ...own, Origin: 'http://evil.example' })).toBe(403);
    expect(await raw('DELETE', '/api/examples', { ...own, Origin: 'null' })).toBe(403);
    // A page of another port of this machine is of the same site, and not of the same origin.
    for (const site of ['same-site', 'cross-site']) {
      expect(await raw('POST', stop, { ...own, 'Sec-Fetch-Site': site })).toBe(403);
    }
    expect(await raw('POST', stop, { ...own, 'Sec-Fetch-Site': 'same-origin' })).toBe(404);
    expect(await raw('POST', stop, own)).toBe(404);
  });

  it('no reading from another page', async () => {
    expect(await raw('GET', '/api/volumes', { ...bearer(), Origin: 'http://evil.example' })).toBe(403);
    expect(await raw('GET', '/api/volumes', { ...bearer(), 'Sec-Fetch-Site': 'same-site' })).toBe(403);
  });

  it('whoever asks a server to prove itself, and hears no key', async () => {
    const challenge = 'a'.repeat(32);
    const answer = await fetch(`${app.origin}/api/challenge?challenge=${challenge}`);
    expect(await answer.json()).toEqual({ answer: challengeAnswer(app.key, challenge) });
    expect(await raw('GET', '/api/challenge?challenge=short', {})).toBe(422);
  });

  it('the page itself, which holds nothing of anybody’s, with headers that keep it to itself', async () => {
    const page = await fetch(app.origin);
    expect(page.status).toBe(200);
    const policy = page.headers.get('content-security-policy')!;
    expect(policy).toMatch(/default-src 'self'/);
    expect(policy).not.toMatch(/unsafe/);
    expect(page.headers.get('cross-origin-opener-policy')).toBe('same-origin');
    const answer = await fetch(`${app.origin}/api/volumes`, { headers: bearer() });
    expect(answer.headers.get('cache-control')).toBe('no-store');
  });
});

// A database server keeps backups of its own.
it.skipIf(IS_ON_SERVER)(
  'the command line gets an address and a backup of the running server, and puts one back while it runs',
  async () => {
    const address = (await tavrox(app.dataFolder, 'address')).stdout.trim();
    expect(address).toMatch(new RegExp(`^${app.origin}/#key=.{20,}$`));
    const backup = await tavrox(app.dataFolder, 'backup', '--json');
    const { file, bytes } = JSON.parse(backup.stdout) as { file: string; bytes: number };
    expect(statSync(file).size).toBe(bytes);
    expect((await callApi(app, 'GET', '/backups')).document).toMatchObject([{ file, bytes }]);
    const lists = async () =>
      (await Promise.all(['/runs', '/drives', '/workloads'].map((path) => callApi(app, 'GET', path)))).map(
        ({ document }) => document,
      );
    const before = await lists();
    const restored = await tavrox(app.dataFolder, 'restore', file, '--json');
    expect([restored.code, restored.stderr]).toEqual([0, '']);
    // What was there is backed up first.
    expect((await callApi(app, 'GET', '/backups')).document).toMatchObject([
      { file: (JSON.parse(restored.stdout) as { before: string }).before },
      { file },
    ]);
    expect(await lists()).toEqual(before);
    expect((await tavrox(folder, 'address')).stderr).toMatch(/No Tavrox runs on the data folder/);
  },
);

describe('bad requests are problems with a sentence, and leave nothing behind', () => {
  const start = (change: object) =>
    callApi(app, 'POST', '/runs', {
      volumeId: volume.id,
      folder,
      recipeId: 'short-passes',
      options: { passes: 1, sizeBytes: 32e6 },
      ...change,
    });

  it.each([
    ['unknown volume', () => start({ volumeId: 'nowhere' }), 404, /no volume “nowhere”/],
    ['missing folder', () => start({ folder: join(folder, 'missing') }), 422, /does not exist/],
    ['no full path', () => start({ folder: 'tmp' }), 422, /not a full path/],
    ['outside the volume', () => start({ folder: '/proc' }), 422, /not on the volume/],
    ['size of 0', () => start({ options: { sizeBytes: 0 } }), 422, /size: must be more than 0/],
    ['size as text', () => start({ options: { sizeBytes: 'lots' } }), 422, /size: must be an amount/],
    ['unknown option', () => start({ options: { speed: 11 } }), 422, /speed/],
    ['unknown recipe', () => start({ recipeId: 'magic' }), 422, /no recipe “magic”/],
    ['unknown field', () => start({ colour: 'red' }), 422, /colour/],
    ['unknown run', () => callApi(app, 'GET', '/runs/none'), 404, /no run “none”/],
    ['unknown address', () => callApi(app, 'GET', '/nothing'), 404, /nothing at/],
  ] as const)('%s', async (_name, act, status, detail) => {
    const answer = await act();
    expect(answer.status).toBe(status);
    expect(answer.document).toMatchObject({ type: expect.stringMatching(/^urn:tavrox:problem:/) as string, status });
    expect((answer.document as { detail: string }).detail).toMatch(detail);
    expect(readdirSync(folder)).toEqual([]);
  });

  it('a body that is no JSON', async () => {
    const headers = {
      Authorization: `Bearer ${app.key}`,
      Origin: app.origin,
      'X-Tavrox': '1',
      'Content-Type': 'application/json',
    };
    const response = await fetch(`${app.origin}/api/runs`, { method: 'POST', headers, body: '{"volumeId":' });
    expect(response.status).toBe(400);
    expect(response.headers.get('content-type')).toMatch(/application\/problem\+json/);
  });
});

it('folders are listed by name, up from a name that is still being typed', async () => {
  for (const name of ['day 2', 'day 10', '.hidden']) mkdirSync(join(folder, name));
  const list = (path: string) => callApi(app, 'GET', `/volumes/${volume.id}/folders?path=${encodeURIComponent(path)}`);
  expect((await list(folder)).document).toEqual({ path: folder, names: ['day 2', 'day 10'], truncated: false });
  expect((await list(join(folder, 'da'))).document).toMatchObject({ path: folder });
  expect((await list('/proc/self')).status).toBe(422);
  for (const name of ['day 2', 'day 10', '.hidden']) removeFolder(join(folder, name));
});

it('workloads are kept whole, in the order given, or refused with the place of the fault', async () => {
  const workload = (name: string) => ({
    tavrox: 'workload/1',
    id: `own-${name}`,
    name,
    note: '',
    example: false,
    items: [] as object[],
  });
  const put = (document: { id: string }, id = document.id) => callApi(app, 'PUT', `/workloads/${id}`, document);
  for (const name of ['first', 'second']) expect((await put(workload(name))).status).toBe(204);
  expect((await put({ ...workload('first'), items: [{ kind: 'footage' }] } as never)).document).toMatchObject({
    detail: expect.stringMatching(/item 1/) as string,
  });
  expect((await put(workload('first'), 'own-other')).status).toBe(422);
  const ids = async () => ((await callApi(app, 'GET', '/workloads')).document as { id: string }[]).map((one) => one.id);
  expect((await callApi(app, 'PUT', '/workload-order', { ids: ['own-second', 'unknown', 'own-first'] })).status).toBe(
    204,
  );
  expect((await ids()).slice(0, 2)).toEqual(['own-second', 'own-first']);
  for (const name of ['first', 'second']) {
    expect((await callApi(app, 'DELETE', `/workloads/own-${name}`)).status).toBe(204);
  }
  expect((await callApi(app, 'DELETE', '/workloads/own-first')).status).toBe(404);
  expect(await ids()).not.toContain('own-second');
  expect((await callApi(app, 'GET', '/drives/nowhere/profiles')).status).toBe(404);
});

it('what a drive says of itself is asked for a real one only, and is an answer or what would let it', async () => {
  const volumes = (await callApi(app, 'GET', '/volumes')).document as VolumeEntry[];
  const real = volumes.find(({ kind }) => kind === 'real')!;
  const { status, document } = await callApi(app, 'GET', `/volumes/${real.id}/health`);
  expect(status).toBe(200);
  const { health, why } = document as HealthEntry;
  if (health === null) expect(why).toMatch(/^[A-Z].*\.$/);
  else expect(Object.values(health).some((value) => value !== null)).toBe(true);
  expect((await callApi(app, 'GET', '/volumes/stand-in-petrel-2t/health')).status).toBe(404);
});

it('the API describes itself from the schemas that check it', async () => {
  const { document } = await callApi(app, 'GET', '/openapi.json');
  const { openapi, paths, components } = document as {
    openapi: string;
    paths: object;
    components: { schemas: Record<string, { required?: string[] }> };
  };
  expect(openapi).toBe('3.1.0');
  expect(Object.keys(paths)).toContain('/api/runs/{id}/stop');
  expect(components.schemas['Run']!.required).toContain('samples');
});

it('the examples go in one step and own runs stay', async () => {
  const { document } = await callApi(app, 'POST', '/runs', {
    volumeId: 'stand-in-petrel-2t',
    folder: '',
    recipeId: 'short-passes',
    options: { passes: 1, seconds: 0.2 },
  });
  const { id } = document as { id: string };
  await expect
    .poll(async () => ((await callApi(app, 'GET', `/runs/${id}`)).document as { state: string }).state, {
      timeout: 100_000,
    })
    .toBe('finished');
  expect((await callApi(app, 'DELETE', '/examples')).status).toBe(204);
  const runs = (await callApi(app, 'GET', '/runs')).document as { run: { id: string } }[];
  expect(runs.map((entry) => entry.run.id)).toEqual([id]);
  expect((await callApi(app, 'GET', '/workloads')).document).toEqual([]);
  expect((await callApi(app, 'GET', '/examples')).document).toEqual({ present: false });
});

describe('the card of a drive', () => {
  it('is changed whole, and refuses what is no card', async () => {
    const [drive] = (await callApi(app, 'GET', '/drives')).document as DriveCard[];
    const details = { ...drive!.details, price: 99, currency: 'EUR', note: 'By the API.' };
    expect((await callApi(app, 'PATCH', `/drives/${drive!.id}`, { label: 'Renamed', details })).status).toBe(204);
    const after = ((await callApi(app, 'GET', '/drives')).document as DriveCard[]).find(({ id }) => id === drive!.id);
    expect(after).toMatchObject({ label: 'Renamed', details, example: false });
    const refused = async (change: object) => (await callApi(app, 'PATCH', `/drives/${drive!.id}`, change)).status;
    expect(await refused({ label: '', details })).toBe(422);
    expect(await refused({ label: 'x', details: { ...details, price: -1 } })).toBe(422);
    expect(await refused({ label: 'x', details, id: 'other' })).toBe(422);
    expect((await callApi(app, 'PATCH', '/drives/none', { label: 'x', details })).status).toBe(404);
  });
});

describe('settings', () => {
  const settings = async () => (await callApi(app, 'GET', '/settings')).document;

  it('belong to the workspace: what is named is changed, and the rest stays', async () => {
    expect(await settings()).toBeNull();
    const first = await callApi(app, 'PATCH', '/settings', { headroomShare: 0.5 });
    expect(first).toMatchObject({ status: 200, document: { headroomShare: 0.5, traceAxis: 'bytes' } });
    await callApi(app, 'PATCH', '/settings', { traceAxis: 'seconds' });
    expect(await settings()).toMatchObject({ headroomShare: 0.5, traceAxis: 'seconds', recipeOptions: {} });
    for (const wrong of [{ headroomShare: -1 }, { recipeOptions: { wobble: {} } }, { other: 1 }]) {
      expect((await callApi(app, 'PATCH', '/settings', wrong)).status).toBe(422);
    }
    expect(await settings()).toMatchObject({ headroomShare: 0.5 });
  });
});

describe('recordings of running programs', () => {
  interface State {
    id: string;
    isGoing: boolean;
    rows: { seconds: number[] };
  }

  it('list programs, follow one in parts, end and go', async () => {
    const programs = (await callApi(app, 'GET', '/programs')).document as { pid: number }[];
    expect(programs.map(({ pid }) => pid)).toContain(process.pid);
    const started = await callApi(app, 'POST', '/recordings', { pid: process.pid });
    expect(started.status).toBe(201);
    const { id } = started.document as State;
    const rows = async (from: number) =>
      (await callApi(app, 'GET', `/recordings/${id}?from=${from}`)).document as State;
    await expect.poll(async () => (await rows(0)).rows.seconds.length).toBeGreaterThan(3);
    const all = await rows(0);
    expect((await rows(2)).rows.seconds.slice(0, 2)).toEqual(all.rows.seconds.slice(2, 4));
    expect((await callApi(app, 'POST', `/recordings/${id}/stop`, {})).document).toMatchObject({ isGoing: false });
    expect((await callApi(app, 'DELETE', `/recordings/${id}`)).status).toBe(204);
    expect((await callApi(app, 'GET', `/recordings/${id}`)).status).toBe(404);
  });

  it('start no programs, and say what is wrong with a process', async () => {
    const problem = async (body: object) =>
      (await callApi(app, 'POST', '/recordings', body)).document as { detail: string };
    expect((await problem({ pid: 2 ** 30 })).detail).toMatch(/There is no process/);
    expect((await problem({ pid: -1 })).detail).toMatch(/pid/);
    expect((await problem({ pid: 1.5 })).detail).toMatch(/pid/);
    expect((await problem({ command: 'sh' })).detail).toMatch(/pid|command/);
  });
});
