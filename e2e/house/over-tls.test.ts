import { execFileSync, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, readFileSync, readdirSync, symlinkSync, writeFileSync } from 'node:fs';
import { request } from 'node:https';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { AgentAsk, AgentEntry, DriveCard, RunListEntry } from '#core/6-exchange/api/wire.ts';
import { hearHouse, houseAt, tellHouse } from '#cli/house/client.ts';
import { keepToSend, sendWaiting } from '#cli/house/send.ts';
import { runOf } from '#core/testing/run-of.ts';
import { freePort } from '#server/testing/postgres-server.ts';
import { TEST_POSTGRES, newTestDatabase } from '#server/testing/test-store.ts';
import { callApi, removeFolder, root, startApp, temporaryFolder, type App } from '../support/app.ts';
import { blankPage, launchBrowser, openPage, press } from '../support/browser.ts';
import { tavroxIn } from '../support/cli.ts';

/** A second machine, which is a network of its own here: it reaches the house over TLS alone, with a token. */

/** Of this run alone: what another one left does not stand in the way. */
const NETWORK = `tavrox-${process.pid}`;
const [NEAR, FAR] = [`tvx${process.pid}a`, `tvx${process.pid}b`];
const [HOUSE, OTHER] = ['10.213.7.1', '10.213.7.2'];
const ip = (...args: string[]) => execFileSync('ip', args, { stdio: 'pipe' });

function canMakeNetworks(): boolean {
  if (process.getuid?.() !== 0 || spawnSync('ip', ['netns', 'add', NETWORK]).status !== 0) return false;
  const cable =
    spawnSync('ip', ['link', 'add', NEAR, 'type', 'veth', 'peer', 'name', FAR, 'netns', NETWORK]).status === 0;
  if (cable) ip('link', 'del', NEAR);
  ip('netns', 'del', NETWORK);
  return cable;
}
/** Free when it was asked for: the house’s certificate names no port. */
const PORT = await freePort();
const isPossible = spawnSync('openssl', ['version']).status === 0;
const hasNetworks = canMakeNetworks();

/** The house: its own port is asked for, since its certificate does not name one. */
async function openHouse(
  folder: string,
  listen: string,
  names: string[],
): Promise<{ app: App; origin: string; ca: string }> {
  const [cert, key] = [join(folder, 'cert.pem'), join(folder, 'key.pem')];
  execFileSync(
    'openssl',
    [
      ...['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-days', '2'],
      ...['-keyout', key, '-out', cert, '-subj', '/CN=house', '-addext', `subjectAltName=${names.join(',')}`],
    ],
    { stdio: 'pipe' },
  );
  const app = await startApp({
    dataFolder: join(folder, 'data'),
    empty: true,
    args: ['--house', '--listen', listen, '--cert', cert, '--key', key],
    ...(TEST_POSTGRES === undefined ? {} : { databaseUrl: await newTestDatabase(TEST_POSTGRES) }),
  });
  return { app, origin: `https://${listen}`, ca: cert };
}

interface Answer {
  status: number;
  text: string;
}

/** Asks the house as any program could. */
const ask = (
  origin: string,
  ca: string,
  path: string,
  headers: Record<string, string> = {},
  method = 'GET',
): Promise<Answer> =>
  new Promise((resolve, reject) => {
    request(
      `${origin}${path}`,
      { method, headers, ca: readFileSync(ca), agent: false, servername: 'localhost' },
      (response) => {
        let text = '';
        response.on('data', (part: Buffer) => (text += part.toString()));
        response.on('end', () => resolve({ status: response.statusCode!, text }));
      },
    )
      .on('error', reject)
      .end();
  });

