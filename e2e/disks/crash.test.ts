import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RunListEntry } from '#core/6-exchange/api/wire.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { callApi, removeFolder, startApp, temporaryFolder, volumeOfFolder, type App } from '../support/app.ts';
import { tavrox, tavroxWithLocks } from '../support/cli.ts';

let folder: string;
let dataFolder: string;
let app: App | undefined;
beforeEach(() => {
  folder = temporaryFolder('crash');
  dataFolder = temporaryFolder('crash-data');
});
afterEach(async () => {
  await app?.stop();
  removeFolder(folder);
  removeFolder(dataFolder);
});

async function startRun(on: App, options: object): Promise<string> {
  const volume = await volumeOfFolder(on, folder);
  const { status, document } = await callApi(on, 'POST', '/runs', {
    volumeId: volume.id,
    folder,
    recipeId: 'short-passes',
    options,
  });
  expect(status, JSON.stringify(document)).toBe(201);
  return (document as { id: string }).id;
}

const readRun = async (on: App, id: string) => (await callApi(on, 'GET', `/runs/${id}`)).document as RunDocument;
const endless = { passes: null, sizeBytes: 64e6, blockBytes: 1 << 20 };

describe('a killed server', () => {
  it('leaves no scratch after the next start, and an honest partial run', async () => {
    app = await startApp({ dataFolder, empty: true });
    const id = await startRun(app, endless);
    await expect
      .poll(async () => (await readRun(app!, id)).samples.atSeconds.at(-1) ?? 0, { timeout: 100_000 })
      // What is kept follows what is measured by a second or two, on a busy disk by a few.
      .toBeGreaterThan(8);
    await app.stop('SIGKILL');
    expect(readdirSync(folder)).toEqual([`tavrox-scratch-${id}`]);

    app = await startApp({ dataFolder, empty: true });
    await expect.poll(() => readdirSync(folder), { timeout: 100_000 }).toEqual([]);
    const run = await readRun(app, id);
    expect(run.state).toBe('interrupted');
    expect(run.samples.atSeconds.length).toBeGreaterThan(10);
    const { atSeconds } = run.samples;
    expect(atSeconds).toEqual([...atSeconds].sort((a, b) => a - b));
    const [entry] = (await callApi(app, 'GET', '/runs')).document as RunListEntry[];
    expect(entry!.doubts.map((doubt) => doubt.code)).toContain('interrupted');
  });
});

describe('a stopped run', () => {
  it('is kept with what it measured, and its folder is gone', async () => {
    app = await startApp({ dataFolder, empty: true });
    const id = await startRun(app, endless);
    await expect
      .poll(async () => (await readRun(app!, id)).samples.atSeconds.length, { timeout: 100_000 })
      .toBeGreaterThan(5);
    expect((await callApi(app, 'POST', `/runs/${id}/stop`, {})).status).toBe(202);
    await expect.poll(async () => (await readRun(app!, id)).state, { timeout: 100_000 }).toBe('stopped');
    expect(readdirSync(folder)).toEqual([]);
  });

  it('on ending the server too', async () => {
    app = await startApp({ dataFolder, empty: true });
    const id = await startRun(app, endless);
    await expect
      .poll(async () => (await readRun(app!, id)).samples.atSeconds.length, { timeout: 100_000 })
      .toBeGreaterThan(5);
    await app.stop();
    expect(readdirSync(folder)).toEqual([]);
    app = await startApp({ dataFolder, empty: true });
    expect((await readRun(app, id)).state).toBe('stopped');
  });
});

describe('one at a time', () => {
  it('a second run on the device waits its turn, and can be taken back', async () => {
    app = await startApp({ dataFolder, empty: true });
    const first = await startRun(app, endless);
    const second = await startRun(app, { passes: 1, sizeBytes: 32e6 });
    const third = await startRun(app, { passes: 1, sizeBytes: 32e6 });
    expect((await readRun(app, second)).state).toBe('queued');
    await callApi(app, 'POST', `/runs/${third}/stop`, {});
    await callApi(app, 'POST', `/runs/${first}/stop`, {});
    await expect.poll(async () => (await readRun(app!, second)).state, { timeout: 100_000 }).toBe('finished');
    expect(await readRun(app, third)).toMatchObject({ state: 'stopped', samples: { atSeconds: [] } });
  });

  it('a second server on the data folder is refused with a sentence, and the first goes on', async () => {
    app = await startApp({ dataFolder, empty: true });
    const { code, stderr } = await tavrox(dataFolder, 'serve', '--port', '0');
    expect(code).toBe(2);
    expect(stderr).toMatch(/in use by another Tavrox \(process \d+\)/);
    expect((await callApi(app, 'GET', '/volumes')).status).toBe(200);
    expect(existsSync(join(dataFolder, 'server.json'))).toBe(true);
  });

  it('another process is refused on a device that is being measured', async () => {
    app = await startApp({ dataFolder, empty: true });
    const id = await startRun(app, endless);
    await expect.poll(async () => (await readRun(app!, id)).state).toBe('running');
    await expect.poll(() => readdirSync(join(dataFolder, 'locks')).length, { timeout: 100_000 }).toBe(1);
    const elsewhere = temporaryFolder('crash-other');
    const locks = join(dataFolder, 'locks');
    const { code, stderr } = await tavroxWithLocks(
      elsewhere,
      locks,
      'measure',
      folder,
      '--size',
      '32MB',
      '--passes',
      '1',
    );
    removeFolder(elsewhere);
    expect(code).toBe(1);
    expect(stderr).toMatch(/Another Tavrox \(process \d+\) is measuring/);
    expect(readdirSync(folder)).toEqual([`tavrox-scratch-${id}`]);
  });
});
