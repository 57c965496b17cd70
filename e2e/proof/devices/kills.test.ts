import { readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { RunDocument } from '#core/run/run-document.ts';
import { callApi, removeFolder, startApp, temporaryFolder, volumeOfFolder } from '../../support/app.ts';

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
