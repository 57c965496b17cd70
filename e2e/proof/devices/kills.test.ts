import { randomBytes } from 'node:crypto';
import { mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { RunDocument } from '#core/run/run-document.ts';
import { callApi, removeFolder, startApp, temporaryFolder, volumeOfFolder } from '../../support/app.ts';
import { hashesIn } from '../../support/hashes.ts';

describe('a server killed at any moment', () => {
  it('ten times over leaves no scratch and loses no run', async () => {
    const folder = temporaryFolder('kills');
    const dataFolder = temporaryFolder('kills-data');
    const ids: string[] = [];
    try {
      for (let kill = 0; kill < 10; kill += 1) {
        const app = await startApp({ dataFolder, empty: true });
        await expect.poll(() => readdirSync(folder), { timeout: 20_000 }).toEqual([]);
        const volume = await volumeOfFolder(app, folder);
        const options = { passes: null, sizeBytes: 48e6, blockBytes: 1 << 20 };
        const { document } = await callApi(app, 'POST', '/runs', {
          volumeId: volume.id,
          folder,
          recipeId: 'short-passes',
          options,
        });
        ids.push((document as { id: string }).id);
        const enough = Math.floor(Math.random() * 30);
        await expect
          .poll(
            async () =>
              ((await callApi(app, 'GET', `/runs/${ids.at(-1)}`)).document as RunDocument).samples.atSeconds.length,
            {
              interval: 20,
              timeout: 30_000,
            },
          )
          .toBeGreaterThanOrEqual(enough);
        await app.stop('SIGKILL');
      }
      const app = await startApp({ dataFolder, empty: true });
      await expect.poll(() => readdirSync(folder), { timeout: 20_000 }).toEqual([]);
      for (const id of ids) {
        const run = (await callApi(app, 'GET', `/runs/${id}`)).document as RunDocument;
        expect(['interrupted', 'stopped']).toContain(run.state);
      }
      await app.stop();
    } finally {
      removeFolder(folder);
      removeFolder(dataFolder);
    }
  });
});

describe('a copy whose server is killed', () => {
  it('five times over leaves no scratch and every byte of the source', async () => {
    const home = temporaryFolder('copy-kills');
    const dataFolder = temporaryFolder('copy-kills-data');
    const [source, target] = [join(home, 'source'), join(home, 'target')];
    mkdirSync(source);
    mkdirSync(target);
    for (let file = 0; file < 300; file += 1) {
      writeFileSync(join(source, `n-${file}`), randomBytes(file % 20 === 0 ? 4e6 : 30_000));
    }
    const before = hashesIn(source);
    try {
      for (let kill = 0; kill < 5; kill += 1) {
        const app = await startApp({ dataFolder, empty: true });
        await expect.poll(() => readdirSync(target), { timeout: 20_000 }).toEqual([]);
        const { id: volumeId } = await volumeOfFolder(app, source);
        const options = { payload: 'folder', back: true, repeats: 20, keep: true, blockBytes: 65_536 };
        const { document } = await callApi(app, 'POST', '/runs', {
          volumeId,
          folder: source,
          recipeId: 'copy',
          options,
          targets: [{ volumeId, folder: target }],
        });
        const { id } = document as { id: string };
        const runNow = async () => (await callApi(app, 'GET', `/runs/${id}`)).document as RunDocument;
        await expect
          .poll(async () => (await runNow()).copy!.rows.atSeconds.length, { interval: 20, timeout: 30_000 })
          .toBeGreaterThan(Math.floor(Math.random() * 12));
        await app.stop('SIGKILL');
      }
      const app = await startApp({ dataFolder, empty: true });
      await expect.poll(() => readdirSync(target), { timeout: 20_000 }).toEqual([]);
      await expect.poll(() => readdirSync(home).sort(), { timeout: 20_000 }).toEqual(['source', 'target']);
      expect(hashesIn(source)).toEqual(before);
      await app.stop();
    } finally {
      removeFolder(home);
      removeFolder(dataFolder);
    }
  });
});