describe.skipIf(!isPossible)('a house', () => {
  let house: Awaited<ReturnType<typeof openHouse>>;
  const folder = temporaryFolder('house');
  const tokens: Record<string, string> = {};
  beforeAll(async () => {
    house = await openHouse(folder, `127.0.0.1:${PORT}`, ['IP:127.0.0.1', 'DNS:localhost']);
    for (const scope of ['read', 'measure'])
      tokens[scope] = (
        (await callApi(house.app, 'POST', '/tokens', { name: `to ${scope}`, scope })).document as { token: string }
      ).token;
  });
  afterAll(async () => {
    await house.app.stop();
    removeFolder(folder);
  });
  const as = (token: string, more: Record<string, string> = {}) => ({ Authorization: `Bearer ${token}`, ...more });
  const own = { Origin: `https://127.0.0.1:${PORT}`, 'X-Tavrox': '1' };

  it('lets in with a token, over TLS, within what the token allows', async () => {
    const { origin, ca } = house;
    expect((await ask(origin, ca, '/api/runs')).status).toBe(401);
    expect((await ask(origin, ca, '/api/runs', as('tvx_made-up'))).status).toBe(401);
    expect((await ask(origin, ca, '/api/runs', as(tokens['read']!))).status).toBe(200);
    const changing = await ask(origin, ca, '/api/examples', as(tokens['read']!, own), 'DELETE');
    expect(changing.status).toBe(403);
    expect(changing.text).toContain('lets you look, and change nothing');
    // What is for the machine's own user is for no token.
    for (const path of ['/api/tokens', '/api/backups'])
      expect((await ask(origin, ca, path, as(tokens['measure']!))).status).toBe(403);
    expect((await ask(origin, ca, '/api/addresses', as(tokens['measure']!, own), 'POST')).status).toBe(403);
    // A page elsewhere may not use a token that it came by.
    const elsewhere = as(tokens['measure']!, { Origin: 'https://elsewhere.example', 'X-Tavrox': '1' });
    expect((await ask(origin, ca, '/api/examples', elsewhere, 'DELETE')).status).toBe(403);
    expect((await ask(origin, ca, '/api/runs', as(tokens['read']!, { Host: 'rebound.example' }))).status).toBe(421);
    await expect(fetch(`http://127.0.0.1:${PORT}/api/runs`)).rejects.toThrow();
    // Kept as hashes, and not where anybody finds them.
    const { document } = await callApi(house.app, 'GET', '/tokens');
    expect(JSON.stringify(document)).not.toContain(tokens['read']);
    expect(
      (document as { name: string; usedAt: string | null }[]).map(({ name, usedAt }) => [name, usedAt !== null]),
    ).toEqual([
      ['to read', true],
      ['to measure', true],
    ]);
  });

  it('lets nobody in any more whose token was revoked', async () => {
    const made = (await callApi(house.app, 'POST', '/tokens', { name: 'lent' })).document as {
      id: string;
      token: string;
    };
    expect((await callApi(house.app, 'POST', '/tokens', { name: 'lent', scope: 'read' })).status).toBe(409);
    expect((await ask(house.origin, house.ca, '/api/runs', as(made.token))).status).toBe(200);
    const { code } = await tavroxIn({ TAVROX_DATA: house.app.dataFolder }, 'token', 'revoke', 'lent');
    expect(code).toBe(0);
    expect((await ask(house.origin, house.ca, '/api/runs', as(made.token))).status).toBe(401);
  });

  it('keeps what cannot be sent, and sends it later, once', async () => {
    const away = temporaryFolder('away');
    const measure = (send: string, more: NodeJS.ProcessEnv = {}) =>
      tavroxIn(
        { TAVROX_DATA: away, TAVROX_LOCKS: join(away, 'locks'), TAVROX_TOKEN: tokens['measure'], ...more },
        ...['measure', 'petrel-2t', '--fast', '--passes', '1', '--send', send, '--ca', house.ca],
      );
    const waiting = () => (existsSync(join(away, 'outbox')) ? readdirSync(join(away, 'outbox')) : []);
    const none = await measure(house.origin, { TAVROX_TOKEN: '' });
    expect(none.code).toBe(2);
    expect(none.stderr).toMatch(/Set TAVROX_TOKEN to the token you were given/);
    expect((await measure(`http://127.0.0.1:${PORT}`)).stderr).toMatch(/is no https address/);
    // A token that may only look: the run is kept.
    const refused = await measure(house.origin, { TAVROX_TOKEN: tokens['read'] });
    expect(refused.code).toBe(0);
    expect(refused.stderr).toMatch(/1 run waits to be sent with the next: The house said: Your token lets you look/);
    expect(waiting()).toHaveLength(1);
    const sent = await measure(house.origin);
    expect(sent.stderr).toContain(`2 runs were sent to https://127.0.0.1:${PORT}.`);
    expect(waiting()).toEqual([]);
    const runs = (await callApi(house.app, 'GET', '/runs')).document as RunListEntry[];
    expect(runs).toHaveLength(2);
    expect(new Set(runs.map(({ run }) => run.id)).size).toBe(2);
    removeFolder(away);
  });

  it('ends what somebody hears when their token is revoked', async () => {
    const { id, token } = (await callApi(house.app, 'POST', '/tokens', { name: 'to hear', scope: 'measure' }))
      .document as { id: string; token: string };
    const heard = hearHouse<AgentAsk>(
      houseAt(house.origin, token, house.ca, 'url'),
      '/api/agents/hears',
      { name: 'Hears', folders: ['/a'] },
      { signal: new AbortController().signal, onOpen: () => undefined, hear: () => undefined },
    );
    const agents = async () => (await callApi(house.app, 'GET', '/agents')).document as AgentEntry[];
    await vi.waitUntil(async () => (await agents()).length === 1, { timeout: 60_000, interval: 100 });
    expect((await callApi(house.app, 'DELETE', `/tokens/${id}`)).status).toBe(204);
    await heard;
    await vi.waitUntil(async () => (await agents()).length === 0, { timeout: 60_000, interval: 100 });
  });

  it('takes what twenty machines measure at once, each run once', async () => {
    const address = houseAt(house.origin, tokens['measure'], house.ca, 'url');
    const leave = new AbortController();
    const before = ((await callApi(house.app, 'GET', '/runs')).document as RunListEntry[]).length;
    const made = { ...runOf([{ direction: 'write', rates: [400e6, 410e6, 390e6] }]), options: { passes: 1 } };
    const machines = Array.from({ length: 20 }, (_, at) => `machine-${at}`);
    const box = (id: string) => join(folder, 'boxes', id);
    const feeds = machines.map((id) =>
      hearHouse<AgentAsk>(
        address,
        `/api/agents/${id}`,
        { name: id, folders: ['/media'] },
        {
          signal: leave.signal,
          onOpen: () => undefined,
          hear: (asked) =>
            void (async () => {
              const run = { ...made, id: `r-${id}`, drive: { ...made.drive, id: `d-${id}`, label: `Drive of ${id}` } };
              keepToSend(
                box(id),
                { ...run, drive: { ...run.drive, identity: { kind: 'serial', value: id } } },
                address,
              );
              // Sent by two at once, as where an agent and a run that ends meet.
              await Promise.all([sendWaiting(box(id), address), sendWaiting(box(id), address)]);
              const report = { askId: asked.id, state: 'sent', text: '', runId: run.id };
              await tellHouse(address, `/api/agents/${id}/reports`, JSON.stringify(report));
            })(),
        },
      ),
    );
    const agents = async () => (await callApi(house.app, 'GET', '/agents')).document as AgentEntry[];
    await vi.waitUntil(async () => (await agents()).length === 20, { timeout: 60_000, interval: 100 });
    const asked = await Promise.all(
      machines.map((id) =>
        callApi(house.app, 'POST', `/agents/${id}/asks`, {
          folder: '/media',
          recipeId: 'short-passes',
          options: { passes: 1, sizeBytes: 64e6 },
        }),
      ),
    );
    expect(asked.map(({ status }) => status)).toEqual(machines.map(() => 202));
    await vi.waitUntil(async () => (await agents()).every(({ asks }) => asks[0]?.state === 'sent'), {
      timeout: 100_000,
      interval: 200,
    });
    const runs = (await callApi(house.app, 'GET', '/runs')).document as RunListEntry[];
    expect(runs).toHaveLength(before + 20);
    expect(machines.filter((id) => !runs.some(({ run }) => run.id === `r-${id}`))).toEqual([]);
    const drives = (await callApi(house.app, 'GET', '/drives')).document as DriveCard[];
    expect(machines.filter((id) => !drives.some(({ label }) => label === `Drive of ${id}`))).toEqual([]);
    leave.abort();
    await Promise.all(feeds);
  });

  it('shows whoever may only look all that is there, and lets them press nothing that would be refused', async () => {
    const browser = await launchBrowser(1280, 800, ['--ignore-certificate-errors']);
    const { page, faults } = await blankPage(browser);
    await page.goto(`${house.origin}/#key=${tokens['read']}`);
    await page.waitForSelector('nav[aria-label="Places"]');
    expect(await page.evaluate(() => document.querySelector('header')!.textContent)).toContain('Looking on');
    await page.goto(`${house.origin}/measure`);
    await page.waitForFunction(() =>
      [...document.querySelectorAll('button')].some(
        (one) => one.disabled && /^(?:Start|Choose where)/.test(one.innerText),
      ),
    );
    // Its keys do nothing, and what is chosen for this browser is not sent.
    await page.keyboard.press('g');
    await page.keyboard.press('e');
    await press(page, 'Settings');
    await page.waitForSelector('[role="dialog"]');
    const settings = await page.$eval('[role="dialog"]', (one) => one.textContent);
    expect(settings).toContain('Pass on');
    for (const word of ['Stand-ins', 'Backups', 'Browsers', 'Examples']) expect(settings).not.toContain(word);
    expect(faults).toEqual([]);
    await browser.close();
  });

  it('opens only with TLS, or behind a proxy that has it', async () => {
    const data = temporaryFolder('closed');
    const serve = (...args: string[]) => tavroxIn({ TAVROX_DATA: data }, 'serve', '--port', '0', ...args);
    const bare = await serve('--house');
    expect(bare.code).toBe(2);
    expect(bare.stderr).toMatch(/it listens to other machines only over TLS/);
    expect((await serve('--house', '--behind', 'http://tavrox.example')).stderr).toMatch(/is no https address/);
    expect((await serve('--house', '--cert', house.ca)).stderr).toMatch(/a certificate and its key go together/);
    expect((await serve('--cert', house.ca, '--key', house.ca)).stderr).toMatch(/Add --house/);
    removeFolder(data);
  });

  it('lets whoever tries keys wait', async () => {
    const { origin, ca } = house;
    const tries = await Promise.all(
      Array.from({ length: 30 }, (_, at) => ask(origin, ca, '/api/runs', as(`tvx_${at}`))),
    );
    expect(tries.every(({ status }) => status === 401 || status === 429)).toBe(true);
    const next = await ask(origin, ca, '/api/runs', as('tvx_next'));
    expect(next.status).toBe(429);
    expect(next.text).toContain('Wait a minute');
  });
});

describe.skipIf(!isPossible || !hasNetworks)('a second machine, in a network of its own', () => {
  const folder = temporaryFolder('network');
  const children: ChildProcess[] = [];
  let house: Awaited<ReturnType<typeof openHouse>>;
  beforeAll(async () => {
    ip('netns', 'add', NETWORK);
    ip('link', 'add', NEAR, 'type', 'veth', 'peer', 'name', FAR, 'netns', NETWORK);
    ip('addr', 'add', `${HOUSE}/24`, 'dev', NEAR);
    ip('link', 'set', NEAR, 'up');
    for (const args of [
      ['addr', 'add', `${OTHER}/24`, 'dev', FAR],
      ['link', 'set', FAR, 'up'],
      ['link', 'set', 'lo', 'up'],
    ])
      ip('-n', NETWORK, ...args);
    house = await openHouse(folder, `${HOUSE}:${PORT}`, [`IP:${HOUSE}`]);
  });
  afterAll(async () => {
    await house?.app.stop();
    for (const child of children) child.kill('SIGKILL');
    spawnSync('ip', ['link', 'del', NEAR]);
    spawnSync('ip', ['netns', 'del', NETWORK]);
    removeFolder(folder);
  });

  it('measures what the house asks for, in the folders that it allows, and nothing else', async () => {
    const { token } = (await callApi(house.app, 'POST', '/tokens', { name: 'agent', scope: 'measure' })).document as {
      token: string;
    };
    const data = join(folder, 'agent-data');
    const allowed = temporaryFolder('allowed');
    symlinkSync('/', join(allowed, 'out'));
    const list = join(folder, 'folders.txt');
    writeFileSync(list, `# of the second machine\n\n  ${allowed}\n`);
    const child = spawn(
      'ip',
      [
        ...['netns', 'exec', NETWORK, process.execPath, 'bin/tavrox.js', 'agent', house.origin],
        ...['--allow-from', list, '--ca', house.ca],
      ],
      {
        cwd: root,
        env: { ...process.env, TAVROX_DATA: data, TAVROX_LOCKS: join(data, 'locks'), TAVROX_TOKEN: token },
        stdio: 'ignore',
      },
    );
    children.push(child);
    const agents = async () => (await callApi(house.app, 'GET', '/agents')).document as AgentEntry[];
    await vi.waitUntil(async () => (await agents()).length === 1, { timeout: 60_000, interval: 100 });
    const [agent] = await agents();
    expect(agent!.folders).toEqual([allowed]);
    const ask = (where: string, recipeId = 'short-passes', options: object = { passes: 1, sizeBytes: 64e6 }) =>
      callApi(house.app, 'POST', `/agents/${agent!.id}/asks`, { folder: where, recipeId, options });
    expect((await ask('/')).status).toBe(422);
    expect((await ask(`${allowed}/../`)).status).toBe(422);
    expect((await ask(allowed, 'no-such')).status).toBe(422);
    // Written as if it were allowed, and leading out: the machine itself refuses it.
    expect((await ask(`${allowed}/out`)).status).toBe(202);
    expect((await ask(allowed)).status).toBe(202);
    const asks = async () => (await agents())[0]?.asks ?? [];
    await vi.waitUntil(async () => (await asks()).every(({ state }) => state === 'sent' || state === 'refused'), {
      timeout: 100_000,
      interval: 200,
    });
    const [sent, refused] = await asks();
    expect(refused).toMatchObject({ state: 'refused', runId: null });
    expect(refused!.text).toMatch(/is no folder that is allowed on this machine/);
    expect(sent!.state).toBe('sent');
    const runs = (await callApi(house.app, 'GET', '/runs')).document as RunListEntry[];
    expect(runs.map(({ run }) => run.id)).toContain(sent!.runId);
    // From the page of the house the same.
    const browser = await launchBrowser();
    const { page, faults } = await openPage(browser, house.app);
    await press(page, 'Settings');
    await press(page, `Short passes in ${allowed}, at ${agent!.name}`);
    await page.waitForFunction(() => document.querySelectorAll('[data-ask="sent"]').length === 2, { timeout: 100_000 });
    await page.locator('[data-ask="sent"] a').click();
    await page.waitForFunction(() => location.pathname.startsWith('/measure/runs/'), { timeout: 100_000 });
    await page.waitForSelector('[role="dialog"]', { hidden: true });
    expect(faults).toEqual([]);
    await browser.close();
    child.kill();
    await vi.waitUntil(async () => (await agents()).length === 0, { timeout: 60_000, interval: 100 });
    expect((await ask(allowed)).status).toBe(409);
    removeFolder(allowed);
  });

  it('measures a folder of its own and sends the run over TLS with a token', async () => {
    const { token } = (await callApi(house.app, 'POST', '/tokens', { name: 'other machine', scope: 'measure' }))
      .document as { token: string };
    const data = join(folder, 'other-data');
    const measured = temporaryFolder('measured');
    const child = spawn(
      'ip',
      [
        ...['netns', 'exec', NETWORK, process.execPath, 'bin/tavrox.js', 'measure', measured, '--passes', '1'],
        ...['--size', '64MB', '--send', house.origin, '--ca', house.ca, '--json'],
      ],
      { cwd: root, env: { ...process.env, TAVROX_DATA: data, TAVROX_LOCKS: join(data, 'locks'), TAVROX_TOKEN: token } },
    );
    let [stdout, stderr] = ['', ''];
    child.stdout.on('data', (text: Buffer) => (stdout += text.toString()));
    child.stderr.on('data', (text: Buffer) => (stderr += text.toString()));
    const code = await new Promise((resolve) => child.once('exit', resolve));
    expect(stderr).toContain(`1 run was sent to ${house.origin}.`);
    expect(code).toBe(0);
    const { id } = JSON.parse(stdout) as { id: string };
    const runs = (await callApi(house.app, 'GET', '/runs')).document as RunListEntry[];
    expect(runs.find(({ run }) => run.id === id)!.run).toMatchObject({
      id,
      state: 'finished',
      volume: { kind: 'real' },
    });
    removeFolder(measured);
  });
});
